import { times, voices } from '../../../test/effects';
import { scoreNotes } from '../../../test/lines';
import { playBank, playLine, programs, repeatingLine } from '../../../test/soundBank';
import { readTone } from '../read';
import { mean } from '../statistics';
import { rowsOf, some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const programOf = (name: string) => programs.find((program) => program.name === name)!;
const played = ['finger bass', 'synth bass 2', 'saw lead', 'electric piano'];
const scoreOf = (name: string, seed: number, drumsDb?: number) => {
  const line = repeatingLine(programOf(name), seed, 4);
  return scoreNotes(readTone(playLine(line, drumsDb)).notes, line.notes).f;
};

// Notes known from the MIDI file; the instruments are recordings of others (Debian's timgm6mb-soundfont). All
// programs are in `npm run bench notes`.
describe('Lines of a sound bank whose notes repeat, F-measure of onsets within 50 ms and note numbers', () => {
  it('is at least 0.93 on the mean', () => {
    const scores = rowsOf([...played.entries()], 1).map(([i, name]) => scoreOf(name, 40 + i));
    expect(mean(scores)).toBeGreaterThanOrEqual(0.93);
  });

  thorough.it('is at least 0.75 on the mean of those that start slowly, run into one another or rumble', () => {
    const slow = ['strings', 'synth strings', 'church organ', 'harmonica', 'acoustic bass'];
    expect(mean(slow.map((name, i) => scoreOf(name, 60 + i)))).toBeGreaterThanOrEqual(0.75);
  });

  thorough.it('is at least 0.75 on the mean of two under drums 3 dB softer', () => {
    expect(mean(played.slice(0, 2).map((name, i) => scoreOf(name, 50 + i, -3)))).toBeGreaterThanOrEqual(0.75);
  });
});

/** Three held notes whose level is moved by the clock of the cut. */
function heldNotes(gain: (t: number) => number): Float64Array {
  const starts = [0.1, 1.1, 2.1];
  const sum = new Float64Array(3.4 * RATE_HZ);
  [110, 146.83, 130.81].forEach((f0Hz, n) => {
    const note = times(
      voices({ f0Hz, seconds: 1 }),
      (t) => Math.min(1, t / 0.005, (1 - t) / 0.02) * gain(starts[n] + t),
    );
    note.forEach((x, i) => (sum[Math.round(starts[n] * RATE_HZ) + i] += x));
  });
  return sum;
}

some(1).it.each([
  ['a tremolo', (t: number) => 1 - 0.6 * (0.5 + 0.5 * Math.sin(2 * Math.PI * 4 * t))],
  ['ducking', (t: number) => 0.15 + 0.85 * Math.min(1, ((2 * t) % 1) * 2)],
  ['nothing', () => 1],
])('leaves notes that are held through %s whole', (_, gain) => {
  const { notes } = readTone({ channels: [Float32Array.from(heldNotes(gain))], sampleRateHz: RATE_HZ });
  expect(notes.map(({ midi }) => midi)).toEqual([45, 50, 48]);
});

thorough.it.each(['picked bass', 'square lead', 'electric piano'])(
  'tells eight equal notes of the %s, held for 90 %%',
  (name) => {
    const program = programOf(name);
    const step = 60 / 124 / 2;
    const notes = Array.from({ length: 8 }, (_, i) => ({
      midi: program.lowMidi + 5,
      onsetSeconds: 0.1 + i * step,
      durationSeconds: 0.9 * step,
      velocity: 0.8,
    }));
    const found = readTone(playBank(program, notes, [], { room: true })).notes;
    expect(found).toHaveLength(8);
    expect(scoreNotes(found, notes).f).toBe(1);
  },
);
