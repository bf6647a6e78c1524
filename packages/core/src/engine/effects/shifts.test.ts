import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, sineOf } from '../../../test/chains';
import { amplitudeAt, decibels } from '../../../test/signals';
import { powerSpectrum } from '../../../test/spectrum';

/** Level of a partial once everything has settled, dB. */
const levelAt = (signal: Float64Array, hz: number) =>
  decibels(amplitudeAt(Float32Array.from(signal.subarray(CHAIN_RATE_HZ / 2)), CHAIN_RATE_HZ, hz));

/** Frequency of the strongest line. */
function strongestHz(signal: Float64Array): number {
  const power = powerSpectrum(signal);
  const top = power.reduce((best, p, k) => (p > power[best] ? k : best), 1);
  return (top * CHAIN_RATE_HZ) / (2 * power.length);
}

describe('The frequency shifter', () => {
  it.each([60, 200, 1000, 5000, 12000, 20000])(
    'moves %d Hz by 37 and leaves over 60 dB less on the other side',
    (hz) => {
      const [out] = chainOf(effect('frequencyShifter', { shiftHz: 37 })).run(sineOf(hz, 1.5));
      expect(levelAt(out, hz + 37)).toBeCloseTo(decibels(0.5), 1);
      expect(levelAt(out, hz - 37)).toBeLessThan(decibels(0.5) - 60);
    },
  );

  it('moves the right side the other way, when told to', () => {
    const [left, right] = chainOf(effect('frequencyShifter', { shiftHz: -100, opposite: true })).run(sineOf(800, 1.5));
    expect(levelAt(left, 700)).toBeCloseTo(decibels(0.5), 1);
    expect(levelAt(right, 900)).toBeCloseTo(decibels(0.5), 1);
  });
});

describe('The ring modulator', () => {
  it('makes two partials of one, each half as loud (product of two sines)', () => {
    const [out] = chainOf(effect('ringModulator', { tuning: 'fixed', toneHz: 130 })).run(sineOf(900, 1.5));
    expect(levelAt(out, 770)).toBeCloseTo(decibels(0.25), 1);
    expect(levelAt(out, 1030)).toBeCloseTo(decibels(0.25), 1);
    expect(levelAt(out, 900)).toBeLessThan(-80);
  });

  it('follows the note', () => {
    const around = { noteHz: 220, layer: () => undefined };
    const [out] = chainWithin(around, effect('ringModulator', { ratio: 2 })).run(sineOf(1000, 1.5));
    expect(levelAt(out, 560)).toBeCloseTo(decibels(0.25), 1);
  });
});

describe('The pitch shifter', () => {
  it.each([-12, -5, 7, 12])('moves a tone by %d semitones', (semitones) => {
    const [out] = chainOf(effect('pitchShifter', { semitones })).run(sineOf(440, 1.5));
    const cents = 1200 * Math.log2(strongestHz(out) / 440) - 100 * semitones;
    // Its window turns 1/0.06 s apart beside the line.
    expect(Math.abs(cents)).toBeLessThan(35);
  });

  it('at no shift is a delay', () => {
    const [out] = chainOf(effect('pitchShifter', { semitones: 0, apartCents: 0 })).run(sineOf(440, 1.5));
    expect(levelAt(out, 440)).toBeCloseTo(decibels(0.5), 1);
  });
});

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
