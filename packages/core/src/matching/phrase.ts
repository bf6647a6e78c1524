import type { PhraseNote } from '../engine/render';
import type { Reading } from '../reading/schema';

/** The notes of a reading as a phrase to play: the loudest at velocity 100, the others softer by their level. */
export function phraseOf({ notes }: Pick<Reading, 'notes'>): PhraseNote[] {
  const loudestDb = Math.max(...notes.map((note) => note.levelDb));
  return notes.map(({ onsetSeconds, durationSeconds, midi, levelDb }) => ({
    onsetSeconds,
    durationSeconds,
    midi,
    // The inverse of the engine's velocity curve, 40·log10(velocity / 100) dB.
    velocity: Math.max(1, Math.round(100 * 10 ** ((levelDb - loudestDb) / 40))),
  }));
}
