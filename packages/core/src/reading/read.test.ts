import { harmonicTone, saw, sine, square } from '../../test/signals';
import { MADE_RATE_HZ, level, shaped, tone } from '../../test/made/parts';
import { renderPiece } from '../../test/pieces';
import { readTone } from './read';
import { readingSchema } from './schema';
import { some, thorough } from '../../test/thorough';

const RATE = 44100;
const read = (signal: Float32Array) => readTone({ channels: [signal], sampleRateHz: RATE });

describe('Reading of a saw through a low-pass that falls', () => {
  const f0Hz = 110;
  // A saw whose partials are attenuated by a 24 dB Butterworth low-pass falling from 4 kHz to 500 Hz in half
  // a second.
  const cutoffAt = (t: number) => 500 * 8 ** Math.max(0, 1 - t / 0.5);
  const length = RATE;
  const signal = new Float32Array(length);
  for (let n = 1; n * f0Hz < 18000; n++) {
    for (let i = 0; i < length; i++) {
      const gain = 1 / Math.sqrt(1 + ((n * f0Hz) / cutoffAt(i / RATE)) ** 8);
      signal[i] += (0.3 * gain * Math.sin((2 * Math.PI * n * f0Hz * i) / RATE)) / n;
    }
  }
  const reading = read(signal);
  const { brightness } = reading.traits;

  it('fits its own schema', () => {
    expect(() => readingSchema.parse(JSON.parse(JSON.stringify(reading)))).not.toThrow();
  });
  it('finds the slope and both ends of the sweep within a third of an octave', () => {
    expect(brightness.slopeDbPerOctave).toBe(24);
    expect(Math.abs(Math.log2(brightness.sweep!.fromHz / 4000))).toBeLessThan(0.5);
    expect(Math.abs(Math.log2(brightness.sweep!.toHz / 500))).toBeLessThan(1 / 3);
  });
  it('follows the cutoff in between', () => {
    const { hopSeconds, values } = brightness.cutoffContour;
    for (const t of [0.1, 0.25, 0.4, 0.7]) {
      const measured = values[Math.round(t / hopSeconds)]!;
      expect(Math.abs(Math.log2(measured / cutoffAt(t)))).toBeLessThan(1 / 3);
    }
  });
});

some(2).it.each([
  ['saw', saw],
  ['square', square],
  ['sine', sine],
] as const)('calls a %s by its name', (name, amplitude) => {
  const { partials } = read(harmonicTone({ f0Hz: 196, amplitude })).traits;
  expect(partials.nearestShape).toBe(name);
});

it('measures the levels of partials as they are (Fourier series)', () => {
  const { levelsDb } = read(harmonicTone({ f0Hz: 196, amplitude: saw })).traits.partials;
  for (const n of [1, 2, 5, 10, 20]) expect(levelsDb[n - 1]).toBeCloseTo(-20 * Math.log10(n), 1);
});

it('names the partial that whistles', () => {
  const { standout } = read(harmonicTone({ f0Hz: 147, amplitude: (n) => (n === 7 ? 0.7 : 1 / n) })).traits.partials;
  expect(standout).toEqual([7]);
});

it.each([
  ['sine', sine, 3.01],
  ['square', (n: number) => (n % 2 ? 1 / n : 0), 0],
] as const)('crest factor of a %s (closed form)', (_name, amplitude, expected) => {
  const { crestDb } = read(harmonicTone({ f0Hz: 55, amplitude })).traits.loudness;
  // A band-limited square overshoots by 9 % at its edges (Gibbs).
  expect(Math.abs(crestDb! - expected)).toBeLessThan(expected === 0 ? 1.6 : 0.05);
});

it('claims nothing about noise', () => {
  const { traits, notes } = read(harmonicTone({ f0Hz: 100, amplitude: saw, noiseDb: 60 }));
  expect(traits.pitch.confidence).toBeLessThan(0.5);
  expect(notes.length).toBeLessThanOrEqual(1);
});

