import { createRandom } from '../../../test/signals';
import { findPeriodicMovement, foldTurn, nearestMovementShape } from './periodicMovement';

const SEARCH = { minHz: 0.5, maxHz: 12, leastDepth: 0.1 };
const HOP = 0.01;

/** A series of values, 10 ms apart. */
function series(seconds: number, value: (t: number) => number) {
  const times = Float64Array.from({ length: Math.round(seconds / HOP) }, (_, i) => i * HOP);
  return [times, times.map(value)] as const;
}

const turn = (x: number) => x - Math.floor(x);

describe('A periodic movement over a slow course', () => {
  it.each([
    [5.3, 0.5],
    [2.1, 3],
    [7.9, 12],
  ])('%d Hz, depth %d, on a decay and in noise: rate within 1 %%, depth within 10 %%', (rateHz, depth) => {
    const random = createRandom(11);
    const found = findPeriodicMovement(
      ...series(2.5, (t) => -6 * t + depth * (Math.sin(2 * Math.PI * rateHz * t + 1) + 0.3 * (random() - 0.5))),
      SEARCH,
    )!;
    expect(Math.abs(found.rateHz / rateHz - 1)).toBeLessThan(0.01);
    expect(Math.abs(found.depth / depth - 1)).toBeLessThan(0.1);
    expect(found.explained).toBeGreaterThan(0.9);
    expect(found.onsetSeconds).toBe(0);
    expect(found.turns).toBeCloseTo(2.5 * rateHz, 0);
  });

  it('is found where values are missing', () => {
    const found = findPeriodicMovement(
      ...series(2, (t) => (turn(3 * t) < 0.4 ? NaN : Math.sin(2 * Math.PI * 4 * t))),
      SEARCH,
    )!;
    expect(Math.abs(found.rateHz - 4)).toBeLessThan(0.04);
  });

  it('that comes in late has its time, within 0.15 s, and its whole depth', () => {
    const found = findPeriodicMovement(
      ...series(3, (t) => Math.min(1, Math.max(0, 2 * (t - 0.6))) * Math.sin(2 * Math.PI * 6 * t)),
      SEARCH,
    )!;
    // Half of the way is at 0.85 s.
    expect(Math.abs(found.onsetSeconds - 0.85)).toBeLessThan(0.15);
    expect(Math.abs(found.depth - 1)).toBeLessThan(0.1);
  });

  it('that grows all along is explained where it may, by the depth of each moment', () => {
    const growing = series(2, (t) => Math.max(0, t - 0.5) * Math.sin(2 * Math.PI * 5.5 * t));
    expect(findPeriodicMovement(...growing, { ...SEARCH, mayGrow: true })!.explained).toBeGreaterThan(0.9);
    expect(findPeriodicMovement(...growing, SEARCH)?.explained ?? 0).toBeLessThan(0.7);
  });

  it.each([
    ['nothing but a slow course', (t: number) => 3 * t - t * t],
    ['less than is looked for', (t: number) => 0.05 * Math.sin(2 * Math.PI * 4 * t)],
    ['less than two turns', (t: number) => Math.sin(2 * Math.PI * 0.6 * t)],
  ])('is not told of %s', (_, value) => {
    expect(findPeriodicMovement(...series(2, value), SEARCH)).toBeUndefined();
  });

  it('is not told of noise, of 20 runs', () => {
    for (let seed = 0; seed < 20; seed++) {
      const random = createRandom(seed);
      const noise = series(2, () => 2 * random() - 1);
      expect(findPeriodicMovement(...noise, SEARCH)).toBeUndefined();
      expect(findPeriodicMovement(...noise, { ...SEARCH, mayGrow: true })).toBeUndefined();
    }
  });
});

describe('The shape of a turn', () => {
  const shapes = {
    sine: (x: number) => Math.sin(2 * Math.PI * x),
    triangle: (x: number) => Math.abs(2 * x - 1),
    rising: (x: number) => x,
    falling: (x: number) => -x,
    square: (x: number) => (x < 0.5 ? 1 : 0),
  };

  it.each(Object.entries(shapes))('%s, folded out of many and wherever it begins', (name, shape) => {
    for (const begins of [0, 0.3, 0.8]) {
      const [times, values] = series(4, (t) => shape(turn(2.3 * t + begins)));
      expect(nearestMovementShape(foldTurn(times, values, 2.3))).toBe(name);
    }
  });
});
