import { cutoffAt, filterCases, filterSound } from '../../../test/filterCases';
import { filterBiquad } from '../../dsp/biquad';
import { lowpassAttenuationDb, trackFilter } from './filterTrack';
import { measurePartials } from '../partials/partialFrames';
import { quantile } from '../statistics';
import { some } from '../../../test/thorough';

const RATE_HZ = 44100;

describe('The response of the explaining low-pass', () => {
  // The low-pass of R. Bristow-Johnson's Audio EQ Cookbook, measured by running it far under the sampling
  // rate.
  it.each([0, 6, 18])('is that of the Cookbook with %d dB of resonance', (resonanceDb) => {
    const q = Math.SQRT1_2 * 10 ** (resonanceDb / 20);
    const [rate, cutoff] = [192000, 500];
    const w = (2 * Math.PI * cutoff) / rate;
    const alpha = Math.sin(w) / 2 / q;
    const a0 = 1 + alpha;
    const b = (1 - Math.cos(w)) / 2 / a0;
    const coefficients = { b0: b, b1: 2 * b, b2: b, a1: (-2 * Math.cos(w)) / a0, a2: (1 - alpha) / a0 };
    for (const ratio of [0.3, 0.9, 1, 1.4, 4]) {
      const input = Float64Array.from({ length: 96000 }, (_, i) => Math.sin(ratio * w * i));
      const output = filterBiquad(input, coefficients).subarray(48000);
      const gainDb = 10 * Math.log10(output.reduce((sum, x) => sum + x * x, 0) / 24000);
      expect(gainDb).toBeCloseTo(-lowpassAttenuationDb(12, ratio, resonanceDb), 1);
    }
  });

  it.each([12, 24] as const)('falls by %d dB an octave', (slope) => {
    expect(lowpassAttenuationDb(slope, 64) - lowpassAttenuationDb(slope, 32)).toBeCloseTo(slope, 0);
    expect(lowpassAttenuationDb(slope, 1)).toBeCloseTo(3.01, 2);
    expect(lowpassAttenuationDb(slope, 1, 9)).toBeCloseTo(3.01 - 9, 2);
  });
});

describe('The filter that explains a tone', () => {
  some(5).it.each(filterCases)('$name: slope, resonance within 2 dB, cutoff within a sixth of an octave', (row) => {
    const frames = measurePartials(filterSound(row), RATE_HZ, () => row.f0Hz, Math.max(0.008, 0.75 / row.f0Hz));
    const found = trackFilter(frames, row.f0Hz, RATE_HZ);
    expect(found.slopeDbPerOctave).toBe(row.slope);
    expect(Math.abs(found.resonanceDb - row.resonanceDb)).toBeLessThan(2);
    const wanted = cutoffAt(row);
    const errors = [...found.seconds.keys()]
      .filter((i) => found.seconds[i] > 0.05 && found.seconds[i] < 1.9 && Number.isFinite(found.cutoffHz[i]))
      .map((i) => Math.abs(Math.log2(found.cutoffHz[i] / wanted(found.seconds[i]))));
    expect(quantile(errors, 0.9)).toBeLessThan(1 / 6);
    if (row.highpassHz === undefined) expect(found.highpass).toBeUndefined();
    else expect(Math.abs(Math.log2(found.highpass!.cutoffHz / row.highpassHz))).toBeLessThan(1 / 6);
  });
});
