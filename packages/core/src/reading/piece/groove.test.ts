import { measureGroove } from './groove';
import type { ReadingNote } from '../schema';

const note = (onsetSeconds: number, midi = 60): ReadingNote => ({
  onsetSeconds,
  durationSeconds: 0.1,
  midi,
  cents: 0,
  levelDb: -10,
});

// The off-beat sixteenth at 54 to 62 % of the pair: common practice.
it.each([50, 54, 58, 62, 66.7])('tells sixteenths swung by %f %%, and that it is of sixteenths', (percent) => {
  const beat = 60 / 124;
  const line = Array.from({ length: 16 }, (_, i) => {
    const pair = Math.floor(i / 2) * (beat / 2);
    return note(0.31 + pair + (i % 2 ? (percent / 100) * (beat / 2) : 0));
  });
  const { swing } = measureGroove(line, 124, 0.31 + 3 * beat);
  expect(swing!.step).toBe('1/16');
  expect(swing!.percent).toBeCloseTo(percent, 3);
});

it('tells swung eighths of a line without sixteenths', () => {
  const line = Array.from({ length: 12 }, (_, i) => note(Math.floor(i / 2) * 0.5 + (i % 2 ? 0.6 * 0.5 : 0)));
  // At 120 BPM the off-beat at 60 % of the beat is 0.1 s, 40 % of a pair of sixteenths, after one.
  expect(measureGroove(line, 120, 0).swing).toEqual({ percent: expect.closeTo(60, 6), step: '1/8' });
});

it('claims no swing of a line that is on the beat, or without a tempo', () => {
  const line = Array.from({ length: 8 }, (_, i) => note(0.5 * i));
  expect(measureGroove(line, 120, 0).swing).toBeNull();
  expect(measureGroove(line, null, 0).swing).toBeNull();
});

it.each([
  ['down', 1],
  ['up', -1],
] as const)('tells strings that start one after the other, %s', (direction, sign) => {
  const chords = [0, 1, 2].flatMap((at) => [0, 1, 2, 3].map((n) => note(at + 0.012 * n, 50 + sign * 5 * n)));
  expect(measureGroove(chords, null, 0).strum).toEqual({ seconds: expect.closeTo(0.036, 6), direction });
});

it('tells chords that are struck at once, and that a line has none', () => {
  expect(measureGroove([note(0, 50), note(0.001, 55), note(1, 50), note(1, 57)], null, 0).strum).toEqual({
    seconds: 0,
    direction: 'mixed',
  });
  expect(measureGroove([note(0), note(0.5)], null, 0).strum).toBeNull();
});
