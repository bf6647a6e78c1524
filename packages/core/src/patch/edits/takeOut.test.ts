import { lfo, route, sourcePatch } from '../../../test/patches';
import { emptyPatch } from '../defaults';
import { parsePatch } from '../parse';
import type { Patch } from '../schema';
import { effectSchema } from '../schemas/effectSchema';
import { addLayer } from './edit';
import { partsOf, takeOut } from './takeOut';

/** Two sources behind a filter, one of them moved, with a chorus behind and a delay over all. */
function wholePatch(): Patch {
  const patch = sourcePatch({ kind: 'shape', shape: 'saw' }, { kind: 'shape', shape: 'sine', name: 'Sub' });
  const [layer] = patch.layers;
  layer.filters[0].on = true;
  layer.filters[1].on = false;
  layer.shaper.on = false;
  layer.modulators = [lfo('lfo-1'), lfo('lfo-2')];
  layer.routes = [route('lfo-1', 'source-1', 'semitones', 1)];
  layer.effects = [effectSchema.parse({ kind: 'chorus', id: 'chorus-1' })];
  patch.effects = [effectSchema.parse({ kind: 'delay', id: 'delay-1' })];
  return patch;
}

const idsOf = (patch: Patch) => partsOf(patch).map(({ moduleId }) => moduleId);

it('names what is heard, in signal order', () => {
  const patch = wholePatch();
  const [{ id: filterId }] = patch.layers[0].filters;
  expect(idsOf(patch)).toEqual(['source-1', 'source-2', filterId, 'chorus-1', 'lfo-1', 'delay-1']);
  expect(partsOf(patch)[1].title).toBe('Sub');
});

it('leaves out what does nothing: modules that are off, modulators that move nothing, an only source', () => {
  const patch = wholePatch();
  patch.layers[0].sources[1].on = false;
  patch.layers[0].routes[0].amount = 0;
  patch.effects[0].on = false;
  const ids = idsOf(patch);
  for (const id of ['source-1', 'source-2', 'lfo-1', 'lfo-2', 'delay-1']) expect(ids).not.toContain(id);
});

describe('Without each part', () => {
  it.each(partsOf(wholePatch()).map((part) => [part.title, part] as const))('%s: the patch plays', (_, part) => {
    const rest = takeOut(wholePatch(), part);
    expect(parsePatch(JSON.parse(JSON.stringify(rest)))).toEqual(rest);
    expect(idsOf(rest)).not.toContain(part.moduleId);
  });

  it('nothing else is changed', () => {
    const patch = wholePatch();
    const part = partsOf(patch).find(({ moduleId }) => moduleId === 'chorus-1')!;
    const rest = takeOut(patch, part);
    expect({ ...rest.layers[0], effects: patch.layers[0].effects }).toEqual(patch.layers[0]);
    expect(patch.layers[0].effects).toHaveLength(1);
  });
});

it('takes the routes of a source with it, and leaves those of others', () => {
  const patch = wholePatch();
  patch.layers[0].routes.push(route('lfo-2', 'source-2', 'semitones', 2));
  const part = partsOf(patch).find(({ moduleId }) => moduleId === 'source-1')!;
  const [layer] = takeOut(patch, part).layers;
  expect(layer.routes.map(({ to }) => to.moduleId)).toEqual(['source-2']);
});

it('switches filters off, which every layer has', () => {
  const patch = wholePatch();
  const [{ id }] = patch.layers[0].filters;
  const [layer] = takeOut(patch, { title: '', layerId: patch.layers[0].id, moduleId: id }).layers;
  expect(layer.filters.map(({ on }) => on)).toEqual([false, false]);
});

it('takes out a whole layer where there are several', () => {
  const [patch] = addLayer(wholePatch());
  const whole = partsOf(patch).filter(({ moduleId, layerId }) => moduleId === null && layerId !== null);
  expect(whole).toHaveLength(2);
  expect(takeOut(patch, whole[1]).layers.map(({ id }) => id)).toEqual([wholePatch().layers[0].id]);
  expect(partsOf(emptyPatch()).some(({ moduleId }) => moduleId === null)).toBe(false);
});
