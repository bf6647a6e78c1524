import { plainPatch } from '../../../test/patches';
import { hzAt, note, play } from '../../../test/playing';

it.each([
  [{ tuning: 'ratio', ratio: 1.5 }, 81, 1320],
  [{ tuning: 'fixed', fixedHz: 300 }, 81, 300],
  [{ octaves: -1, semitones: 7, cents: 50 }, 69, 220 * 2 ** (7.5 / 12)],
])('tuning %o at note %i sounds at %f Hz', (fields, midi, hz) => {
  expect(hzAt(play(plainPatch('sine', fields), [note(0, 9, midi)], 0.5)[0], 0.3, 0.1)).toBeCloseTo(hz, 0);
});
