import type { Patch } from '../../patch/schema';
import type { Freedom } from '../explain/hypothesis';
import { cmaEs } from './cmaEs';
import type { Judge } from './judge';
import { parameterSpace } from './parameterSpace';

export interface Refined {
  patch: Patch;
  distance: number;
}

/** How much better, in JND, the last generations have to be for a search to go on. */
const WORTHWHILE_JND = 0.01;

export interface Limits {
  maxRenders: number;
  random: () => number;
  isCancelled: () => boolean | Promise<boolean>;
}

/** Turns the numbers that are free; gives back the best patch that came by, if need be the first. */
export async function refine(
  start: Refined,
  freedoms: readonly Freedom[],
  judge: Judge,
  { maxRenders, random, isCancelled }: Limits,
): Promise<Refined> {
  const space = parameterSpace(start.patch, freedoms);
  if (space.freedoms.length === 0 || maxRenders < 4 || (await isCancelled())) return start;
  const { best, cost } = await cmaEs((points) => judge.distances(points.map(space.at)), {
    start: space.pointOf(start.patch),
    steps: space.steps,
    maxEvaluations: maxRenders,
    tolerance: WORTHWHILE_JND,
    random,
    isCancelled,
  });
  return cost < start.distance ? { patch: space.at(best), distance: cost } : start;
}
