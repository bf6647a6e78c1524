import { createRandom, harmonicTone, saw, square } from '../../../test/signals';
import { blurOf } from './blur';
import { hear } from './hear';
import { logSpectrum, pitchShift } from './shift';

const RATE_HZ = 22050;

function spectrumOf(f0Hz: number, amplitude: (n: number) => number, detuneCents = 0): Float64Array {
  const voice = (cents: number) =>
    harmonicTone({ f0Hz: f0Hz * 2 ** (cents / 1200), sampleRateHz: RATE_HZ, seconds: 1, amplitude });
  const [a, b] = [voice(-detuneCents / 2), voice(detuneCents / 2)];
  const channel = Float32Array.from(a, (x, i) => 0.1 * (x + b[i]));
  const { scales } = hear({ channels: [channel], sampleRateHz: RATE_HZ });
  return logSpectrum(scales[scales.length - 1]);
}

describe.each([
  ['saw', saw, 110],
  ['square', square, 82.4],
  ['saw', saw, 392],
] as const)('Of a %s', (_, amplitude, f0Hz) => {
  const reference = spectrumOf(f0Hz, amplitude);

  it.each([-180, -45, -12, 12, 45, 180])(`at ${f0Hz} Hz a shift of %d cents is told within 3`, (cents) => {
    const shifted = spectrumOf(f0Hz * 2 ** (cents / 1200), amplitude);
    expect(Math.abs(100 * pitchShift(reference, shifted) - cents)).toBeLessThan(3);
  });

  it('nothing is out of tune with itself', () => {
    expect(pitchShift(reference, reference)).toBeCloseTo(0, 9);
  });
});

it('does not take another spectrum for another pitch', () => {
  const a = spectrumOf(110, saw);
  const b = spectrumOf(110, (n) => (n % 2 ? 1 / n ** 2 : 0.2 / n));
  expect(Math.abs(pitchShift(a, b))).toBeLessThan(0.05);
});

it.each([1, 2, 3])('takes no run of noise to be out of tune with another: %d', (seed) => {
  const noise = (own: number) => {
    const random = createRandom(own);
    const channel = Float32Array.from({ length: RATE_HZ }, () => 0.2 * (random() - 0.5));
    const { scales } = hear({ channels: [channel], sampleRateHz: RATE_HZ });
    return logSpectrum(scales[scales.length - 1]);
  };
  expect(pitchShift(noise(seed), noise(seed + 20))).toBe(0);
});

it('has nothing to say of silence', () => {
  const silence = new Float64Array(spectrumOf(110, saw).length);
  expect(pitchShift(silence, silence)).toBe(0);
});

describe('How wide lines are', () => {
  it('grows with detune', () => {
    // The agreement with itself 40 cents away: lines that are wide still meet there.
    const agreement = [0, 10, 20, 40].map((cents) => blurOf(spectrumOf(330, saw, cents))[5]);
    expect(agreement).toEqual([...agreement].sort((a, b) => a - b));
    expect(agreement[3] - agreement[0]).toBeGreaterThan(0.1);
  });

  it('is not told by how loud it is', () => {
    const spectrum = spectrumOf(220, saw, 14);
    const louder = blurOf(spectrum.map((x) => 9 * x));
    blurOf(spectrum).forEach((x, i) => expect(louder[i]).toBeCloseTo(x, 9));
  });

  it('is even for noise', () => {
    const random = createRandom(4);
    const widths = blurOf(Float64Array.from({ length: 4000 }, () => random() - 0.5));
    for (const width of widths) expect(Math.abs(width)).toBeLessThan(0.1);
  });
});
