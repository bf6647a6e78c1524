import { CHAIN_RATE_HZ, chainOf, effect, sineOf } from '../../../../test/chains';
import { powerSpectrum } from '../../../../test/spectrum';

/** Frequency of the strongest line. */
function strongestHz(signal: Float64Array): number {
  const power = powerSpectrum(signal);
  const top = power.reduce((best, p, k) => (p > power[best] ? k : best), 1);
  return (top * CHAIN_RATE_HZ) / (2 * power.length);
}

describe('The grain delay', () => {
  it('plays what was, at its time and pitch', () => {
    const burst = sineOf(500, 2);
    burst.fill(0, CHAIN_RATE_HZ / 4);
    const fields = { timeSeconds: 0.5, spraySeconds: 0, sizeSeconds: 0.05, semitones: 12, width: 0 };
    const [out] = chainOf(effect('grainDelay', fields)).run(burst);
    const power = (from: number, to: number) =>
      out.subarray(from * CHAIN_RATE_HZ, to * CHAIN_RATE_HZ).reduce((sum, x) => sum + x * x, 0);
    const whole = power(0, 2);
    // Grains that read twice as fast begin their length earlier.
    expect(power(0.44, 0.8) / whole).toBeGreaterThan(0.98);
    const heard = new Float64Array(40000);
    heard.set(out.subarray(0.5 * CHAIN_RATE_HZ, 0.72 * CHAIN_RATE_HZ), 4000);
    expect(Math.abs(strongestHz(heard) - 1000)).toBeLessThan(30);
  });
});
