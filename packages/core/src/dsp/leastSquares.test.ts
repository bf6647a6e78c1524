import { leastSquares } from './leastSquares';

it('finds the minimum of Rosenbrock’s valley at (1, 1)', () => {
  const { point, cost } = leastSquares(
    ([x, y], out) => {
      out[0] = 10 * (y - x * x);
      out[1] = 1 - x;
      return true;
    },
    [-1.2, 1],
    { count: 2, differences: [1e-6, 1e-6], mostIterations: 100 },
  );
  expect(cost).toBeLessThan(1e-12);
  expect(point[0]).toBeCloseTo(1, 5);
  expect(point[1]).toBeCloseTo(1, 5);
});

// y = b1 (1 − exp(−b2 x)): Misra1a of NIST's Statistical Reference Datasets, certified values.
it('finds the certified values of a fit of exponentials', () => {
  const x = [77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0];
  const y = [10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.4, 75.47, 81.78];
  const { point, cost } = leastSquares(
    ([b1, b2], out) => {
      x.forEach((at, i) => (out[i] = b1 * (1 - Math.exp(-b2 * at)) - y[i]));
      return true;
    },
    [500, 0.0001],
    { count: x.length, differences: [1e-3, 1e-9], mostIterations: 100 },
  );
  expect(cost).toBeCloseTo(1.2455138894e-1, 5);
  expect(point[0] / 2.3894212918e2).toBeCloseTo(1, 4);
  expect(point[1] / 5.5015643181e-4).toBeCloseTo(1, 4);
});

it('keeps out of what is not allowed, and leaves alone what changes nothing', () => {
  const residuals = ([x]: Float64Array, out: Float64Array) => {
    out[0] = x;
    return x >= 2;
  };
  const { point } = leastSquares(residuals, [5, 7], { count: 1, differences: [1e-6, 1e-6], mostIterations: 100 });
  expect(point[0]).toBeGreaterThanOrEqual(2);
  expect(point[0]).toBeLessThan(2.2);
  expect(point[1]).toBe(7);
});

it('takes no step to where the model is no number', () => {
  const residuals = ([x]: Float64Array, out: Float64Array) => {
    out[0] = x < 2 ? NaN : x;
    return true;
  };
  const { point, cost } = leastSquares(residuals, [5], { count: 1, differences: [1e-6], mostIterations: 100 });
  expect(point[0]).toBeGreaterThanOrEqual(2);
  expect(cost).toBeLessThan(25);
});
