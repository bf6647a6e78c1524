import { filterBiquad, highpassBiquad, lowpassBiquad } from './biquad';

const RATE_HZ = 48000;
const CUTOFF_HZ = 1000;

/** Gain for a sine once it has settled, dB. */
function gainDb(coefficients: ReturnType<typeof lowpassBiquad>, hz: number): number {
  const sine = Float64Array.from({ length: RATE_HZ }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE_HZ));
  const power = (signal: Float64Array) => signal.subarray(RATE_HZ / 2).reduce((sum, x) => sum + x * x, 0);
  return 10 * Math.log10(power(filterBiquad(sine, coefficients)) / power(sine));
}

/** Butterworth's magnitude of the second order at a frequency that the bilinear transform moves. */
function butterworthDb(hz: number, order: 1 | -1): number {
  const ratio = Math.tan((Math.PI * hz) / RATE_HZ) / Math.tan((Math.PI * CUTOFF_HZ) / RATE_HZ);
  return -10 * Math.log10(1 + ratio ** (4 * order));
}

describe.each([
  ['A low-pass', lowpassBiquad, 1],
  ['A high-pass', highpassBiquad, -1],
] as const)('%s', (_name, make, order) => {
  it.each([100, 500, 1000, 2000, 9000])('has the gain of Butterworth’s at %d Hz (Butterworth 1930)', (hz) => {
    expect(gainDb(make(CUTOFF_HZ, Math.SQRT1_2, RATE_HZ), hz)).toBeCloseTo(butterworthDb(hz, order), 2);
  });
});
