import { useEffect, useState } from 'react';
import { type ChainOwner, addEffect, addGroup, chainOf, joinGroup, withChain } from '@imprint/core/patch/edits/chains';
import { moved } from '@imprint/core/patch/edits/edit';
import { MAX_EFFECTS } from '@imprint/core/patch/schemas/effectSchema';
import { type EffectKind, type Layer, MAX_GROUPS, type Patch } from '@imprint/core/patch/schema';
import { effectDetail, effectTitles } from '@imprint/core/patch/words/effects';
import { chainTitles, layerTitles } from '@imprint/core/patch/words/words';
import { MAX_NAME } from '@imprint/core/patch/names';
import { addToPatch, editEffect, usePatchStore } from '../../../stores/patchStore';
import { useTransport } from '../../../stores/transportStore';
import { ChainShelf } from './ChainShelf';
import { AddMenu, StripSection } from './StripParts';
import { SortableList } from './SortableList';
import { SortableRow } from './StripRow';
import { selectModule, useSelection } from '../../../stores/selectionStore';

/** The effects that the sum of a layer's notes is put through. */
export const LayerChain = ({ patch, layer }: { patch: Patch; layer: Layer }) => (
  <Chain title="Chain" label="Add an effect" patch={patch} owner={{ of: 'layer', id: layer.id }} />
);

/** Those of its group, and those that the sum of all layers is put through. */
export function SharedChains({ patch, layer }: { patch: Patch; layer: Layer }) {
  const group = patch.groups.find(({ id }) => id === layer.groupId);
  return (
    <>
      {patch.layers.length > 1 && <GroupChoice patch={patch} layer={layer} />}
      {group && (
        <Chain
          title={group.name}
          label="Add an effect to the group"
          patch={patch}
          owner={{ of: 'group', id: group.id }}
        />
      )}
      <Chain title="All layers" label="Add an effect to all layers" patch={patch} owner={{ of: 'patch' }} />
    </>
  );
}

const NONE = '';
const NEW = 'new';

/** Which layers share a chain before that of all. */
function GroupChoice({ patch, layer }: { patch: Patch; layer: Layer }) {
  const { edit } = usePatchStore.getState();
  const group = patch.groups.find(({ id }) => id === layer.groupId);
  const rename = (name: string) =>
    edit((old) => ({
      ...old,
      groups: old.groups.map((other) => (other.id === group?.id ? { ...other, name } : other)),
    }));
  return (
    <>
      <label className="mt-2 flex items-center gap-2 px-[14px] text-soft">
        Group
        <select
          className="select select-xs grow text-base-content"
          aria-label="Group of the layer"
          value={layer.groupId ?? NONE}
          onChange={({ target }) => {
            if (target.value === NEW) addToPatch((old) => addGroup(old, layer.id));
            else edit((old) => joinGroup(old, layer.id, target.value === NONE ? null : target.value));
          }}
        >
          <option value={NONE}>none</option>
          {patch.groups.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          {patch.groups.length < MAX_GROUPS && <option value={NEW}>a new one</option>}
        </select>
      </label>
      {group && (
        <input
          className="input input-xs mx-[14px] mt-1 w-auto shrink-0"
          aria-label="Name of the group"
          maxLength={MAX_NAME}
          value={group.name}
          onChange={({ target }) => target.value && rename(target.value)}
        />
      )}
    </>
  );
}

interface ChainProps {
  title: string;
  label: string;
  patch: Patch;
  owner: ChainOwner;
}

function Chain({ title, label, patch, owner }: ChainProps) {
  const moduleId = useSelection((selection) => selection.moduleId);
  const effects = chainOf(patch, owner);
  const titles =
    owner.of === 'layer'
      ? layerTitles(
          patch.layers.find(({ id }) => id === owner.id)!,
          patch,
        )
      : chainTitles(effects);
  const clipped = useClipped(owner, effects.length);
  const add = (kind: string) => selectModule(addToPatch((old) => addEffect(old, owner, kind as EffectKind)));
  return (
    <StripSection
      id={owner.of === 'group' ? `group ${owner.id}` : `chain of ${owner.of}`}
      title={title}
      action={
        <span className="flex">
          <ChainShelf owner={owner} />
          {effects.length < MAX_EFFECTS && <AddMenu label={label} options={effectTitles} onAdd={add} />}
        </span>
      }
    >
      {effects.length === 0 && <p className="px-[14px] text-soft">No effects.</p>}
      <SortableList
        ids={effects.map(({ id }) => id)}
        onMove={(from, to) =>
          usePatchStore.getState().edit((old) => withChain(old, owner, (list) => moved(list, from, to)))
        }
      >
        {effects.map((effect, index) => (
          <SortableRow
            key={effect.id}
            id={effect.id}
            title={titles.get(effect.id)!}
            detail={clipped.includes(index) ? 'over full scale behind it' : effectDetail(effect)}
            warned={clipped.includes(index)}
            selected={moduleId === effect.id}
            onSelect={() => selectModule(effect.id)}
            on={effect.on}
            onSwitch={(on) => editEffect(owner, effect.id, { on })}
            solo={{ layerId: owner.of === 'layer' ? owner.id : null, moduleId: effect.id }}
            soloTitle="Hear what it adds (O)"
          />
        ))}
      </SortableList>
    </StripSection>
  );
}

const LOOK_MS = 150;
/** How long an effect stays marked that has clipped. */
const HOLD_LOOKS = 12;

/** Places of the effects behind which a moment ago the signal was over full scale. */
function useClipped({ of }: ChainOwner, count: number): readonly number[] {
  const [clipped, setClipped] = useState<readonly number[]>([]);
  useEffect(() => {
    const left = new Array<number>(count).fill(0);
    const look = setInterval(() => {
      const { deck } = useTransport.getState();
      if (!deck) return;
      for (let i = 0; i < count; i++)
        left[i] = deck.levelsOf(of, i).peakOut > 1 ? HOLD_LOOKS : Math.max(0, left[i] - 1);
      const now = left.flatMap((looks, i) => (looks > 0 ? [i] : []));
      setClipped((before) => (before.length === now.length && before.every((i, n) => i === now[n]) ? before : now));
    }, LOOK_MS);
    return () => clearInterval(look);
  }, [of, count]);
  return clipped;
}
