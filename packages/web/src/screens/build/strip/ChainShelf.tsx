import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash } from 'lucide-react';
import { type FormEvent, type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import type { NewShelvedChain, ShelvedChain } from '@imprint/contract/api';
import {
  type ChainPreset,
  addPreset,
  chainPresets,
  hasRoomFor,
  shelvedEffects,
} from '@imprint/core/patch/edits/chainPresets';
import { type ChainOwner, chainOf } from '@imprint/core/patch/edits/chains';
import type { Effect, EffectKind } from '@imprint/core/patch/schema';
import { effectTitles } from '@imprint/core/patch/words/effects';
import { MAX_NAME } from '@imprint/core/patch/names';
import { client } from '../../../api/client';
import { Dialog } from '../../../components/Dialog';
import { addToPatch, usePatchStore } from '../../../stores/patchStore';
import { selectModule } from '../../../stores/selectionStore';

/** The way to chains that are kept for any study. */
export function ChainShelf({ owner }: { owner: ChainOwner }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1 font-normal"
        aria-label={`Shelf of chains, for the ${owner.of === 'patch' ? 'whole patch' : owner.of}`}
        title="Chains to add, and a place for this one"
        onClick={() => setOpen(true)}
      >
        Shelf
      </button>
      {open && <Shelf owner={owner} onClose={() => setOpen(false)} />}
    </>
  );
}

function Shelf({ owner, onClose }: { owner: ChainOwner; onClose: () => void }) {
  const { data: own = [], error, isPending } = useQuery({ queryKey: CHAINS, queryFn: client.shelvedChains });
  const add = (preset: ChainPreset) => {
    const { patch } = usePatchStore.getState();
    if (patch && !hasRoomFor(patch, owner, preset)) {
      toast.error(`“${preset.name}” has ${preset.effects.length} effects, for which this chain has no room.`);
      return;
    }
    selectModule(addToPatch((old) => addPreset(old, owner, preset)));
    onClose();
  };
  return (
    <Dialog label="Shelf of chains" className="max-w-4xl text-sm" onClose={onClose}>
      <h2 className="title text-xl text-base-content">Chains on the shelf</h2>
      <p className="mt-1">One that you pick is added behind what is in the chain.</p>
      <div className="mt-4 grid grid-cols-2 gap-x-10">
        <ChainList title="Comes with Imprint" chains={chainPresets} onPick={add} />
        <section>
          <ChainList title="Yours" chains={own} onPick={add} action={(chain) => <RemoveButton chain={chain} />}>
            {error ? <p role="alert">{error.message}</p> : <p>{isPending ? 'Looking …' : 'None yet.'}</p>}
          </ChainList>
          <KeepForm owner={owner} />
        </section>
      </div>
    </Dialog>
  );
}

const titlesOf = (effects: readonly { kind: EffectKind }[]) => effects.map(({ kind }) => effectTitles[kind]).join(', ');

/** Whether an effect needs something that only its patch has. */
const borrows = (effect: Effect) =>
  ('keyLayerId' in effect && effect.keyLayerId !== null) || ('sampleId' in effect && effect.sampleId !== null);

const CHAINS = ['shelf', 'chains'];

interface ChainListProps<T> {
  title: string;
  chains: readonly T[];
  onPick: (chain: T) => void;
  action?: (chain: T) => ReactNode;
  /** What stands there when there is none. */
  children?: ReactNode;
}

function ChainList<T extends ChainPreset>({ title, chains, onPick, action, children }: ChainListProps<T>) {
  return (
    <section>
      <h3 className="hairline-b pb-1 font-bold text-soft">{title}</h3>
      {chains.length === 0 && <div className="py-2 text-soft">{children}</div>}
      <ul>
        {chains.map((chain) => (
          <li key={chain.name} className="hairline-b flex items-center gap-1">
            <button
              type="button"
              className="grow cursor-pointer px-1 py-1.5 text-left hover:bg-base-200"
              onClick={() => onPick(chain)}
            >
              <span className="font-bold text-base-content">{chain.name}</span>
              {chain.purpose && `, ${chain.purpose}`}
              <span className="block text-xs text-soft">{titlesOf(chain.effects)}</span>
            </button>
            {action?.(chain)}
          </li>
        ))}
      </ul>
    </section>
  );
}

function RemoveButton({ chain: { id, name, purpose, effects } }: { chain: ShelvedChain }) {
  const change = useShelfChange();
  const remove = () =>
    change(
      () => client.deleteShelvedChain(id),
      () =>
        toast(`“${name}” is off the shelf.`, {
          action: {
            label: 'Put it back',
            onClick: () => void change(() => client.shelveChain({ name, purpose, effects })),
          },
        }),
    );
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={`Take ${name} off the shelf`}
      title="Take it off the shelf"
      onClick={() => void remove()}
    >
      <Trash size={14} />
    </button>
  );
}

/** Puts the chain as it is on the shelf. */
function KeepForm({ owner }: { owner: ChainOwner }) {
  const patch = usePatchStore((state) => state.patch);
  const [name, setName] = useState('');
  const [purpose, setPurpose] = useState('');
  const change = useShelfChange();
  const effects = patch ? chainOf(patch, owner) : [];
  if (!patch || effects.length === 0)
    return <p className="mt-4 text-soft">A chain with effects in it can be put here, for any study.</p>;
  const keep = (event: FormEvent) => {
    event.preventDefault();
    const chain: NewShelvedChain = {
      name: name.trim(),
      purpose: purpose.trim(),
      effects: shelvedEffects(patch, owner),
    };
    void change(
      () => client.shelveChain(chain),
      () => {
        setName('');
        setPurpose('');
      },
    );
  };
  return (
    <form className="mt-4" onSubmit={keep}>
      <h3 className="hairline-b pb-1 font-bold text-soft">Put this chain here</h3>
      <p className="mt-1 text-xs text-soft">
        {titlesOf(effects)}
        {effects.some(borrows) && '. The layers that it listens to and the samples that it plays stay with this patch.'}
      </p>
      <div className="mt-2 flex flex-col gap-2">
        <Field label="Name of the chain" placeholder="Name" maxLength={MAX_NAME} value={name} onChange={setName} />
        <Field
          label="What the chain is for"
          placeholder="What it is for"
          maxLength={200}
          value={purpose}
          onChange={setPurpose}
        />
        <button className="btn btn-sm btn-outline self-start" disabled={!name.trim()}>
          Put it on the shelf
        </button>
      </div>
    </form>
  );
}

interface FieldProps {
  label: string;
  placeholder: string;
  maxLength: number;
  value: string;
  onChange: (value: string) => void;
}

const Field = ({ label, onChange, ...rest }: FieldProps) => (
  <input
    className="input input-sm w-full"
    aria-label={label}
    onChange={({ target }) => onChange(target.value)}
    {...rest}
  />
);

/** Runs a change of the shelf, shows it, and says so where it did not work. */
function useShelfChange() {
  const queries = useQueryClient();
  return async (work: () => Promise<unknown>, done?: () => void) => {
    try {
      await work();
      done?.();
    } catch (reason) {
      toast.error((reason as Error).message);
    }
    await queries.invalidateQueries({ queryKey: CHAINS });
  };
}
