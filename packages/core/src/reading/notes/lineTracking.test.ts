import { scoreNotes } from '../../../test/lines';
import { playBank, playLine, programs, repeatingLine } from '../../../test/soundBank';
import { readTone } from '../read';
import { mean } from '../statistics';
import { rowsOf, thorough } from '../../../test/thorough';

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

  thorough.it('is at least 0.75 on the mean of two under drums 3 dB softer', () => {
    expect(mean(played.slice(0, 2).map((name, i) => scoreOf(name, 50 + i, -3)))).toBeGreaterThanOrEqual(0.75);
  });
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
