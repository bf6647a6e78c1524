import { type Audio, durationOf, sliceAudio } from '../reading/audio';
import type { Overrules } from '../reading/hand/overrules';
import { trackBpm } from '../reading/piece/tempo';
import { type Measurement, type ReadingContext, measure } from '../reading/read';
import type { Reading } from '../reading/schema';
import type { PhraseNote } from '../engine/render';
import { InputError } from '../patch/inputError';
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
  const alone = isPhrase ? measureLongestNote(audio, whole.reading) : whole;
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

function measureLongestNote(audio: Audio, { notes }: Reading): Measurement {
  const longest = notes.reduce((a, b) => (b.durationSeconds > a.durationSeconds ? b : a));
  const next = notes.find((note) => note.onsetSeconds > longest.onsetSeconds);
  const from = Math.max(0, longest.onsetSeconds - 0.02);
  const to = Math.min(
    next?.onsetSeconds ?? Infinity,
    longest.onsetSeconds + longest.durationSeconds + 1.5,
    durationOf(audio),
  );
  const note = measure(sliceAudio(audio, from, to));
  return note.fundamental ? note : measure(audio);
}
