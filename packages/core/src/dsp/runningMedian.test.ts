import { createRandom } from '../../test/signals';
import { runningMedian } from './runningMedian';

function medianOf(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
}

it.each([
  [1, 3],
  [5, 8],
  [100, 0],
  [100, 4],
  [100, 17],
])('of %i values with %i on either side is that of sorting each window', (length, reach) => {
  const random = createRandom(length + reach);
  // Steps make values equal, which a sorted window must bear.
  const values = Array.from({ length }, () => Math.floor(12 * random()));
  const medians: number[] = [];
  runningMedian(
    length,
    reach,
    (i) => values[i],
    (i, value) => (medians[i] = value),
  );
  expect(medians).toEqual(values.map((_, i) => medianOf(values.slice(Math.max(0, i - reach), i + reach + 1))));
});