some(1).it.each([110, 1199])('claims nothing of a dry steady sine at %d Hz', (f0Hz) => {
  const envelope = (t: number) => Math.min(1, t / 0.01) * (t < 1.6 ? 1 : 10 ** (-60 * (t - 1.6)));
  const { pitch, motion, space, dirt, noise, unison } = read(
    harmonicTone({ f0Hz, amplitude: sine, seconds: 2, envelope }),
  ).traits;
  expect(pitch).toMatchObject({ vibrato: null, sweep: null, glideSeconds: null });
  expect(motion).toEqual([]);
  expect(space).toMatchObject({ rt60Seconds: null, echo: null });
  expect(dirt).toMatchObject({ kind: 'none', bits: null, holdHz: null });
  expect([noise.levelDb, unison.detuneCents]).toEqual([null, null]);
});

it('splits a line into its notes', () => {
  const parts = [45, 48, 52].map((midi) => {
    const envelope = (t: number) => Math.min(1, t / 0.005, (0.4 - t) / 0.02);
    return harmonicTone({ f0Hz: 440 * 2 ** ((midi - 69) / 12), amplitude: saw, seconds: 0.4, envelope });
  });
  const line = new Float32Array(3 * parts[0].length);
  parts.forEach((part, i) => line.set(part, i * part.length));
  const { notes } = read(line);
  expect(notes.map((note) => note.midi)).toEqual([45, 48, 52]);
  notes.forEach((note, i) => expect(Math.abs(note.onsetSeconds - 0.4 * i)).toBeLessThan(0.05));
});

some(1).it.each([0.03, 0.06, 0.1])(
  'the last note of a line ends with its key, not %f s of release later',
  (release) => {
    const semitones = (at: number) => 5 * Math.min(1, Math.max(0, (at - 0.6) / 0.08));
    const line = shaped(tone({ seconds: 1.8, hz: 155.6, semitones }), level({ off: 1.4, release }));
    const { notes } = readTone({ channels: [Float32Array.from(line, (x) => 0.3 * x)], sampleRateHz: MADE_RATE_HZ });
    expect(notes.map(({ midi }) => midi)).toEqual([51, 56]);
    expect(Math.abs(notes[1].onsetSeconds + notes[1].durationSeconds - 1.4)).toBeLessThan(0.01);
  },
);

thorough.it('a longer stretch has a tempo and a key, a single note has neither', () => {
  const piece = renderPiece({
    bpm: 104,
    tonic: 4,
    scale: [0, 1, 3, 5, 7, 8, 10],
    seed: 2,
    seconds: 12,
    sampleRateHz: 44100,
  });
  const { tempo, key } = read(piece);
  expect(Math.abs(tempo.bpm! / 104 - 1)).toBeLessThan(0.005);
  expect(key).toMatchObject({ tonic: 'E', mode: 'phrygian' });
  const note = read(harmonicTone({ f0Hz: 110, amplitude: saw }));
  expect([note.tempo.bpm, note.key.tonic]).toEqual([null, null]);
});

thorough.it('a dry steady tone reports no vibrato, slide, noise or width', () => {
  for (const amplitude of [sine, saw]) {
    const { pitch, noise, width } = read(harmonicTone({ f0Hz: 220, amplitude, seconds: 2 })).traits;
    expect([pitch.vibrato, pitch.sweep, noise.levelDb, width.monoBelowHz]).toEqual([null, null, null, null]);
  }
});

it('a sub under a saw behind a low-pass is no high-pass', () => {
  // Partials of the sub's own pitch: its sine, and those of the saw an octave up.
  const amplitude = (n: number) => (n === 1 ? 0.5 : n % 2 ? 0 : 2 / n / (1 + (n / 14) ** 2));
  const { brightness, sources } = read(harmonicTone({ f0Hz: 55, amplitude })).traits;
  expect(sources.parts.map(({ semitones }) => semitones)).toEqual([-12, 0]);
  expect(brightness.highpassHz).toBeNull();
});
