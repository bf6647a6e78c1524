import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { type OptionalDivision, type OtherLayer, divisionTitles } from '@imprint/core/parameters/effects/choices';
import { type ChainOwner, setEffect } from '@imprint/core/patch/edits/chains';
import { choicesOfEffect } from '@imprint/core/patch/words/effects';
import type { Effect } from '@imprint/core/patch/schema';
import { usePatchStore, withSample } from '../../../stores/patchStore';
import { audioOf, cutOf, useStudyStore } from '../../../stores/studyStore';
import { toneApi } from '../../../stores/threads';
import { Choice, Tick } from '../editor/Editor';
import { TempoNote } from '../editor/TempoNote';

export type SetFields = (fields: Record<string, unknown>) => void;

interface EffectChoicesProps {
  owner: ChainOwner;
  effect: Effect;
  set: SetFields;
}

/** What an effect can be told besides numbers, as its descriptor says; what is drawn stands below. */
export function EffectChoices({ owner, effect, set }: EffectChoicesProps) {
  const choices = choicesOfEffect(effect);
  const timed = choices.some(([, { of }, value]) => of === 'division' || (of === 'optionalDivision' && value !== null));
  return (
    <>
      {choices.map(([name, choice, value]) => {
        const change = (next: unknown) => set({ [name]: next });
        switch (choice.of) {
          case 'oneOf':
            return (
              <Words key={name} label={choice.label} titles={choice.titles} value={value as string} onChange={change} />
            );
          case 'switch':
            return <Tick key={name} label={choice.label} checked={value as boolean} onChange={change} />;
          case 'division':
            return (
              <Words
                key={name}
                label={choice.label}
                titles={divisionTitles}
                value={value as string}
                onChange={change}
              />
            );
          case 'optionalDivision':
            return <DivisionOr key={name} choice={choice} value={value as string | null} onChange={change} />;
          case 'layer':
            return 'sampleId' in effect ? (
              <SoundChoice key={name} owner={owner} effect={effect} choice={choice} set={set} />
            ) : (
              <LayerChoice key={name} choice={choice} value={value as string | null} onChange={change} />
            );
          default:
            return null;
        }
      })}
      {timed && <TempoNote />}
    </>
  );
}

/** Stands for null among the values of a list. */
const NONE = '';

const widest = (titles: Readonly<Record<string, string>>) =>
  Math.max(...Object.values(titles).map((title) => title.length)) > 12 ? 'w-40' : 'w-28';

interface WordsProps {
  label: string;
  titles: Readonly<Record<string, string>>;
  value: string;
  onChange: (value: string) => void;
}

const Words = (props: WordsProps) => <Choice {...props} className={widest(props.titles)} />;

interface OrNoneProps<C> {
  choice: C;
  value: string | null;
  onChange: (value: string | null) => void;
}

function DivisionOr({ choice, value, onChange }: OrNoneProps<OptionalDivision>) {
  const titles = { [NONE]: choice.free, ...divisionTitles };
  const change = (next: string) => onChange(next === NONE ? null : next);
  return <Words label={choice.label} titles={titles} value={value ?? NONE} onChange={change} />;
}

/** Which layer an effect listens to. */
function LayerChoice({ choice, value, onChange }: OrNoneProps<OtherLayer>) {
  const layers = usePatchStore(({ patch }) => patch!.layers);
  const titles = { [NONE]: choice.none, ...Object.fromEntries(layers.map(({ id, name }) => [id, name])) };
  const change = (next: string) => onChange(next === NONE ? null : next);
  return <Words label={choice.label} titles={titles} value={value ?? NONE} onChange={change} />;
}

const LAYER = 'layer:';
const SAMPLE = 'sample:';
const CUT = 'cut';

interface SoundChoiceProps extends EffectChoicesProps {
  effect: Extract<Effect, { sampleId: string | null }>;
  choice: OtherLayer;
}

/**
 * Which sound an effect listens to: what goes through it, a layer, or a sample, which can be made of the cut.
 */
function SoundChoice({ owner, effect, choice, set }: SoundChoiceProps) {
  const layers = usePatchStore(({ patch }) => patch!.layers);
  const samples = usePatchStore(({ patch }) => patch!.samples);
  const cut = useStudyStore(cutOf);
  const take = useMutation({
    mutationFn: () => toneApi().sampleFromCut(audioOf(cut!), cut!.name),
    onSuccess: ({ sample }) =>
      withSample(sample, (patch, sampleId) => setEffect(patch, owner, effect.id, { sampleId, keyLayerId: null })),
    onError: (error) => toast.error(error.message),
  });
  const titles: Record<string, string> = {
    [NONE]: choice.none,
    ...Object.fromEntries(layers.map(({ id, name }) => [LAYER + id, name])),
    ...Object.fromEntries(samples.map(({ id, name }) => [SAMPLE + id, name])),
    ...(cut ? { [CUT]: `the cut “${cut.name}”` } : {}),
  };
  const { keyLayerId, sampleId } = effect;
  const value = keyLayerId !== null ? LAYER + keyLayerId : sampleId !== null ? SAMPLE + sampleId : NONE;
  return (
    <Words
      label={choice.label}
      titles={titles}
      value={value}
      onChange={(chosen) => {
        if (chosen === CUT) return take.mutate();
        set({
          keyLayerId: chosen.startsWith(LAYER) ? chosen.slice(LAYER.length) : null,
          sampleId: chosen.startsWith(SAMPLE) ? chosen.slice(SAMPLE.length) : null,
        });
      }}
    />
  );
}
