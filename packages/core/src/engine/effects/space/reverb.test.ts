import { CHAIN_RATE_HZ, chainOf, click, effect, responseDb } from '../../../../test/chains';
import { createRandom } from '../../../../test/signals';
import { fftOfSize } from '../../../dsp/fft';
import { firstReflectionSeconds, heldGainDb } from './reverb';

const peaksOf = (signal: Float64Array, over: number) =>
  [...signal.keys()].filter((i) => Math.abs(signal[i]) > over).map((i) => [i, signal[i]] as const);

describe('The reverb', () => {
  /** RT60 from −5 to −35 dB of the backward integral (Schroeder 1965; ISO 3382-1, T30). */
  function rt60Of(response: Float64Array): number {
    const left = response.slice();
    for (let i = left.length - 1, sum = 0; i >= 0; i--) left[i] = sum += response[i] ** 2;
    const timeAt = (db: number) => left.findIndex((x) => 10 * Math.log10(x / left[0]) < db) / CHAIN_RATE_HZ;
    return 2 * (timeAt(-35) - timeAt(-5));
  }

  it.each([
    [0.4, 60],
    [1.2, 100],
    [3, 100],
    [6, 180],
  ])('RT60 of %d s at size %d: within 10 %%', (rt60Seconds, size) => {
    const fields = { rt60Seconds, size, damping: 0, lowCutHz: 10, highCutHz: 20000 };
    const [left] = chainOf(effect('reverb', fields)).run(click(1.3 * rt60Seconds));
    expect(Math.abs(rt60Of(left) / rt60Seconds - 1)).toBeLessThan(0.1);
  });

  it('is dense: echoes as in noise within a tenth of a second (Abel & Huang 2006)', () => {
    const [left] = chainOf(effect('reverb', { damping: 0 })).run(click(1));
    // Share of samples outside the standard deviation of 20 ms, against that of Gaussian noise.
    const densityAt = (seconds: number) => {
      const from = Math.round(seconds * CHAIN_RATE_HZ);
      const part = left.subarray(from, from + 960);
      const deviation = Math.sqrt(part.reduce((a, x) => a + x * x, 0) / part.length);
      return part.filter((x) => Math.abs(x) > deviation).length / part.length / 0.3173;
    };
    expect(densityAt(0.1)).toBeGreaterThan(0.8);
    expect(densityAt(0.3)).toBeGreaterThan(0.9);
  });

  it('has no metallic modes: no line of its tail stands out as none of noise would', () => {
    const [left] = chainOf(effect('reverb', { rt60Seconds: 3, damping: 0 })).run(click(1.5));
    const size = 32768;
    const re = left.slice(24000, 24000 + size);
    const im = new Float64Array(size);
    fftOfSize(size).forward(re, im);
    const power = re.map((x, k) => x * x + im[k] * im[k]).subarray(200, size / 4);
    for (let k = 0; k + 512 <= power.length; k += 512) {
      const band = power.subarray(k, k + 512);
      const mean = band.reduce((a, x) => a + x, 0) / band.length;
      // Of 512 lines of noise, whose powers are exponential, one in ten thousand bands has a line over 12 dB.
      expect(10 * Math.log10(Math.max(...band) / mean)).toBeLessThan(14);
    }
  });

  it.each([0.3, 0.8, 2, 4])(
    'a sound that is held for longer than its %d s comes out as loud as it says',
    (rt60Seconds) => {
      const random = createRandom(7);
      const noise = Float64Array.from({ length: Math.round((rt60Seconds + 1) * CHAIN_RATE_HZ) }, () => random() - 0.5);
      const power = (signal: Float64Array) =>
        signal.subarray(Math.round(rt60Seconds * CHAIN_RATE_HZ)).reduce((sum, x) => sum + x * x, 0);
      const [left, right] = chainOf(effect('reverb', { rt60Seconds })).run(noise, noise);
      const gainDb = 10 * Math.log10((power(left) + power(right)) / 2 / power(noise));
      expect(Math.abs(gainDb - heldGainDb({ rt60Seconds }))).toBeLessThan(1);
    },
  );

  it.each([
    [0, 100],
    [0, 10],
    [0.03, 200],
    [0.3, 60],
  ])('first sounds after its pre-delay, %d s, and what its size, %d %%, adds: as it says', (preDelaySeconds, size) => {
    const fields = { preDelaySeconds, size, lowCutHz: 10, highCutHz: 20000 };
    const [left, right] = chainOf(effect('reverb', fields)).run(click(0.5));
    const said = firstReflectionSeconds({ preDelaySeconds, size });
    expect(said - preDelaySeconds).toBeLessThan(0.0041);
    for (const side of [left, right]) {
      const first = side.findIndex((x) => Math.abs(x) > 1e-3) / CHAIN_RATE_HZ;
      expect(Math.abs(first - said)).toBeLessThan(0.0002);
    }
  });

  it.each([50, 100, 200])('dies away in one line from the first reflection on, at size %d', (size) => {
    const rt60Seconds = 2;
    const fields = { rt60Seconds, size, damping: 0, preDelaySeconds: 0, lowCutHz: 10, highCutHz: 20000 };
    const [left] = chainOf(effect('reverb', fields)).run(click(1));
    const step = 0.025 * (size / 100);
    const levels = Array.from({ length: 8 }, (_, k) => {
      const part = left.subarray(Math.round(k * step * CHAIN_RATE_HZ), Math.round((k + 1) * step * CHAIN_RATE_HZ));
      return 10 * Math.log10(part.reduce((sum, x) => sum + x * x, 0)) + (60 * k * step) / rt60Seconds;
    });
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(6);
  });

  it('begins after its pre-delay, with different sides', () => {
    const [left, right] = chainOf(effect('reverb', { preDelaySeconds: 0.05, size: 100 })).run(click(0.5));
    expect(peaksOf(left, 1e-5)[0][0]).toBeGreaterThan(0.05 * CHAIN_RATE_HZ);
    const dot = left.reduce((a, x, i) => a + x * right[i], 0);
    const power = (x: Float64Array) => x.reduce((a, y) => a + y * y, 0);
    expect(Math.abs(dot / Math.sqrt(power(left) * power(right)))).toBeLessThan(0.3);
  });

  it('its highs die away first when it is damped', () => {
    const [left] = chainOf(effect('reverb', { rt60Seconds: 2, damping: 60, highCutHz: 20000 })).run(click(1.2));
    const [early, late] = [left.slice(4800, 14400), left.slice(43200, 52800)];
    expect(responseMean(early, 8000) - responseMean(late, 8000)).toBeGreaterThan(
      responseMean(early, 300) - responseMean(late, 300) + 6,
    );
  });

  const responseMean = (part: Float64Array, hz: number) =>
    10 *
    Math.log10(
      Array.from({ length: 40 }, (_, i) => 10 ** (responseDb(part, hz * (0.8 + i / 100)) / 10)).reduce(
        (a, b) => a + b,
      ) / 40,
    );
});
