import { nelderMead } from './nelderMead';

it('finds the minimum of Rosenbrock’s valley at (1, 1)', () => {
  const { point, cost } = nelderMead(([x, y]) => 100 * (y - x * x) ** 2 + (1 - x) ** 2, [-1.2, 1], [0.5, 0.5], 1000);
  expect(cost).toBeLessThan(1e-8);
  expect(point[0]).toBeCloseTo(1, 3);
  expect(point[1]).toBeCloseTo(1, 3);
});

it('keeps out of regions where the cost is infinite', () => {
  const { point } = nelderMead(([x]) => (x < 2 ? Infinity : x), [5], [1], 300);
  expect(point[0]).toBeGreaterThanOrEqual(2);
  expect(point[0]).toBeLessThan(2.01);
});
