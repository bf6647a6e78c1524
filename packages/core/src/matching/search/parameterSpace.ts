import { type Parameter, positionOnScale, valueAtScale } from '../../parameters/parameter';
import { parameterOf } from '../../parameters/table';
import { modulesOf, targetOf } from '../../patch/modules';
import type { Layer, Patch } from '../../patch/schema';
import type { Freedom } from '../explain/hypothesis';

/** A number of a patch's only layer that can be read and set, on a ruler from 0 to 1. */
interface Axis {
  freedom: Freedom;
  get: (layer: Layer) => number;
  set: (layer: Layer, position: number) => void;
}

/** Amounts of routes are spread evenly over this much of their unit to either side, or over the whole. */
const NARROW_AMOUNT = 48;

/**
 * The axis of a freedom, on the parameter's own ruler, which is in steps of the ear: logarithms of Hz and
 * seconds, dB. Undefined where the layer has no such number.
 */
function axisOf(layer: Layer, freedom: Freedom): Axis | undefined {
  const { moduleId, parameter: name } = freedom;
  const found = layer.routes.find(({ id }) => id === moduleId);
  if (found) {
    const target = targetOf(layer, found.to);
    if (typeof target === 'string' || !target.parameter.routing) return undefined;
    const { min, max, unit } = target.parameter.routing;
    const most = unit === 'st' && found.to.moduleId === 'layer' ? NARROW_AMOUNT : Math.max(-min, max);
    const ruler: Parameter = { ...target.parameter, min: -most, max: most, scale: 'linear', step: 0.001 };
    return {
      freedom,
      get: ({ routes }) => positionOnScale(ruler, routes.find(({ id }) => id === moduleId)?.amount ?? 0),
      set: ({ routes }, position) => {
        const own = routes.find(({ id }) => id === moduleId);
        if (own) own.amount = valueAtScale(ruler, position);
      },
    };
  }
  const module = modulesOf(layer).find(({ id }) => id === moduleId);
  const parameter = module && parameterOf(module.kind, name);
  if (!parameter) return undefined;
  // Finer than the steps of a ruler, so that a search sees where it goes; values are rounded at the end.
  const ruler = { ...parameter, step: parameter.step >= 1 && parameter.max <= 64 ? parameter.step : 1e-6 };
  const valuesOf = (of: Layer) => modulesOf(of).find(({ id }) => id === moduleId)?.values as Record<string, number>;
  return {
    freedom,
    get: (of) => positionOnScale(ruler, valuesOf(of)[name]),
    set: (of, position) => {
      valuesOf(of)[name] = valueAtScale(ruler, position);
    },
  };
}

/** Numbers of a patch as a point in a cube. */
export interface ParameterSpace {
  freedoms: readonly Freedom[];
  steps: number[];
  pointOf: (patch: Patch) => number[];
  /** A patch of its own with the numbers of a point. */
  at: (point: readonly number[]) => Patch;
}

export function parameterSpace(patch: Patch, freedoms: readonly Freedom[]): ParameterSpace {
  // Two hypotheses may leave the same number open.
  const own = new Map(freedoms.map((freedom) => [`${freedom.moduleId}.${freedom.parameter}`, freedom]));
  const axes = [...own.values()].flatMap((freedom) => axisOf(patch.layers[0], freedom) ?? []);
  return {
    freedoms: axes.map(({ freedom }) => freedom),
    steps: axes.map(({ freedom: { step } }) => step),
    pointOf: ({ layers: [layer] }) => axes.map(({ get }) => get(layer)),
    at: (point) => {
      const moved = copied(patch);
      axes.forEach(({ set }, i) => set(moved.layers[0], point[i]));
      return moved;
    },
  };
}

/** A copy whose modules can be changed; tables and samples, which are large and stay, are shared. */
export function copied(patch: Patch): Patch {
  const { wavetables, samples, ...rest } = patch;
  return { ...(JSON.parse(JSON.stringify(rest)) as typeof rest), wavetables, samples };
}
