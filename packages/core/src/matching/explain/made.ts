import { emptyLayer, emptyPatch } from '../../patch/defaults';
import { targetOf } from '../../patch/modules';
import type { Patch } from '../../patch/schema';
import type { Hypothesis } from './hypothesis';

/** A patch with one layer that holds nothing but what hypotheses bring. */
export function patchMadeOf(hypotheses: readonly Hypothesis[], name?: string): Patch {
  const patch = emptyPatch(name);
  const layer = { ...emptyLayer(), name: 'Tone', sources: [], modulators: [], routes: [] };
  for (const filter of layer.filters) filter.on = false;
  patch.layers = [layer];
  for (const { apply } of hypotheses) apply(layer, patch);
  return patch;
}

/**
 * Those that find what they move: the width of a pulse is nothing that sines have, whose structure is made of
 * the same evidence.
 */
export function fitting(hypotheses: readonly Hypothesis[]): Hypothesis[] {
  const [layer] = patchMadeOf(hypotheses).layers;
  const astray = layer.routes.filter(({ to }) => typeof targetOf(layer, to) === 'string').map(({ id }) => id);
  return hypotheses.filter(({ brings }) => !brings.some((id) => astray.includes(id)));
}
