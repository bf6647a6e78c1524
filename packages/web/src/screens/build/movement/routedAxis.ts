import type { Unit } from '@imprint/core/parameters/parameter';
import { targetOf } from '@imprint/core/patch/modules';
import type { Layer, Patch, Route } from '@imprint/core/patch/schema';
import { targetTitle } from '@imprint/core/patch/words/words';
import { type Axis, amountAxis, percentAxis } from '../../../drawing/axis';

/** The first thing that a modulator moves, in whose unit its values are told. */
export interface FirstRoute {
  route: Route;
  unit: Unit;
  /** `Saw, semitones`. */
  title: string;
}

/** The first route of a modulator that does anything; undefined when there is none. */
export function firstRouteOf(patch: Patch, layer: Layer, originId: string): FirstRoute | undefined {
  const route = layer.routes.find(({ on, from, amount }) => on && from === originId && amount !== 0);
  const target = route && targetOf(layer, route.to);
  if (!target || typeof target === 'string') return undefined;
  return { route, unit: target.parameter.routing!.unit, title: targetTitle(layer, route, patch) };
}

/**
 * An axis for values of a modulator, told as what its first route makes of them; in percent without one.
 *
 * @param range what stands for 0 and for 1 of the modulator
 */
export function routedAxis(first: FirstRoute | undefined, range: Axis['range']): Axis {
  if (!first) return percentAxis(range);
  const { amount, polarity } = first.route;
  const [low, high] = range;
  const atEnds = polarity === 'bipolar' ? [-amount, amount] : [0, amount];
  const perStep = (atEnds[1] - atEnds[0]) / (high - low);
  return amountAxis(first.unit, range, perStep, atEnds[0] - perStep * low);
}
