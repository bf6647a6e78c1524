import type { ChainOwner } from '@imprint/core/patch/chains';
import type { Effect, Layer } from '@imprint/core/patch/schema';
import { effectTitles } from '@imprint/core/patch/words';
import type { Reading } from '@imprint/core/reading/schema';
import { editEffect, usePatchStore } from '../../stores/patchStore';
import { Editor } from './Editor';
import { EffectChoices, type SetFields } from './EffectChoices';
import { EffectDrawing } from './EffectDrawing';
import { EffectOutcome } from './EffectOutcome';
import { EffectPicture } from './EffectPicture';
import { EqualizerShape } from './EqualizerShape';
import { GainStage } from './GainStage';
import { Rulers } from './Rulers';
import { measuredEffect } from './measured';

const purposes: Record<Effect['kind'], string> = {
  equalizer: 'eight bands, one after the other',
  drive: 'a curve that bends the wave, oversampled',
  reducer: 'fewer bits, a lower rate',
  compressor: 'evens out what is loud',
  multiband: 'turns down what is loud and up what is soft, in three bands',
  limiter: 'keeps peaks under a ceiling, also between samples',
  chorus: 'late copies whose delays swing',
  delay: 'repeats, either side by a time of its own',
  reverb: 'a room',
  tremolo: 'the level goes up and down, or from side to side',
  flanger: 'one short delay that swings, fed back',
  phasing: 'notches that move, or stand',
  widener: 'each side a little of the other, later and out of tune',
  ringModulator: 'each partial becomes two, beside a sine',
  frequencyShifter: 'every partial as many hertz away',
  pitchShifter: 'higher or lower, at the same speed',
  vocoder: 'the spectrum of one sound upon another',
  vowelFilter: 'formants of a voice',
  resonator: 'rings at a pitch, as a string does',
  grainDelay: 'what was played, in short pieces',
  ducker: 'makes room in time with something',
  cabinet: 'a tube stage into a loudspeaker',
  stereo: 'level, place and width',
};

interface EffectEditorProps {
  layer: Layer;
  owner: ChainOwner;
  effect: Effect;
  reading: Reading;
}

/** One effect of a chain: what it does as a picture and to the traits, its levels, its choices, its rulers. */
export function EffectEditor({ layer, owner, effect, reading }: EffectEditorProps) {
  const routes = usePatchStore(({ patch }) => patch!.routes);
  const set: SetFields = (fields) => editEffect(owner, effect.id, fields);
  return (
    <Editor
      title={effectTitles[effect.kind]}
      note={`${purposes[effect.kind]}${places[owner.of]}`}
      action={<EffectChoices owner={owner} effect={effect} set={set} />}
    >
      {effect.kind === 'equalizer' ? <EqualizerShape effect={effect} set={set} /> : <EffectPicture effect={effect} />}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-1">
        <GainStage owner={owner} effect={effect} set={set} />
        <EffectOutcome owner={owner} effect={effect} reading={reading} />
      </div>
      <EffectDrawing effect={effect} set={set} />
      <Rulers
        layer={layer}
        moduleId={effect.id}
        kind={effect.kind}
        values={effect}
        measured={measuredEffect(reading, effect.kind)}
        hidden={hiddenOf(effect)}
        sharedRoutes={owner.of === 'layer' ? undefined : routes}
        onChange={set}
      />
    </Editor>
  );
}

const places: Record<ChainOwner['of'], string> = { layer: '', group: '; on its group', patch: '; on all layers' };

/** Numbers that mean nothing as the effect is set. */
function hiddenOf(effect: Effect): string[] {
  switch (effect.kind) {
    case 'equalizer':
      return effect.bands.flatMap(({ kind }, i) => {
        const band = `band${i + 1}`;
        if (kind === 'off') return [`${band}Hz`, `${band}Db`, `${band}Q`];
        return kind === 'lowCut' || kind === 'highCut' || kind === 'notch' ? [`${band}Db`] : [];
      });
    case 'delay':
      return [
        ...(effect.leftDivision === null ? [] : ['leftSeconds']),
        ...(effect.rightDivision === null ? [] : ['rightSeconds']),
        ...(effect.pingPong ? ['crossFeedback'] : []),
      ];
    case 'tremolo':
      return effect.division === null ? [] : ['rateHz'];
    case 'ringModulator':
      return [effect.tuning === 'note' ? 'toneHz' : 'ratio'];
    case 'resonator':
      return [effect.tuning === 'note' ? 'toneHz' : 'semitones'];
    case 'ducker':
      return [
        ...(effect.key === 'layer' ? [] : ['thresholdDb']),
        ...(effect.key === 'drawn' ? ['releaseSeconds', 'bend'] : []),
      ];
    default:
      return [];
  }
}
