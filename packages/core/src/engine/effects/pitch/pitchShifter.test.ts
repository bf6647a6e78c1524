import { CHAIN_RATE_HZ, chainOf, effect, settledDb, sineOf } from '../../../../test/chains';
import { decibels, harmonicTone } from '../../../../test/signals';
import { steadinessOf } from '../../../../test/steadyTone';
import { some } from '../../../../test/thorough';

describe('The pitch shifter', () => {
  some(2).it.each([
    [-24, 0.06],
    [-12, 0.01],
    [-7, 0.06],
    [-0.3, 0.02],
    [5, 0.2],
    [12, 0.01],
    [24, 0.06],
  ])(
    'moves tones of 40 Hz to 5 kHz by %d semitones with a window of %d s: in tune and even',
    (semitones, windowSeconds) => {
      for (const hz of [40, 73.4, 110, 451, 1900, 5000]) {
        const fields = { semitones, windowSeconds, apartCents: 0 };
        const [out] = chainOf(effect('pitchShifter', fields)).run(sineOf(hz, 2));
        const { cents, swingDb } = steadinessOf(out, CHAIN_RATE_HZ, hz * 2 ** (semitones / 12), 0.6);
        expect(Math.abs(cents)).toBeLessThan(1);
        expect(swingDb).toBeLessThan(2);
      }
    },
  );

  it('leaves nothing of a saw but its partials, an octave down', () => {
    const saw = Float64Array.from(
      harmonicTone({ f0Hz: 110, sampleRateHz: CHAIN_RATE_HZ, seconds: 2, amplitude: (n) => 1 / n }),
    );
    const [out] = chainOf(effect('pitchShifter', { semitones: -12 })).run(saw);
    for (const n of [1, 2, 3, 5, 8]) expect(settledDb(out, 55 * n) - settledDb(saw, 110 * n)).toBeCloseTo(0, 0);
    for (const hz of [35, 82.5, 103.5, 120, 137.5]) expect(settledDb(out, hz)).toBeLessThan(settledDb(out, 55) - 50);
  });

  it('takes away what would fold back: nothing is heard of 11 kHz two octaves up', () => {
    const [out] = chainOf(effect('pitchShifter', { semitones: 24 })).run(sineOf(11000, 1));
    expect(decibels(Math.sqrt(out.subarray(24000).reduce((sum, x) => sum + x * x, 0) / 24000))).toBeLessThan(-50);
  });

  it('keeps both sides where they stand', () => {
    const left = sineOf(220, 1.5);
    const right = left.map((x) => -0.3 * x);
    const [outL, outR] = chainOf(effect('pitchShifter', { semitones: 7, apartCents: 0 })).run(left, right);
    for (let i = 48000; i < outL.length; i += 97) expect(outR[i]).toBeCloseTo(-0.3 * outL[i], 6);
  });

  it('at no shift is a delay', () => {
    const [out] = chainOf(effect('pitchShifter', { semitones: 0, apartCents: 0 })).run(sineOf(440, 1.5));
    expect(settledDb(out, 440)).toBeCloseTo(decibels(0.5), 1);
  });
});
