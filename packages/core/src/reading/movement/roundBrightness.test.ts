import { driven, level, mixed, noise, saw, shaped, square, tone, twoPole, voicesOf } from '../../../test/made/parts';
import { some } from '../../../test/thorough';
import { createRandom } from '../../../test/signals';
import { readTone } from '../read';
import { findRoundBrightness } from './roundBrightness';

const RATE_HZ = 44100;
const SECONDS = 2.2;

/** A bass through a filter that goes round, and through a soft curve behind it. */
function wobble(hz: number, rateHz: number, octaves: number, gain: number) {
  const source = mixed(
    tone({ seconds: SECONDS, hz }),
    shaped(tone({ seconds: SECONDS, hz, amplitude: square }), () => 0.8),
  );
  const around = (t: number) => 600 * 2 ** (-0.5 * octaves * Math.cos(2 * Math.PI * rateHz * t));
  const bent = driven(twoPole(source, 'low', around, 2), (x) => Math.tanh(gain * x));
  return shaped(bent, level({ off: 2 }));
}

const roundOf = (mono: Float64Array, f0Hz: number) =>
  findRoundBrightness({ mono, sampleRateHz: RATE_HZ, f0Hz }, 0.05, 1.95);

describe('A brightness that goes round', () => {
  some(1).it.each([
    [43.7, 4.6, 3, 1.5],
    [55, 2.3, 2, 3],
    [98, 3.1, 2.5, 0.1],
    [65.4, 6.5, 2, 2],
  ])(
    'at %d Hz, %d times a second over %d octaves, pushed by %d: rate within 0.5 %%, and where it begins',
    (hz, rate, octaves, gain) => {
      const found = roundOf(wobble(hz, rate, octaves, gain), hz)!;
      expect(Math.abs(found.rateHz / rate - 1)).toBeLessThan(0.005);
      // It is lowest at the start.
      expect(Math.abs(found.startCycles + 0.25)).toBeLessThan(0.03);
      expect(found.shape).toBe('sine');
    },
  );

  some(2).it.each<[string, () => Float64Array]>([
    [
      'a tone that falls',
      () => twoPole(tone({ seconds: SECONDS, hz: 82 }), 'low', (t) => 300 + 3000 * Math.exp(-3 * t), 1),
    ],
    ['voices that beat', () => voicesOf({ seconds: SECONDS, hz: 82, amplitude: saw }, [-9, 9], createRandom(4))],
    ['noise', () => noise(SECONDS, createRandom(6))],
    ['a saw that stays', () => tone({ seconds: SECONDS, hz: 82 })],
  ])('is none of %s', (_, make) => {
    expect(roundOf(make(), 82)).toBeUndefined();
  });

  some(1).it.each([
    [43.7, 4.6],
    [51.9, 3.1],
    [65.4, 3],
  ])(
    'behind a curve is a filter that goes round: no vibrato, no voices and no chorus (%d Hz, %d a second)',
    (hz, rate) => {
      const { motion, unison, pitch } = readTone({
        channels: [Float32Array.from(wobble(hz, rate, 3, 1.5))],
        sampleRateHz: RATE_HZ,
      }).traits;
      expect(motion.map(({ of, cause }) => [of, cause])).toEqual([['brightness', 'filter']]);
      expect(Math.abs(motion[0].rateHz / rate - 1)).toBeLessThan(0.01);
      expect(pitch.vibrato).toBeNull();
      expect(unison.detuneCents).toBeNull();
    },
  );
});
