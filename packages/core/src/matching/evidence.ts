import type { Audio } from '../reading/audio';
import type { Overrules } from '../reading/hand/overrules';
import { trackBpm } from '../reading/piece/tempo';
import { type ReadingContext, measure } from '../reading/read';
import type { Reading } from '../reading/schema';
import type { PhraseNote } from '../engine/render';
import { InputError } from '../patch/inputError';
import { measureLoneNote } from './loneNote';
import { overruledMeasurement } from './overruledMeasurement';
import type { Evidence } from './explain/hypothesis';
import { phraseOf } from './phrase';

/** What a patch is made from: the reading of the whole cut, and one note of it by itself. */
export interface CutEvidence extends Evidence {
  audio: Audio;
  reading: Reading;
  notes: PhraseNote[];
}

/**
 * Measures a cut for building on it. Of a cut with several notes the longest stands for the tone.
 *
 * @param overrules values set by hand, which stand in place of those measured
 *
 * Throws an InputError when the cut has no pitch to build on.
 */
export function gatherEvidence(
  audio: Audio,
  onProgress: (fraction: number) => void = () => {},
  context: ReadingContext = {},
  overrules: Overrules = {},
): CutEvidence {
  const whole = measure(audio, (fraction) => onProgress(0.7 * fraction), context);
  if (!whole.fundamental)
    throw new InputError(
      'No pitch was found in this cut, so there is nothing to build a tone on yet. A single note of 0.2 s or more that stands alone works best; among drums, keep only what is tonal.',
    );
  const notes = phraseOf(whole.reading);
  const { f0Hz } = overrules;
  const isPhrase = whole.reading.notes.length > 1;
  const alone = isPhrase ? measureLoneNote(audio, whole.reading) : whole;
  // Around another fundamental there are other partials.
  const note = f0Hz === undefined || isPhrase ? alone : measure(audio, undefined, { ...context, f0Hz });
  onProgress(1);
  const measured = overruledMeasurement(note, overrules);
  const [played] = measured.reading.notes;
  const midi = played?.midi ?? Math.round(69 + 12 * Math.log2(whole.fundamental.f0Hz / 440));
  const { glideSeconds } = whole.reading.traits.pitch;
  return {
    audio,
    note: measured,
    notes,
    glideSeconds,
    reading: whole.reading,
    midi,
    bpm: trackBpm(null, context.piece?.tempo),
  };
}
