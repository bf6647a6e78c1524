import { type PatchResources, prepareResources } from '../engine/program/resources';
import type { Patch } from '../patch/schema';

const known = new WeakMap<Patch['wavetables'], PatchResources>();

/**
 * Tables of a patch made ready, once for all patches that share them: a search prints hundreds that differ in
 * numbers only. Samples and drawn partials, which it leaves alone, are made ready every time.
 */
export function preparedOf(patch: Patch): PatchResources {
  const { wavetables, samples, layers } = patch;
  if (samples.length > 0 || layers.some(({ sources }) => sources.some(({ kind }) => kind === 'partials')))
    return prepareResources(patch);
  let resources = known.get(wavetables);
  if (!resources) known.set(wavetables, (resources = prepareResources(patch)));
  return resources;
}
