import type { ReadingNote } from '../schema';

/** Of a note, that passes before the next one begins, if they are a line. */
const MOST_SHARE = 0.7;

/** Whether notes sound at the same time for long. */
export const overlap = ({ notes }: { notes: readonly ReadingNote[] }): boolean =>
  notes.some((note, i) =>
    notes.some((other, k) => k > i && other.onsetSeconds < note.onsetSeconds + MOST_SHARE * note.durationSeconds),
  );
