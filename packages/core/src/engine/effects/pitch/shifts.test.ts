import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, sineOf } from '../../../../test/chains';
import { amplitudeAt, decibels, harmonicTone } from '../../../../test/signals';
import { powerSpectrum } from '../../../../test/spectrum';
import { steadinessOf } from '../../../../test/steadyTone';

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
  it.each([
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
    for (const n of [1, 2, 3, 5, 8]) expect(levelAt(out, 55 * n) - levelAt(saw, 110 * n)).toBeCloseTo(0, 0);
    for (const hz of [35, 82.5, 103.5, 120, 137.5]) expect(levelAt(out, hz)).toBeLessThan(levelAt(out, 55) - 50);
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
