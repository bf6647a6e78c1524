import { PitchDetector } from 'pitchy';
import { pitchCases } from '../../../test/pitchCases';
import { harmonicTone, saw } from '../../../test/signals';
import { centsBetween } from '../../dsp/pitch';
import { findFundamental } from './fundamental';
import { trackPitch } from './pitchTrack';
import { median } from '../statistics';

const RATE = 44100;

function fundamentalOf(signal: Float32Array, rate = RATE) {
  const mono = Float64Array.from(signal);
  return findFundamental(mono, rate, trackPitch(mono, rate));
}

describe('Fundamental of 48 tones from E1 to C7 (YIN: de Cheveigné & Kawahara 2002; phases: Rife & Boorstyn 1974)', () => {
  const errors = pitchCases.map(({ tone }) =>
    Math.abs(centsBetween(tone.f0Hz, fundamentalOf(harmonicTone(tone))?.f0Hz ?? 1)),
  );

  it('is within a cent in the median, and never 5 cents off', () => {
    expect(median(errors)).toBeLessThan(1);
    expect(Math.max(...errors)).toBeLessThan(5);
  });

  it('is never worse than the library pitchy in the median', () => {
    const judged = pitchCases.map(({ tone }) => {
      const signal = harmonicTone(tone);
      const [hz] = PitchDetector.forFloat32Array(4096).findPitch(signal.subarray(8000, 12096), RATE);
      return Math.abs(centsBetween(tone.f0Hz, hz || 1));
    });
    expect(median(errors)).toBeLessThanOrEqual(median(judged));
  });
});

it('finds a fundamental that is not there at all', () => {
  const tone = harmonicTone({ f0Hz: 98, amplitude: (n) => (n < 3 ? 0 : 1 / n) });
  expect(fundamentalOf(tone)!.f0Hz).toBeCloseTo(98, 1);
});

it('is not misled when the even partials are far louder than the odd ones', () => {
  const tone = harmonicTone({ f0Hz: 110, amplitude: (n) => (n % 2 ? 0.04 : 1) / n });
  expect(fundamentalOf(tone)!.f0Hz).toBeCloseTo(110, 1);
});

it('is not misled by another note that still sounds 30 dB under it', () => {
  const tone = harmonicTone({ f0Hz: 392, amplitude: saw });
  const other = harmonicTone({ f0Hz: 349.2, amplitude: saw });
  expect(fundamentalOf(tone.map((x, i) => x + other[i] / 31.6))!.f0Hz).toBeCloseTo(392, 0);
});

it.each([8000, 48000, 96000])('works at %i Hz', (sampleRateHz) => {
  expect(fundamentalOf(harmonicTone({ f0Hz: 220.5, amplitude: saw, sampleRateHz }), sampleRateHz)!.f0Hz).toBeCloseTo(
    220.5,
    1,
  );
});

it('finds none in noise or silence', () => {
  const noise = harmonicTone({ f0Hz: 100, amplitude: saw, noiseDb: 40 });
  expect(fundamentalOf(noise)?.confidence ?? 0).toBeLessThan(0.5);
  expect(fundamentalOf(new Float32Array(RATE))).toBeUndefined();
});
