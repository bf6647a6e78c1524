import { createRandom } from '../../../test/signals';
import { beatsWithin, doubled, gridOfTaps, gridSchema, halved, nudged } from './grid';

const grid = { bpm: 120, beatSeconds: 0.25 };

it('has beats within a stretch, before its own beat as well', () => {
  expect(beatsWithin(grid, 0, 1.3)).toEqual([0.25, 0.75, 1.25]);
  expect(beatsWithin({ bpm: 120, beatSeconds: 10.25 }, 0, 1.25)).toEqual([0.25, 0.75, 1.25]);
});

it('is halved, doubled and nudged about its own beat', () => {
  expect(beatsWithin(halved(grid), 0, 2)).toEqual([0.25, 1.25]);
  expect(beatsWithin(doubled(grid), 0, 0.6)).toEqual([0, 0.25, 0.5]);
  expect(beatsWithin(nudged(grid, -0.05), 0, 1)).toEqual([0.2, 0.7]);
});

it('is told by taps within 1 % though a hand scatters by 20 ms', () => {
  const random = createRandom(2);
  const taps = Array.from({ length: 16 }, (_, i) => 3 + (i * 60) / 97 + 0.04 * (random() - 0.5));
  const told = gridOfTaps(taps)!;
  expect(Math.abs(told.bpm / 97 - 1)).toBeLessThan(0.01);
  expect(Math.abs(told.beatSeconds - 3)).toBeLessThan(0.03);
});

it('begins to count anew after a pause, and needs three taps', () => {
  expect(gridOfTaps([1, 1.5])).toBeUndefined();
  expect(gridOfTaps([1, 2, 3, 10, 10.5, 11])).toEqual({
    bpm: expect.closeTo(120, 6),
    beatSeconds: expect.closeTo(10, 6),
  });
  expect(gridOfTaps([1, 2, 3, 10, 10.5])).toBeUndefined();
});

it('has a tempo that music can have', () => {
  expect(gridOfTaps([1, 1.01, 1.02])).toBeUndefined();
  expect(gridSchema.safeParse({ bpm: 500, beatSeconds: 0 }).error!.issues[0].message).toContain('between 20 and 400');
});
