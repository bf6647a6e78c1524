import { createRandom } from '../../../test/signals';
import { findSlowTurn } from './slowTurn';

const SPAN_SECONDS = 2;
const seconds = Float64Array.from({ length: 120 }, (_, i) => (SPAN_SECONDS * i) / 119);
const random = createRandom(5);
/** What beats leave in a cutoff, octaves. */
const strayed = (of: (at: number) => number) => seconds.map((at) => of(at) + 0.3 * (random() - 0.5));

describe('A turn or two of a sine', () => {
  it.each([
    [1, 0.1],
    [1.4, 0.55],
    [2.2, 0.8],
    [3, 0.3],
  ])('%d of them, begun at %d: rate within 5 %%, depth and middle within 0.1', (turns, start) => {
    const rateHz = turns / SPAN_SECONDS;
    const found = findSlowTurn(
      seconds,
      strayed((at) => 9.5 + 0.8 * Math.sin(2 * Math.PI * (rateHz * at + start))),
    )!;
    expect(Math.abs(found.rateHz / rateHz - 1)).toBeLessThan(0.05);
    expect(Math.abs(found.depth - 0.8)).toBeLessThan(0.1);
    expect(Math.abs(found.middle - 9.5)).toBeLessThan(0.1);
    expect(Math.abs(((found.startCycles - start + 1.5) % 1) - 0.5)).toBeLessThan(0.05);
    expect(found.explained).toBeGreaterThan(0.9);
  });

  it.each<[string, (at: number) => number]>([
    ['a fall', (at) => 9 + 2 * Math.exp(-at / 0.4)],
    ['a rise', (at) => 9 + 2 * (1 - Math.exp(-at / 0.3))],
    ['a straight way', (at) => 9 + at],
  ])('is not told of %s', (_, of) => {
    expect(findSlowTurn(seconds, strayed(of))).toBeUndefined();
  });

  it('is not told of a few values, nor of one that stays', () => {
    expect(findSlowTurn(seconds.subarray(0, 8), seconds.subarray(0, 8))).toBeUndefined();
    expect(
      findSlowTurn(
        seconds,
        seconds.map(() => 3),
      ),
    ).toBeUndefined();
  });
});
