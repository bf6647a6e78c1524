import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { divisions } from '@imprint/core/parameters/division';
import { type ChainOwner, setEffect } from '@imprint/core/patch/chains';
import type { Effect } from '@imprint/core/patch/schema';
import { cabinetTitles, duckerKeyTitles, lfoShapeTitles, shaperTitles } from '@imprint/core/patch/words';
import { usePatchStore, withSample } from '../../stores/patchStore';
import { audioOf, cutOf, useStudyStore } from '../../stores/studyStore';
import { toneApi } from '../../stores/threads';
import { Choice, Tick } from './Editor';

export type SetFields = (fields: Record<string, unknown>) => void;
export type EffectOf<K extends Effect['kind']> = Extract<Effect, { kind: K }>;

const detectors = { peak: 'peaks', rms: 'mean power' };
const tones = { before: 'before the curve', behind: 'behind the curve' };

/** What an effect can be told besides numbers. */
export function EffectChoices({ owner, effect, set }: { owner: ChainOwner; effect: Effect; set: SetFields }) {
  switch (effect.kind) {
    case 'drive':
      return (
        <>
          <Choice
            label="Curve"
            className="w-24"
            value={effect.curve}
            titles={shaperTitles}
            onChange={(curve) => set({ curve })}
          />
          <Choice label="Its filter" value={effect.tone} titles={tones} onChange={(tone) => set({ tone })} />
          <Tick label="As loud as before" checked={effect.matchLevel} onChange={(matchLevel) => set({ matchLevel })} />
        </>
      );
    case 'compressor':
      return (
        <>
          <Choice
            label="Hears"
            className="w-28"
            value={effect.detector}
            titles={detectors}
            onChange={(detector) => set({ detector })}
          />
          <Tick label="Makes up" checked={effect.autoMakeUp} onChange={(autoMakeUp) => set({ autoMakeUp })} />
          <KeyChoice label="Listens to" none="itself" effect={effect} set={set} />
        </>
      );
    case 'tremolo':
      return (
        <>
          <Choice
            label="Shape"
            className="w-28"
            value={effect.shape}
            titles={lfoShapeTitles}
            onChange={(shape) => set({ shape })}
          />
          <Choice
            label="Rate by"
            className="w-24"
            value={effect.division ?? FREE}
            titles={{ ...times, [FREE]: 'in Hz' }}
            onChange={(division) => set({ division: division === FREE ? null : division })}
          />
        </>
      );
    case 'delay':
      return <DelayChoices effect={effect} set={set} />;
    case 'ringModulator':
      return <Choice label="Frequency" value={effect.tuning} titles={tunings} onChange={(tuning) => set({ tuning })} />;
    case 'resonator':
      return (
        <>
          <Choice label="Frequency" value={effect.tuning} titles={tunings} onChange={(tuning) => set({ tuning })} />
          <Tick label="Odd partials only" checked={effect.hollow} onChange={(hollow) => set({ hollow })} />
        </>
      );
    case 'frequencyShifter':
      return (
        <Tick label="Right side the other way" checked={effect.opposite} onChange={(opposite) => set({ opposite })} />
      );
    case 'cabinet':
      return (
        <Choice
          label="Cabinet"
          value={effect.cabinet}
          titles={cabinetTitles}
          onChange={(cabinet) => set({ cabinet })}
        />
      );
    case 'vocoder':
      return <SpectrumChoice owner={owner} effect={effect} set={set} />;
    case 'ducker':
      return (
        <>
          <Choice
            label="Ducks"
            className="w-32"
            value={effect.key}
            titles={duckerKeyTitles}
            onChange={(key) => set({ key })}
          />
          {effect.key === 'drawn' && (
            <Choice
              label="Over"
              className="w-20"
              value={effect.division}
              titles={lengths}
              onChange={(division) => set({ division })}
            />
          )}
          {effect.key === 'layer' && <KeyChoice label="Layer" none="none" effect={effect} set={set} />}
        </>
      );
    case 'stereo':
      return (
        <>
          <Tick label="Turn left" checked={effect.turnLeft} onChange={(turnLeft) => set({ turnLeft })} />
          <Tick label="Turn right" checked={effect.turnRight} onChange={(turnRight) => set({ turnRight })} />
          <Tick label="Remove DC" checked={effect.removeDc} onChange={(removeDc) => set({ removeDc })} />
        </>
      );
    default:
      return null;
  }
}

const tunings = { note: 'follows the note', fixed: 'as set' };

/** Which layer an effect listens to. */
function KeyChoice({
  label,
  none,
  effect,
  set,
}: {
  label: string;
  none: string;
  effect: EffectOf<'compressor' | 'ducker'>;
  set: SetFields;
}) {
  const layers = usePatchStore(({ patch }) => patch!.layers);
  return (
    <Choice
      label={label}
      className="w-28"
      value={effect.keyLayerId ?? FREE}
      titles={{ [FREE]: none, ...Object.fromEntries(layers.map(({ id, name }) => [id, name])) }}
      onChange={(keyLayerId) => set({ keyLayerId: keyLayerId === FREE ? null : keyLayerId })}
    />
  );
}

const FREE = '';
const lengths: Record<string, string> = Object.fromEntries(divisions.map((division) => [division, division]));
const times: Record<string, string> = { [FREE]: 'in seconds', ...lengths };

function DelayChoices({ effect, set }: { effect: EffectOf<'delay'>; set: SetFields }) {
  const side = (label: string, name: 'leftDivision' | 'rightDivision') => (
    <Choice
      label={label}
      className="w-24"
      value={effect[name] ?? FREE}
      titles={times}
      onChange={(division) => set({ [name]: division === FREE ? null : division })}
    />
  );
  return (
    <>
      {side('Left by', 'leftDivision')}
      {side('Right by', 'rightDivision')}
      <Tick label="Ping-pong" checked={effect.pingPong} onChange={(pingPong) => set({ pingPong })} />
      <Tick label="A moving time bends" checked={effect.bends} onChange={(bends) => set({ bends })} />
    </>
  );
}

const LAYER = 'layer:';
const SAMPLE = 'sample:';
const CUT = 'cut';

/** What gives a vocoder its spectrum: what goes through it, a layer, or a sample, which can be made of the cut. */
function SpectrumChoice({ owner, effect, set }: { owner: ChainOwner; effect: EffectOf<'vocoder'>; set: SetFields }) {
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
    [FREE]: 'itself',
    ...Object.fromEntries(layers.map(({ id, name }) => [LAYER + id, name])),
    ...Object.fromEntries(samples.map(({ id, name }) => [SAMPLE + id, name])),
    ...(cut ? { [CUT]: `the cut “${cut.name}”` } : {}),
  };
  const value =
    effect.keyLayerId !== null ? LAYER + effect.keyLayerId : effect.sampleId !== null ? SAMPLE + effect.sampleId : FREE;
  return (
    <Choice
      label="Spectrum of"
      value={value}
      titles={titles}
      onChange={(choice) => {
        if (choice === CUT) return take.mutate();
        set({
          keyLayerId: choice.startsWith(LAYER) ? choice.slice(LAYER.length) : null,
          sampleId: choice.startsWith(SAMPLE) ? choice.slice(SAMPLE.length) : null,
        });
      }}
    />
  );
}
