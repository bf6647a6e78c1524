import { createRandom } from '../../test/signals';
import { cheapestPath } from './cheapestPath';

/** All paths, one by one. */
function least(costs: readonly Float64Array[], price: number, from?: number): number {
  if (costs.length === 0) return 0;
  const [row, ...rest] = costs;
  return Math.min(
    ...Array.from(
      row,
      (cost, at) => cost + (from === undefined ? 0 : price * Math.abs(at - from)) + least(rest, price, at),
    ),
  );
}

it.each([0, 0.1, 0.4, 5])('no path is cheaper, at a price of %d a step', (price) => {
  const random = createRandom(3);
  const costs = Array.from({ length: 5 }, () => Float64Array.from({ length: 6 }, random));
  const path = cheapestPath(costs, price);
  const steps = path.slice(1).reduce((sum, at, i) => sum + price * Math.abs(at - path[i]), 0);
  expect(path.reduce((sum, at, i) => sum + costs[i][at], steps)).toBeCloseTo(least(costs, price), 10);
});

it('of nothing is nothing', () => {
  expect(cheapestPath([], 1)).toEqual([]);
});
