import { parameterOf } from '../../parameters/table';
import { modulesOf } from '../../patch/modules';
import type { Layer } from '../../patch/schema';
import type { Freedom } from '../explain/hypothesis';
import type { Judge } from './judge';
import { copied } from './parameterSpace';
import type { Refined } from './refine';

/** What rounding one number may cost. */
const COST_JND = 0.02;

/** Rounds every free number to what a person would type, coarsely where that costs nothing. */
export function roundPatch(start: Refined, freedoms: readonly Freedom[], judge: Judge): Refined {
  let best = start;
  for (const freedom of freedoms) {
    for (const digits of [2, 3]) {
      const patch = copied(best.patch);
      if (!setRounded(patch.layers[0], freedom, digits)) break;
      const distance = judge.distance(patch);
      if (distance <= best.distance + COST_JND || digits === 3) {
        best = { patch, distance };
        break;
      }
    }
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
