import { createRandom } from '../../../../test/signals';
import { CHAIN_RATE_HZ, chainOf, effect, sineOf } from '../../../../test/chains';
import { resample } from '../../../dsp/sinc';

const decibels = (x: number) => 20 * Math.log10(Math.abs(x));

describe('The limiter', () => {
  /**
   * Highest peak between the samples, by an interpolation of its own, four times as fine (ITU-R BS.1770,
   * annex 2).
   */
  const truePeakDb = (signal: Float64Array) =>
    decibels(
      resample(signal, 4)
        .subarray(800, 4 * signal.length - 800)
        .reduce((a, x) => Math.max(a, Math.abs(x)), 0),
    );

  const random = createRandom(3);
  let low = 0;
  const bursts = new Float64Array(2 * CHAIN_RATE_HZ).map((_, i) => {
    low += 0.3 * (random() - 0.5 - low);
    return (i % 9000 < 4000 ? 6 : 0.2) * low;
  });

  it.each<[string, Float64Array]>([
    [
      'a sine at a quarter of the rate, whose samples miss its peaks',
      new Float64Array(CHAIN_RATE_HZ).map((_, i) => 1.4 * Math.sin((Math.PI / 2) * i + Math.PI / 4)),
    ],
    ['bursts of noise', bursts],
    ['a loud low sine', sineOf(60, 1, 4)],
    ['a tone that begins at once', sineOf(997, 0.5, 8)],
  ])('%s stays under the ceiling by its true peaks, within 0.1 dB', (_, signal) => {
    for (const ceilingDb of [-1, -6]) {
      const [out] = chainOf(effect('limiter', { ceilingDb, releaseSeconds: 0.05 })).run(signal);
      expect(truePeakDb(out)).toBeLessThan(ceilingDb + 0.1);
      expect(truePeakDb(out)).toBeGreaterThan(ceilingDb - 1);
    }
  });

  it('only delays what is under the ceiling', () => {
    const signal = sineOf(440, 0.2, 0.5);
    const { chain, run } = chainOf(effect('limiter'));
    const [out] = run(signal);
    expect(out.subarray(chain.latency)).toEqual(signal.subarray(0, signal.length - chain.latency));
  });
});
