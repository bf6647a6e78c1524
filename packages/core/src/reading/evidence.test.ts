import { amplitudeAt, createRandom, harmonicTone, rms, saw } from '../../test/signals';
import { evidenceOf } from './evidence';
import { readTone } from './read';

const RATE_HZ = 44100;
const F0_HZ = 220;

const held = (t: number) => Math.min(1, t / 0.02) * (t < 1 ? 1 : Math.exp(-20 * (t - 1)));
const random = createRandom(2);
const tone = harmonicTone({ f0Hz: F0_HZ, amplitude: saw, seconds: 1.5, envelope: held });
const left = tone.map((x) => x + 0.01 * (random() - 0.5));
const audio = { channels: [left, left.map((x, i) => x - 0.1 * tone[i])], sampleRateHz: RATE_HZ };
const reading = readTone(audio);

const middle = (samples: Float32Array) => samples.subarray(0.3 * RATE_HZ, 0.9 * RATE_HZ);
const heard = (...wanted: Parameters<typeof evidenceOf>[2][]) => wanted.map((one) => evidenceOf(audio, reading, one)!);

describe('Evidence to listen to', () => {
  it('one partial is alone, at least 40 dB over the others', () => {
    const [solo] = heard({ kind: 'partial', partial: 5 });
    const at = (n: number) => amplitudeAt(middle(solo.channels[0]), RATE_HZ, n * F0_HZ);
    for (const n of [1, 3, 4, 6, 7]) expect(at(5) / at(n)).toBeGreaterThan(100);
    expect(solo.channels[0]).toHaveLength(tone.length);
  });

  it('the noise is what is left without the partials', () => {
    const [noise] = heard({ kind: 'noise' });
    const line = amplitudeAt(middle(noise.channels[0]), RATE_HZ, F0_HZ);
    expect(line).toBeLessThan(0.3 * rms(middle(noise.channels[0])));
  });

  it('the pitch is a sine at the fundamental, with the level of the tone', () => {
    const [{ channels }] = heard({ kind: 'pitch' });
    const sine = amplitudeAt(middle(channels[0]), RATE_HZ, F0_HZ);
    expect(sine).toBeCloseTo(rms(middle(channels[0])) * Math.SQRT2, 2);
    expect(rms(channels[0].subarray(1.3 * RATE_HZ))).toBeLessThan(0.05 * sine);
  });

  it('the contour is heard on noise, and the sides as the difference of both channels', () => {
    const [loudness, sides] = heard({ kind: 'loudness' }, { kind: 'sides' });
    const ratio =
      rms(loudness.channels[0].subarray(1.15 * RATE_HZ, 1.25 * RATE_HZ)) / rms(middle(loudness.channels[0]));
    expect(ratio).toBeCloseTo(Math.exp(-20 * 0.2), 1);
    expect(sides.channels[0][30000]).toBeCloseTo(-sides.channels[1][30000], 6);
    expect(amplitudeAt(middle(sides.channels[0]), RATE_HZ, F0_HZ)).toBeGreaterThan(0.1);
  });

  it('the tail is silent until the note ends', () => {
    const [tail] = heard({ kind: 'tail' });
    expect(rms(tail.channels[0].subarray(0, 0.9 * RATE_HZ))).toBe(0);
    expect(rms(tail.channels[0].subarray(1.02 * RATE_HZ, 1.1 * RATE_HZ))).toBeGreaterThan(0.01);
  });

  it('none is made of what is not there; all is within full scale', () => {
    expect(evidenceOf(audio, reading, { kind: 'motion' })).toBeNull();
    expect(evidenceOf({ ...audio, channels: [left] }, reading, { kind: 'sides' })).toBeNull();
    for (const kind of ['partial', 'brightness', 'noise', 'loudness'] as const) {
      const [{ channels }] = heard({ kind });
      expect(Math.max(...channels[0].map(Math.abs))).toBeCloseTo(0.5, 1);
      expect(channels[0].every(Number.isFinite)).toBe(true);
    }
  });
});
