import { createRandom } from '../../../test/signals';
import { framesOf, wavetableFromSamples } from './wavetableFrames';

it.each([1, 2, 3, 5])('%i frames come back as they went', (count) => {
  const random = createRandom(count);
  const samples = Float32Array.from({ length: count * 2048 }, () => 2 * random() - 1);
  expect(framesOf(wavetableFromSamples('t', 'Table', samples))).toEqual(samples);
});

it('writes base64 as the platform’s own does (RFC 4648)', () => {
  const samples = Float32Array.from({ length: 2048 }, (_, i) => Math.sin(i));
  const { framesBase64 } = wavetableFromSamples('t', 'Table', samples);
  expect(framesBase64).toBe(Buffer.from(samples.buffer).toString('base64'));
});
