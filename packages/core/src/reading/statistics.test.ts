import { createRandom } from '../../test/signals';
import { correlation, fitLine, legendre, mean, median, quantile, rmsOf, withoutCourse } from './statistics';

const places = Array.from({ length: 41 }, (_, i) => -1 + i / 20);

it('takes quantiles between values in a straight line, whatever their order', () => {
  expect(quantile([30, 10, 20], 0)).toBe(10);
  expect(quantile([30, 10, 20], 1)).toBe(30);
  expect(quantile([30, 10, 20], 0.25)).toBe(15);
  expect(median([4, 1, 3, 2])).toBe(2.5);
  expect(quantile([], 0.5)).toBeNaN();
});

it('sorts numbers as numbers and leaves the values as they are', () => {
  const values = [100, 9, 20];
  expect(median(values)).toBe(20);
  expect(values).toEqual([100, 9, 20]);
});

it('takes the RMS of what there is of a stretch', () => {
  expect(rmsOf([3, 4, 100], 0, 2)).toBeCloseTo(Math.sqrt(12.5), 12);
  expect(rmsOf([3, 4], 1, 50)).toBe(4);
  expect(rmsOf([3, 4], 7, 9)).toBe(0);
});

it('fits a line through points, and lets those without weight stray', () => {
  const xs = [0, 1, 2, 3];
  const line = fitLine(xs, [5, 7, 9, 400], [1, 2, 1, 0]);
  expect(line.slope).toBeCloseTo(2, 12);
  expect(line.intercept).toBeCloseTo(5, 12);
});

it('takes a line through points over one place to be flat', () => {
  expect(fitLine([2, 2, 2], [1, 2, 3], [1, 1, 1])).toEqual({ intercept: 2, slope: 0 });
});

it('tells how two series go together', () => {
  const xs = [1, 2, 3, 4];
  expect(
    correlation(
      xs,
      xs.map((x) => 7 - 3 * x),
    ),
  ).toBeCloseTo(-1, 12);
  expect(correlation(xs, [5, 5, 5, 5])).toBe(0);
  expect(correlation([-1, 0, 1], [1, 0, 1])).toBeCloseTo(0, 12);
});

// Abramowitz & Stegun 22.4 and table 22.9.
it('makes the polynomials of Legendre', () => {
  for (const x of places) {
    expect(legendre(0, x)).toBe(1);
    expect(legendre(1, x)).toBe(x);
    expect(legendre(2, x)).toBeCloseTo((3 * x * x - 1) / 2, 12);
    expect(legendre(4, x)).toBeCloseTo((35 * x ** 4 - 30 * x * x + 3) / 8, 12);
  }
  for (const order of [1, 2, 3, 7]) expect(legendre(order, 1)).toBeCloseTo(1, 12);
});

describe('The course of a line', () => {
  const times = Array.from({ length: 200 }, (_, i) => 3 + i / 50);

  it('is gone where it is a polynomial of the order', () => {
    const cubic = times.map((t) => 2 - t + 0.3 * t * t - 0.02 * t ** 3);
    expect(Math.max(...withoutCourse(times, cubic, 3).map(Math.abs))).toBeLessThan(0.003);
    expect(Math.max(...withoutCourse(times, cubic, 1).map(Math.abs))).toBeGreaterThan(0.05);
  });

  it('leaves what goes round quickly', () => {
    const wobble = times.map((t) => Math.sin(2 * Math.PI * 3 * t));
    const left = withoutCourse(
      times,
      wobble.map((x, i) => x + 5 * times[i]),
      3,
    );
    expect(correlation(left, wobble)).toBeGreaterThan(0.99);
  });

  it('leaves nothing that goes on in one direction', () => {
    const random = createRandom(5);
    const noisy = times.map((t) => 4 * t + random() - 0.5);
    const left = withoutCourse(times, noisy, 1);
    expect(mean(left)).toBeCloseTo(0, 6);
    expect(Math.abs(correlation(left, times))).toBeLessThan(1e-3);
  });
});
