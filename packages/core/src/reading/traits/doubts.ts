import type { DoubtedReading } from './descriptor';

/** Under this a reason is given. */
export const SURE = 0.75;

export const NO_PITCH = 'no pitch was found, so there are no partials to follow';
export const OVERLAP = 'notes overlap, and their partials are mixed';

/** Whether notes sound at the same time for long. */
export const overlap = ({ notes }: Pick<DoubtedReading, 'notes'>): boolean =>
  notes.some((note, i) =>
    notes.some((other, k) => k > i && other.onsetSeconds < note.onsetSeconds + 0.7 * note.durationSeconds),
  );

export const several = ({ notes }: DoubtedReading): boolean => notes.length > 1;
