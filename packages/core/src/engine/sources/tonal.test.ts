import { sourcePatch } from '../../../test/patches';
import { RATE, note, play } from '../../../test/playing';
import { amplitudeAt, decibels } from '../../../test/signals';

it('drawn partials sound at their levels and phases', () => {
  const patch = sourcePatch({ kind: 'partials', levelsDb: [-6, -96, -20], phasesCycles: [0.25] });
  const [signal] = play(patch, [note(0, 9, 45)], 1);
  expect(decibels(amplitudeAt(signal, RATE, 110))).toBeCloseTo(-6, 1);
  expect(decibels(amplitudeAt(signal, RATE, 220))).toBeLessThan(-90);
  expect(decibels(amplitudeAt(signal, RATE, 330))).toBeCloseTo(-20, 1);
  expect(signal[0]).toBeCloseTo(0, 1);
  expect(signal[200 - 100]).not.toBe(0);
});
