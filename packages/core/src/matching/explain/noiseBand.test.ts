import { createRandom } from '../../../test/signals';
import { measurePartials } from '../../reading/partials/partialFrames';
import { noiseBand } from './noiseBand';

const F0_HZ = 740;

/** A sine in white noise, which is all of the band that a rate holds. */
function bandAt(sampleRateHz: number) {
  const random = createRandom(3);
  const hiss = Float64Array.from(
    { length: 1.2 * sampleRateHz },
    (_, i) => 0.5 * Math.sin((2 * Math.PI * F0_HZ * i) / sampleRateHz) + 0.1 * (random() - 0.5),
  );
  const frames = measurePartials(hiss, sampleRateHz, () => F0_HZ, 0.02)!;
  return noiseBand(frames, 0.1, 1.1)!;
}

it.each([44100, 96000, 192000])('ends where hearing does, also at a rate of %d Hz', (sampleRateHz) => {
  const { lowHz, highHz } = bandAt(sampleRateHz);
  expect(lowHz).toBe(20);
  expect(highHz).toBeLessThanOrEqual(20000);
  expect(highHz).toBeGreaterThan(15000);
});

it('is told of noise over all of it no higher than hearing goes', () => {
  const sampleRateHz = 96000;
  const seconds = Float64Array.from({ length: 10 }, (_, i) => 0.1 * i);
  const count = 60;
  // Only what is over 20 kHz has any power.
  const between = Float64Array.from({ length: 10 * count }, (_, i) => ((i % count) * F0_HZ > 24000 ? 1 : 1e-9));
  const frames = {
    ...measurePartials(new Float64Array(sampleRateHz), sampleRateHz, () => F0_HZ, 0.1)!,
    seconds,
    between,
    count,
  };
  expect(noiseBand(frames, 0, 1)!.lowHz).toBeLessThanOrEqual(20000);
});
