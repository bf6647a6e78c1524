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

/** From as far away as this the steps are whole, and they are never shorter than so much of that. */
const WHOLE_STEPS_JND = 2.5;
const LEAST_STEPS = 0.25;

/** What is near already is left by long steps, and a short search has no time to shorten them by itself. */
const stepShare = (distance: number) => Math.min(1, Math.max(LEAST_STEPS, distance / WHOLE_STEPS_JND));

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
    steps: space.steps.map((step) => stepShare(start.distance) * step),
    maxEvaluations: maxRenders,
    tolerance: WORTHWHILE_JND,
    random,
    isCancelled,
  });
  return cost < start.distance ? { patch: space.at(best), distance: cost } : start;
}
