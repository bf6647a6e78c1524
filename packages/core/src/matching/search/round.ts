import { parameterOf } from '../../parameters/table';
import { modulesOf } from '../../patch/modules';
import type { Layer } from '../../patch/schema';
import type { Freedom } from '../explain/hypothesis';
import type { Judge } from './judge';
import { copied } from './parameterSpace';
import type { Refined } from './refine';

/** What rounding one number may cost. */
const COST_JND = 0.02;

/** Digits of a number that a person would type, and of one that costs nothing to be coarser. */
const DIGITS = 3;
const COARSE_DIGITS = 2;

/**
 * Rounds every free number to what a person would type, coarsely where that costs nothing.
 *
 * @param hasTime whether that is tried for each; else all are rounded at once, not coarsely
 */
export async function roundPatch(
  start: Refined,
  freedoms: readonly Freedom[],
  judge: Judge,
  hasTime: boolean,
): Promise<Refined> {
  if (!hasTime) {
    const patch = copied(start.patch);
    for (const freedom of freedoms) setRounded(patch.layers[0], freedom, DIGITS);
    return { patch, distance: await judge.distance(patch) };
  }
  let best = start;
  for (const freedom of freedoms) {
    const { patch: own, distance: before } = best;
    const patches = [COARSE_DIGITS, DIGITS].flatMap((digits) => {
      const patch = copied(own);
      return setRounded(patch.layers[0], freedom, digits) ? [patch] : [];
    });
    if (patches.length === 0) continue;
    const [coarse, fine] = await judge.distances(patches);
    best =
      coarse <= before + COST_JND ? { patch: patches[0], distance: coarse } : { patch: patches[1], distance: fine };
  }
  return best;
}

/** False where there is no such number. */
function setRounded(layer: Layer, { moduleId, parameter }: Freedom, digits: number): boolean {
  const route = layer.routes.find(({ id }) => id === moduleId);
  if (route) {
    route.amount = typed(route.amount, digits, 0.001);
    return true;
  }
  const module = modulesOf(layer).find(({ id }) => id === moduleId);
  const entry = module && parameterOf(module.kind, parameter);
  if (!entry) return false;
  const values = module.values as Record<string, number>;
  const value = typed(values[parameter], digits, entry.step);
  values[parameter] = Math.min(entry.max, Math.max(entry.min, value));
  return true;
}

const typed = (value: number, digits: number, step: number) => {
  const near = Number(value.toPrecision(digits));
  return Number((Math.round(near / step) * step).toPrecision(12));
};
