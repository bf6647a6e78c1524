import { createRandom, harmonicTone, saw, sine } from '../../../test/signals';
import { readTone } from '../read';
import { measureNoise } from './noise';
import { falling, tone, twoPole } from '../../../test/made/parts';
import { findStartNoise } from './startNoise';

const RATE = 44100;

function noiseIn(signal: ArrayLike<number>, f0Hz: number, isMoving = false) {
  const mono = Float64Array.from(signal);
  const { found, confidence } = measureNoise(
    { mono, sampleRateHz: RATE, f0Hz, f0At: () => f0Hz, isMoving },
    0,
    signal.length / RATE,
  );
  return { levelDb: found?.levelDb ?? null, centroidHz: found?.centroidHz ?? null, confidence };
}

/** Of the start of a saw. */
function startNoiseIn(signal: ArrayLike<number>, f0Hz: number, highest = 40, cornersSeconds: readonly number[] = []) {
  const mono = Float64Array.from(signal);
  const toSeconds = mono.length / RATE;
  return findStartNoise({ mono, sampleRateHz: RATE, f0Hz, highest, fromSeconds: 0, toSeconds, cornersSeconds });
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
      const { levelDb } = noiseIn(
        voices[0].map((x, i) => x + voices[1][i] + voices[2][i]),
        f0Hz,
        true,
      );
      expect(levelDb).toBeNull();
    }
  });

  it.each([110, 220, 440])('that comes with the start of a saw of %i Hz is found, its level within 3 dB', (f0Hz) => {
    const tone = harmonicTone({ f0Hz, amplitude: saw, seconds: 1 });
    const breath = noise(tone.length, 0.05).map((x, i) => (i < 0.06 * RATE ? x : 0));
    const found = startNoiseIn(
      tone.map((x, i) => x + breath[i]),
      f0Hz,
    );
    const wanted = 20 * Math.log10(0.05 / rmsOf(tone));
    expect(Math.abs(found!.levelDb - wanted)).toBeLessThan(3);
  });

  it('that comes with the start is not claimed of a saw that rises, falls or is swept by a low-pass', () => {
    for (const envelope of [(t: number) => Math.min(1, t / 0.03), (t: number) => Math.exp(-t / 0.05)])
      expect(startNoiseIn(harmonicTone({ f0Hz: 110, amplitude: saw, envelope }), 110)).toBeUndefined();
    for (const hz of [110, 330, 660]) {
      const amplitude = (n: number, t: number) => 1 / n / (1 + ((n * hz) / falling(36 * hz, 3 * hz, 0.08)(t)) ** 4);
      expect(startNoiseIn(tone({ seconds: 1, hz, amplitude }), hz, 3)).toBeUndefined();
    }
  });

  // A period of the last two is shorter than the click.
  it.each([131, 262, 370, 740])('of a click of 4 ms over an organ at %f Hz is found; a cut-off start is none', (hz) => {
    const bars = (n: number) => [1, 0.7, 0.5, 0.4, 0, 0.3][n - 1] ?? 0;
    const organ = harmonicTone({ f0Hz: hz, amplitude: bars, phase: () => 1 });
    const highest = 6;
    const click = noise(organ.length, 0.2).map((x, i) => (i < 0.004 * RATE ? x * (1 - i / (0.004 * RATE)) : 0));
    const clicked = startNoiseIn(
      organ.map((x, i) => x + click[i]),
      hz,
      highest,
    );
    expect(clicked!.levelDb).toBeGreaterThan(-25);
    expect(startNoiseIn(organ, hz, highest)).toBeUndefined();
  });

  it('of a click stands out of the corners of a short rise, which are none themselves', () => {
    const corners = [0.006, 0.01];
    const envelope = (t: number) => Math.max(0, Math.min(1, (t - corners[0]) / (corners[1] - corners[0])));
    const highest = 2;
    for (const turn of [0, 0.8, 1.6]) {
      const low = harmonicTone({ f0Hz: 55, amplitude: (n) => [1, 0.3][n - 1] ?? 0, phase: () => turn, envelope });
      expect(startNoiseIn(low, 55, highest, corners)).toBeUndefined();
      const click = noise(low.length, 0.1).map((x, i) => (i > 0.006 * RATE && i < 0.01 * RATE ? x : 0));
      const clicked = startNoiseIn(
        low.map((x, i) => x + click[i]),
        55,
        highest,
        corners,
      );
      expect(clicked).toBeDefined();
    }
  });

  it('of a burst that goes on for longer than a period of a low note is told', () => {
    const low = twoPole(tone({ seconds: 1, hz: 55 }), 'low', falling(1800, 300, 0.17), 1.5);
    const burst = noise(low.length, 0.2).map((x, i) => x * Math.exp(-i / RATE / 0.025));
    const highest = 60;
    const found = startNoiseIn(
      low.map((x, i) => x + burst[i]),
      55,
      highest,
    );
    const levelDb = 20 * Math.log10(0.2 / rmsOf(low.subarray(0, 0.1 * RATE)));
    expect(Math.abs(found!.levelDb - levelDb)).toBeLessThan(4);
  });

  it.each([92.5, 104, 131])(
    'is none, and no second voice, of a driven pulse of %f Hz behind a resonance that falls',
    (hz) => {
      const pulse = (n: number) => Math.sin(Math.PI * n * 0.4) / n;
      const acid = twoPole(tone({ seconds: 1, hz, amplitude: pulse }), 'low', falling(2400, 400, 0.12), 7);
      const peak = acid.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
      const { noise: found, unison } = readTone({
        channels: [Float32Array.from(acid, (x) => Math.tanh((2 * x) / peak))],
        sampleRateHz: RATE,
      }).traits;
      expect(found.levelDb).toBeNull();
      expect(unison.detuneCents).toBeNull();
    },
  );

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

describe('Noise under a line', () => {
  /** A saw that goes to another note without a break, as a slurred one does. */
  const line = (f0Hz: number, semitones: number) => {
    const to = f0Hz * 2 ** (semitones / 12);
    const slurred = (at: number, hz: number) =>
      harmonicTone({ f0Hz: hz, amplitude: saw, seconds: 1.6, envelope: (t) => (t < 0.8 === at < 0.8 ? 1 : 0) });
    const [low, high] = [slurred(0, f0Hz), slurred(1, to)];
    return low.map((x, i) => x + high[i]);
  };
  const noiseRead = (signal: ArrayLike<number>) =>
    readTone({ channels: [Float32Array.from(signal, (x) => 0.3 * x)], sampleRateHz: RATE });

  it.each([
    [131, 5],
    [220, 4],
  ])('is not the partials of its other notes: %d Hz and %d semitones up', (f0Hz, semitones) => {
    const reading = noiseRead(line(f0Hz, semitones));
    expect(reading.notes).toHaveLength(2);
    expect(reading.traits.noise.levelDb).toBeNull();
  });

  it('is what is under each of its notes', () => {
    const dry = line(131, 5);
    const added = noise(dry.length, rmsOf(dry) / 10);
    const { levelDb } = noiseRead(dry.map((x, i) => x + added[i])).traits.noise;
    expect(Math.abs(levelDb! + 20)).toBeLessThan(2);
  });
});
