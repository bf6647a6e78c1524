import { createRandom } from '../../../../test/signals';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine, lagrange } from './delayLine';

/** A line of 60 samples at least, that is 64 long, and all that was written to it. */
function written(blocks: number) {
  const line = new DelayLine(60);
  const random = createRandom(5);
  const past: number[] = [];
  for (let b = 0; b < blocks; b++) {
    for (let i = 0; i < 30; i++) {
      line.in[i] = random();
      past.push(line.in[i]);
    }
    line.writeBlock(0, 30);
  }
  return { line, past };
}

describe('A delay line', () => {
  // Blocks of 30 in a line of 64 cross its end at other places every time.
  it.each([1, 2, 3, 7, 20])('gives blocks back as they were written, after %i of them', (blocks) => {
    const { line, past } = written(blocks);
    for (const distance of [12, 30].filter((d) => d <= past.length)) {
      line.readBlock(distance, 5, 12);
      const wanted = past.slice(past.length - distance, past.length - distance + 12);
      expect(Array.from(line.out.subarray(5, 17))).toEqual(wanted);
    }
  });

  it('reads ahead what a block would have', () => {
    const { line, past } = written(5);
    for (let later = 0; later < 8; later++) {
      expect(line.readAhead(10, later)).toBe(past[past.length - 10 + later]);
      const between = line.readAhead(10.25, later);
      const at = past.length - 10 + later;
      expect(between).toBeCloseTo(lagrange(0.25, past[at + 1], past[at], past[at - 1], past[at - 2]), 12);
    }
  });

  it('sample by sample and block by block come to the same', () => {
    const { line, past } = written(4);
    const other = new DelayLine(60);
    for (const x of past) other.write(x);
    for (const distance of [1, 2.5, 17, 40.9]) expect(other.read(distance)).toBe(line.read(distance));
  });

  it('has room for a whole block in and out, and forgets all of it', () => {
    const { line } = written(3);
    expect([line.in.length, line.out.length]).toEqual([BLOCK_SAMPLES, BLOCK_SAMPLES]);
    line.clear();
    line.readBlock(30, 0, 30);
    expect(Array.from(line.out.subarray(0, 30)).every((x) => x === 0)).toBe(true);
  });
});

it('Lagrange’s polynomial goes through its points, and is exact for a cubic', () => {
  expect(lagrange(0, 1, 2, 3, 4)).toBeCloseTo(2, 12);
  expect(lagrange(1, 1, 2, 3, 4)).toBeCloseTo(3, 12);
  const cubic = (x: number) => 2 * x ** 3 - x ** 2 + 4 * x - 1;
  for (const d of [0.1, 0.5, 0.73]) {
    expect(lagrange(d, cubic(-1), cubic(0), cubic(1), cubic(2))).toBeCloseTo(cubic(d), 10);
  }
});
