import { LINE_RATE_HZ, type Line, chords, lines, renderLine, scoreNotes } from '../../../test/lines';
import { createRandom, harmonicTone, saw } from '../../../test/signals';
import { fitContour } from '../level/fitContour';
import { measureLevel } from '../level/levelContour';
import { findFundamental } from '../pitch/fundamental';
import { findNotes } from './notes';
import { trackPitch } from '../pitch/pitchTrack';
import { thorough } from '../../../test/thorough';

function notesOf(audio: Float32Array) {
  const mono = Float64Array.from(audio);
  const track = trackPitch(mono, LINE_RATE_HZ);
  const fundamental = findFundamental(mono, LINE_RATE_HZ, track);
  const level = measureLevel([audio], LINE_RATE_HZ, fundamental?.f0Hz);
  return findNotes({ mono, sampleRateHz: LINE_RATE_HZ, track, level, fundamental, fitted: fitContour(level) });
}

function score(line: Line) {
  const { audio, notes } = renderLine({ ...line, seconds: 3.5 });
  return scoreNotes(notesOf(audio), notes).f;
}

const named = (all: readonly Line[], ...names: string[]) =>
  names.map((name) => [name, all.find((line) => line.name === name)!] as const);

// The whole table, with other seeds, is what `npm run bench notes` prints.

describe('F-measure of onsets within 50 ms and note numbers, alone', () => {
  it.each([...named(lines, 'saw bass'), ...named(chords, 'four-voice saws')])('is at least 0.95 for %s', (_, line) =>
    expect(score(line)).toBeGreaterThanOrEqual(0.95),
  );
});

describe('under drums 3 dB softer', () => {
  it.each([...named(lines, 'plucked line')])('is at least 0.8 for %s', (_, line) =>
    expect(score({ ...line, drumsDb: -3 })).toBeGreaterThanOrEqual(0.8),
  );
});

it('tells how far a line is out of tune, within 2 cents', () => {
  const audio = new Float32Array(3 * LINE_RATE_HZ);
  [57, 60, 64].forEach((midi, i) => {
    const f0Hz = 440 * 2 ** ((midi - 69 + 0.17) / 12);
    audio.set(harmonicTone({ f0Hz, seconds: 0.8, amplitude: saw }), i * LINE_RATE_HZ + 2000);
  });
  const found = notesOf(audio);
  expect(found.map(({ midi }) => midi)).toEqual([57, 60, 64]);
  for (const { cents } of found) expect(Math.abs(cents - 17)).toBeLessThan(2);
});

it.each([90, 103, 120, 150])('gives every note a number, also of clicks of %d Hz over an offset', (f0Hz) => {
  const click = (seconds: number) =>
    seconds < 0 ? 0 : Math.exp(-300 * seconds) * ((f0Hz * seconds) % 1 < 0.2 ? 1 : -1);
  const audio = Float32Array.from({ length: 0.9 * LINE_RATE_HZ }, (_, i) => {
    const seconds = i / LINE_RATE_HZ;
    return 0.1 + 0.4 * click(seconds) + 0.2 * click(seconds - 0.26) + 0.1 * click(seconds - 0.52);
  });
  for (const { midi, cents } of notesOf(audio)) expect(Number.isFinite(midi + cents)).toBe(true);
});

it('takes a chord for its notes, though they have a common period', () => {
  // 4:5:6, whose period is that of a note two octaves under the lowest.
  const parts = [4, 5, 6].map((n) => harmonicTone({ f0Hz: 65.406 * n, seconds: 1.5, amplitude: saw }));
  const found = notesOf(parts[0].map((x, i) => (x + parts[1][i] + parts[2][i]) / 3));
  expect(found.map(({ midi }) => midi).toSorted((a, b) => a - b)).toEqual([60, 64, 67]);
});

thorough.it('takes a bass over a sine an octave lower, under all that is looked at, for one note', () => {
  const f0Hz = 440 * 2 ** ((22 - 69) / 12);
  const amplitude = (n: number) => (n === 1 ? 0.8 : n % 2 === 0 ? 2 / n : 0);
  const found = notesOf(harmonicTone({ f0Hz, seconds: 1.5, amplitude, envelope: (t) => Math.min(1, t / 0.01) }));
  expect(found.map(({ midi }) => midi)).toEqual([22]);
});

it.each([
  ['white', 1],
  ['brown', 0.02],
])('finds none in %s noise', (_, share) => {
  const random = createRandom(1);
  let low = 0;
  const noise = new Float32Array(1.5 * LINE_RATE_HZ).map(() => (low += share * (random() - 0.5 - low)));
  expect(notesOf(noise)).toEqual([]);
});

it('finds none in drums alone', () => {
  const { audio } = renderLine({ ...lines[0], amplitude: (n) => (n === 1 ? 1e-4 : 0), drumsDb: 70, seconds: 3 });
  const loudest = audio.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
  expect(notesOf(audio.map((x) => (0.5 * x) / loudest))).toEqual([]);
});
