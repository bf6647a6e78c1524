import { plainPatch } from '../../../test/patches';
import { heldLocks, isLocked, turnLock } from './locks';
import { parsePatch } from '../parse';

const patch = plainPatch('saw');
const [layer] = patch.layers;
const filter = { layerId: layer.id, moduleId: layer.filters[0].id };
const cutoff = { ...filter, parameter: 'cutoffHz' };

it('a locked module holds all of its numbers, a locked number only itself', () => {
  const one = turnLock(patch, cutoff);
  expect(isLocked(one, cutoff)).toBe(true);
  expect(isLocked(one, { ...filter, parameter: 'resonanceDb' })).toBe(false);
  expect(isLocked(one, filter)).toBe(false);
  const all = turnLock(one, filter);
  expect(all.locks).toHaveLength(1);
  expect(isLocked(all, { ...filter, parameter: 'resonanceDb' })).toBe(true);
  expect(turnLock(turnLock(patch, filter), filter).locks).toEqual([]);
});

it('is told in words, and as a search takes it; what is gone is not', () => {
  const locked = [
    filter,
    { layerId: layer.id, moduleId: 'gone' },
    { layerId: layer.id, moduleId: layer.amp.id, parameter: 'attackSeconds' },
  ].reduce(turnLock, patch);
  expect(heldLocks(locked)).toEqual([
    { lock: layer.filters[0].id, title: 'Low-pass' },
    { lock: `${layer.amp.id}.attackSeconds`, title: 'Amp contour, attack' },
  ]);
});

it('is kept with the patch, and older patches have none', () => {
  const { locks: _none, ...older } = turnLock(patch, filter);
  expect(parsePatch(JSON.parse(JSON.stringify(turnLock(patch, filter)))).locks).toHaveLength(1);
  expect(parsePatch(JSON.parse(JSON.stringify(older))).locks).toEqual([]);
});
