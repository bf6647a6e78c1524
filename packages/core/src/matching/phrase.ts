import type { PhraseNote } from '../engine/render';
import type { Reading, ReadingNote } from '../reading/schema';

/** Notes with less between them may have slid into one another. */
const SLURRED_SECONDS = 0.03;
/** As long a note is held over the next, for that to be slid to. */
const OVERLAP_SECONDS = 0.005;

/** Notes of a reading, and how long they slide into one another, where that was read. */
interface Played extends Pick<Reading, 'notes'> {
  traits?: { pitch: Pick<Reading['traits']['pitch'], 'glideSeconds'> };
}

/**
 * The notes of a reading as a phrase to play: the loudest at velocity 100, the others softer by their level.
 * Those that slide into one another begin with the slide, in whose middle they were told, and are held until
 * the next has begun.
 */
export function phraseOf({ notes, traits }: Played): PhraseNote[] {
  const loudestDb = Math.max(...notes.map((note) => note.levelDb));
  const glideSeconds = traits?.pitch.glideSeconds ?? null;
  const slides = notes.map((note, i) => {
    const before = notes[i - 1];
    const gap = before ? note.onsetSeconds - before.onsetSeconds - before.durationSeconds : Infinity;
    if (!before || glideSeconds === null || Math.abs(gap) >= SLURRED_SECONDS) return 0;
    return Math.min(glideSeconds, note.onsetSeconds - before.onsetSeconds) / 2;
  });
  return notes.map(({ onsetSeconds, durationSeconds, midi, levelDb }, i) => {
    const begins = onsetSeconds - slides[i];
    const next = slides[i + 1] > 0 ? notes[i + 1].onsetSeconds - slides[i + 1] + OVERLAP_SECONDS : undefined;
    return {
      onsetSeconds: begins,
      durationSeconds: next === undefined ? durationSeconds + slides[i] : next - begins,
      midi,
      // The inverse of the engine's velocity curve, 40·log10(velocity / 100) dB.
      velocity: Math.max(1, Math.round(100 * 10 ** ((levelDb - loudestDb) / 40))),
    };
  });
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
