import { createRandom } from '../../test/signals';
import { findCommonRate } from './commonRate';

const HOP_SECONDS = 0.01;

/** Lines over some seconds, each by its own formula. */
function lines(seconds: number, ...formulas: ((t: number, i: number) => number)[]) {
  const times = Float64Array.from({ length: Math.round(seconds / HOP_SECONDS) }, (_, i) => i * HOP_SECONDS);
  return { seconds: times, values: formulas.map((formula) => times.map(formula)) };
}

const wave =
  (hz: number, phase = 0) =>
  (t: number) =>
    Math.sin(2 * Math.PI * (hz * t + phase));
const ramp = (hz: number) => (t: number) => (hz * t) % 1;
const noise = (seed: number) => {
  const random = createRandom(seed);
  return () => random() - 0.5;
};

it.each([0.8, 1.37, 2.9, 5.21, 7.7])('tells the rate of lines that turn at %d Hz, each in its own phase', (hz) => {
  const found = findCommonRate(lines(4, wave(hz), wave(hz, 0.3), wave(hz, 0.6)), 0.3, 12)!;
  expect(Math.abs(found.rateHz / hz - 1)).toBeLessThan(0.01);
  expect(found.explained).toBeGreaterThan(0.9);
  expect(found.turns).toBeCloseTo(4 * hz, 0);
});

it('tells the rate of sharp shapes, not half of it', () => {
  const found = findCommonRate(
    lines(5, ramp(2.5), (t) => (ramp(2.5)(t) < 0.3 ? 1 : 0)),
    0.3,
    12,
  )!;
  expect(found.rateHz).toBeCloseTo(2.5, 1);
});

it('sees what comes round under a slow course and noise', () => {
  const hiss = noise(3);
  const found = findCommonRate(
    lines(4, (t) => 6 * t - t * t + wave(4.4)(t) + hiss()),
    0.5,
    12,
  )!;
  expect(found.rateHz).toBeCloseTo(4.4, 1);
  expect(found.explained).toBeGreaterThan(0.6);
});

it('finds that noise hardly comes round', () => {
  const explained = [1, 2, 3, 4, 5].map((seed) => findCommonRate(lines(4, noise(seed), noise(seed + 50)), 0.5, 12));
  for (const found of explained) expect(found?.explained ?? 0).toBeLessThan(0.3);
});

it('tells nothing of lines that stand still, are too short, or of rates that do not fit', () => {
  expect(
    findCommonRate(
      lines(4, () => 1),
      0.5,
      12,
    ),
  ).toBeUndefined();
  expect(findCommonRate(lines(0.2, wave(10)), 0.5, 12)).toBeUndefined();
  expect(findCommonRate(lines(1, wave(1)), 0.5, 1.5)).toBeUndefined();
});
