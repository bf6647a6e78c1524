import type { PhraseNote } from '../engine/render';
import type { Reading, ReadingNote } from '../reading/schema';

/**
 * The notes of a reading as a phrase to play: the loudest at velocity 100, the others softer by their level.
 */
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

/** The way back: a phrase as notes, velocity 100 at `loudestDb`. */
export function notesOfPhrase(phrase: readonly PhraseNote[], loudestDb = -12): ReadingNote[] {
  return phrase.map(({ onsetSeconds, durationSeconds, midi, velocity }) => ({
    onsetSeconds,
    durationSeconds,
    midi: Math.round(midi),
    cents: Math.round(100 * (midi - Math.round(midi))),
    levelDb: loudestDb + 40 * Math.log10(velocity / 100),
  }));
}
