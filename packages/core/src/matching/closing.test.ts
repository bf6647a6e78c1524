import { plainPatch } from '../../test/patches';
import { closingOf } from './closing';

const patch = plainPatch('saw', { unisonVoices: 3 });
const [layer] = patch.layers;
layer.filters[0].on = true;

it.each([
  ['loudness', layer.amp.id, 'level'],
  ['brightness', layer.filters[0].id, 'filter'],
  ['unison', layer.sources[0].id, 'sources'],
] as const)('a gap of %s leads to %s, and to its stage', (trait, moduleId, stage) => {
  expect(closingOf(patch, trait)).toEqual({ moduleId, stages: expect.arrayContaining([stage]) as unknown });
});

it('leads to what only the hand can turn', () => {
  expect(closingOf(patch, 'pitch')).toEqual({ moduleId: layer.sources[0].id, stages: [] });
});

it('says so where the patch has nothing that moves a trait', () => {
  expect(closingOf(patch, 'space')).toBeNull();
});
