import type { DoubtedReading } from './descriptor';

/** Under this a reason is given. */
export const SURE = 0.75;

export const NO_PITCH = 'no pitch was found, so there are no partials to follow';
export const OVERLAP = 'notes overlap, and their partials are mixed';

export const several = ({ notes }: DoubtedReading): boolean => notes.length > 1;
