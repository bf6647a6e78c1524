import { createRandom, harmonicTone, saw } from '../../../test/signals';
import { finish } from '../steps';
import { type RepeatedLine, repeatedLineSteps } from './repeatedLines';

const RATE_HZ = 22050;
const BPM = 120;
const BAR = 2;
const grid = { bpm: BPM, beatSeconds: 0 };
const hz = (midi: number) => 440 * 2 ** ((midi - 69) / 12);

/** A bass line of eight eighths; each bar begins at its own key, null for one that is silent. */
function piece(keys: readonly (number | null)[], line: readonly number[], drumsDb = -Infinity): Float32Array {
  const out = new Float32Array(keys.length * BAR * RATE_HZ);
  const random = createRandom(9);
  keys.forEach((key, bar) => {
    line.forEach((step, i) => {
      const first = Math.round((bar * BAR + (i * BAR) / line.length) * RATE_HZ);
      if (key !== null) {
        const note = harmonicTone({
          f0Hz: hz(key + step),
          seconds: (0.9 * BAR) / line.length,
          sampleRateHz: RATE_HZ,
          amplitude: saw,
        });
        note.forEach((x, k) => (out[first + k] += 0.3 * x * Math.exp(-k / (0.15 * RATE_HZ))));
      }
      const level = i % 2 === 0 ? 10 ** (drumsDb / 20) : 0;
      for (let k = 0; k < 0.1 * RATE_HZ; k++)
        out[first + k] += level * (2 * random() - 1) * Math.exp(-k / (0.02 * RATE_HZ));
    });
  });
  return out;
}

const LINE = [0, 0, 7, 0, 10, 7, 12, 3];
const found = (sound: Float32Array, fromSeconds = 0): RepeatedLine[] =>
  finish(repeatedLineSteps(sound, RATE_HZ, { fromSeconds, toSeconds: fromSeconds + BAR }, grid));
const places = (lines: readonly RepeatedLine[]) =>
  lines.map(({ fromSeconds, semitones }) => [Math.round(fromSeconds / BAR), semitones]).sort(([a], [b]) => a - b);

describe('Bars in which a line is played again', () => {
  const keys = [40, 45, 40, 38, null, 47];

  it.each([
    ['alone', -Infinity],
    ['under drums', -12],
  ])('are found %s, with their interval', (_, drumsDb) => {
    expect(places(found(piece(keys, LINE, drumsDb)))).toEqual([
      [1, 5],
      [2, 0],
      [3, -2],
      [5, 7],
    ]);
  });

  it('are found before the cut, too, and other keys come first', () => {
    const lines = found(piece(keys, LINE), 2 * BAR);
    expect(places(lines)).toEqual([
      [0, 0],
      [1, 5],
      [3, -2],
      [5, 7],
    ]);
    expect(lines.at(-1)!.semitones).toBe(0);
    expect(lines.every(({ fromSeconds, toSeconds }) => toSeconds - fromSeconds === BAR)).toBe(true);
  });

  it('are not those of another line, and there are none of a single note', () => {
    const other = piece([40], [12, 3, 5, 2, 0, 0, 9, 9]);
    const sound = new Float32Array(2 * other.length);
    sound.set(piece([40], LINE));
    sound.set(other, other.length);
    expect(found(sound)).toEqual([]);
    expect(
      finish(repeatedLineSteps(piece(keys, LINE), RATE_HZ, { fromSeconds: 0, toSeconds: 0.4 * BAR }, grid)),
    ).toEqual([]);
  });
});
