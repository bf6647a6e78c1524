import { emptyPatch } from './defaults';
import { parsePatch } from './parse';
import type { Patch } from './schema';
import { wavetableFromSamples } from './contents/wavetableFrames';

const broken = (change: (patch: Patch) => void) => {
  const patch = emptyPatch();
  change(patch);
  return patch;
};

describe('Parsing a patch', () => {
  it('takes a good one as it is', () => expect(parsePatch(emptyPatch())).toEqual(emptyPatch()));

  it.each([
    ['something else', { hello: 1 }, 'not an Imprint patch'],
    ['nothing', null, 'not an Imprint patch'],
    ['a later version', { ...emptyPatch(), version: 99 }, 'version 99'],
    [
      'a value out of range',
      broken(({ layers: [{ filters }] }) => Object.assign(filters[0], { cutoffHz: 5 })),
      'layers.0.filters.0.cutoffHz',
    ],
    ['a route from nowhere', broken(({ layers: [{ routes }] }) => (routes[0].from = 'x')), 'comes from "x"'],
    ['a route to nowhere', broken(({ layers: [{ routes }] }) => (routes[0].to.moduleId = 'x')), 'goes to "x"'],
    [
      'a route to what does not move',
      broken(({ layers: [{ routes }] }) => (routes[0].to.parameter = 'keyTracking')),
      'nothing that moves',
    ],
    [
      'a wavetable of the wrong size',
      broken(
        (patch) => (patch.wavetables = [{ ...wavetableFromSamples('t', 'T', new Float32Array(2048)), frameCount: 2 }]),
      ),
      '2 frames of 2048 floats are 16384',
    ],
    [
      'a wavetable with a hole',
      broken((patch) => (patch.wavetables = [wavetableFromSamples('t', 'T', new Float32Array(2048).fill(NaN))])),
      'no number',
    ],
  ])('says what is wrong with %s', (_name, json, message) => {
    expect(() => parsePatch(json)).toThrow(message);
  });
});
