import { mean } from '../reading/statistics';
import { hashedRandom, writeRandom } from './random';

const COUNT = 20_000;

/** Many numbers along one of the three places. */
const along = (place: 0 | 1 | 2) =>
  Float64Array.from({ length: COUNT }, (_, i) => {
    const at: [number, number, number] = [11, 5, 3];
    at[place] = i;
    return hashedRandom(...at);
  });

it('says the same number for the same place, and writes it, too', () => {
  const out = new Float64Array(3);
  writeRandom(out, 1, 7, 8, 9);
  expect(hashedRandom(7, 8, 9)).toBe(out[1]);
  expect(hashedRandom(7, 8, 9)).toBe(hashedRandom(7, 8, 9));
  expect([out[0], out[2]]).toEqual([0, 0]);
});

it('does not mix places up', () => {
  const orders = new Set([
    hashedRandom(1, 2, 3),
    hashedRandom(1, 3, 2),
    hashedRandom(2, 1, 3),
    hashedRandom(2, 3, 1),
    hashedRandom(3, 1, 2),
    hashedRandom(3, 2, 1),
  ]);
  expect(orders.size).toBe(6);
});

describe.each([0, 1, 2] as const)('Along place %d', (place) => {
  const numbers = along(place);

  it('numbers are spread evenly over 0..1', () => {
    const counts = new Array<number>(20).fill(0);
    for (const number of numbers) counts[Math.floor(20 * number)]++;
    expect(numbers.reduce((least, x) => Math.min(least, x), 1)).toBeGreaterThanOrEqual(0);
    expect(numbers.reduce((most, x) => Math.max(most, x), 0)).toBeLessThan(1);
    // χ² of 19 degrees of freedom is over 43.8 once in a thousand.
    const expected = COUNT / 20;
    expect(counts.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0)).toBeLessThan(43.8);
  });

  it('one says nothing of the next', () => {
    const middle = mean(numbers);
    for (const lag of [1, 2, 16]) {
      let sum = 0;
      for (let i = lag; i < COUNT; i++) sum += (numbers[i] - middle) * (numbers[i - lag] - middle);
      // Four standard deviations of a correlation of independent numbers.
      expect(Math.abs(sum / COUNT / (1 / 12))).toBeLessThan(4 / Math.sqrt(COUNT));
    }
  });
});
