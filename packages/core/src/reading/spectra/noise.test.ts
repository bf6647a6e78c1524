import { createRandom, harmonicTone, saw, sine } from '../../../test/signals';
import { measureNoise } from './noise';
import { measurePartials } from '../partials/partialFrames';

const RATE = 44100;

function noiseIn(signal: ArrayLike<number>, f0Hz: number, from = 0, to = signal.length / RATE) {
  const mono = Float64Array.from(signal);
  const f0At = () => f0Hz;
  const short = measurePartials(mono, RATE, f0At, 0.01);
  return measureNoise({ mono, sampleRateHz: RATE, f0Hz, f0At }, short, from, to);
}

const rmsOf = (signal: ArrayLike<number>) =>
  Math.sqrt(Array.from(signal).reduce((s, x) => s + x * x, 0) / signal.length);

/** Uniform white noise of an RMS. */
function noise(length: number, rms: number, seed = 5): Float64Array {
  const random = createRandom(seed);
  return Float64Array.from({ length }, () => rms * Math.sqrt(3) * (2 * random() - 1));
}

describe('Noise under a tone', () => {
  it.each([110, 220, 523.25].flatMap((f0Hz) => [-10, -20, -30, -40].map((db) => [f0Hz, db] as const)))(
    'under a saw of %f Hz at %f dB is read within 2 dB',
    (f0Hz, db) => {
      const tone = harmonicTone({ f0Hz, amplitude: saw, seconds: 1.5 });
      const added = noise(tone.length, rmsOf(tone) * 10 ** (db / 20));
      const found = noiseIn(
        tone.map((x, i) => x + added[i]),
        f0Hz,
      );
      expect(Math.abs(found.levelDb! - db)).toBeLessThan(2);
      expect(found.attackOnly).toBe(false);
      // White noise is as strong everywhere up to half of the rate.
      expect(Math.abs(found.centroidHz! / (RATE / 4) - 1)).toBeLessThan(0.15);
    },
  );

  it('is not claimed of dry tones, steady or dying away', () => {
    for (const amplitude of [saw, sine]) {
      expect(noiseIn(harmonicTone({ f0Hz: 220, amplitude }), 220).levelDb).toBeNull();
      const dying = harmonicTone({ f0Hz: 220, amplitude, envelope: (t) => Math.exp(-4 * t) });
      expect(noiseIn(dying, 220).levelDb).toBeNull();
    }
  });

  it('is not claimed of voices that beat', () => {
    for (const f0Hz of [55, 220]) {
      const voices = [-9, 0, 9].map((cents) =>
        harmonicTone({ f0Hz: f0Hz * 2 ** (cents / 1200), amplitude: saw, seconds: 2 }),
      );
      const { levelDb, confidence } = noiseIn(
        voices[0].map((x, i) => x + voices[1][i] + voices[2][i]),
        f0Hz,
      );
      expect(levelDb === null || confidence < 0.5).toBe(true);
    }
  });

  it('of a click at the start only is told from noise throughout', () => {
    const tone = harmonicTone({ f0Hz: 220, amplitude: saw, seconds: 1 });
    const breath = noise(tone.length, 0.1).map((x, i) => x * Math.exp((-60 * i) / RATE));
    const found = noiseIn(
      tone.map((x, i) => x + breath[i]),
      220,
    );
    expect(found.attackOnly).toBe(true);
  });

  it('of a dark kind has a lower centroid', () => {
    const tone = harmonicTone({ f0Hz: 220, amplitude: saw, seconds: 1.5 });
    let low = 0;
    const dark = noise(tone.length, 0.3).map((x) => (low += 0.05 * (x - low)));
    const found = noiseIn(
      tone.map((x, i) => x + dark[i]),
      220,
    );
    expect(found.centroidHz).toBeLessThan(4000);
  });
});
