import type { Hypothesis } from '../explain/hypothesis';
import type { Judge } from './judge';
import { without } from './prune';
import type { Refined } from './refine';

/** What takes the start so much further away misleads the search. */
const HARM_JND = 0.5;

export interface Screened extends Refined {
  hypotheses: Hypothesis[];
  /** What is not searched with. */
  leftOut: Hypothesis[];
}

/**
 * Leaves out, before anything is searched, what makes the patch worse as it was read: a search turns all else
 * to make up for it, and what would have helped is worth nothing beside it. The worst goes first.
 */
export async function screen(
  start: Refined,
  hypotheses: readonly Hypothesis[],
  judge: Judge,
  isLocked: (id: string) => boolean,
): Promise<Screened> {
  let best = start;
  let left = [...hypotheses];
  const leftOut: Hypothesis[] = [];
  for (;;) {
    // Echoes and rooms add to what a level contour that took them for the note has already.
    const open = left.filter(
      ({ stage, brings, isAssumed }) => stage !== 'space' && brings.length > 0 && !isAssumed && !brings.some(isLocked),
    );
    if (open.length === 0) return { ...best, hypotheses: left, leftOut };
    const patches = open.map((hypothesis) => without(best.patch, hypothesis));
    const distances = await judge.distances(patches);
    const nearest = distances.indexOf(Math.min(...distances));
    if (!(distances[nearest] < best.distance - HARM_JND)) return { ...best, hypotheses: left, leftOut };
    best = { patch: patches[nearest], distance: distances[nearest] };
    leftOut.push(open[nearest]);
    left = left.filter((hypothesis) => hypothesis !== open[nearest]);
  }
}
