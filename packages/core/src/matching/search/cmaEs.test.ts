import { createRandom } from '../../../test/signals';
import { cmaEs } from './cmaEs';

const sphere = (x: readonly number[]) => x.reduce((sum, v) => sum + v * v, 0);
const ellipsoid = (x: readonly number[]) => x.reduce((sum, v, i) => sum + 10 ** ((6 * i) / (x.length - 1)) * v * v, 0);
/** All points of a generation, one after the other. */
const each = (cost: (x: readonly number[]) => number) => (points: readonly (readonly number[])[]) =>
  Promise.resolve(points.map(cost));
const rosenbrock = (x: readonly number[]) =>
  x.slice(1).reduce((sum, v, i) => sum + 100 * (x[i] ** 2 - v) ** 2 + (x[i] - 1) ** 2, 0);

/**
 * Evaluations until f < 1e-9 from (0.1, …), steps of 0.1 (ellipsoid, Rosenbrock) or 1: Hansen & Ostermeier,
 * "Completely derandomized self-adaptation in evolution strategies" (2001), and Hansen & Kern (2004), read
 * off their plots and rounded up; the median of runs is compared.
 */
it.each([
  ['sphere of 5', sphere, 5, 1, 1000],
  ['sphere of 10', sphere, 10, 1, 2000],
  ['ellipsoid of 5', ellipsoid, 5, 0.1, 3500],
  ['ellipsoid of 10', ellipsoid, 10, 0.1, 8000],
  ['Rosenbrock of 5', rosenbrock, 5, 0.1, 4000],
] as const)('reaches the minimum of a %s within the published number of evaluations', async (_, f, n, step, most) => {
  const searches = [1, 2, 3, 4, 5].map(async (seed) => {
    const { cost, evaluations } = await cmaEs(each(f), {
      start: new Array<number>(n).fill(0.1),
      steps: new Array<number>(n).fill(step),
      maxEvaluations: 3 * most,
      random: createRandom(seed),
      goal: 1e-9,
      bounded: false,
    });
    return cost <= 1e-9 ? evaluations : Infinity;
  });
  const runs = await Promise.all(searches);
  expect(runs.sort((a, b) => a - b)[2]).toBeLessThan(most);
});

it('stays within its bounds, also where the minimum lies outside', async () => {
  const tried: number[] = [];
  const { best } = await cmaEs(
    each((x) => {
      tried.push(...x);
      return (x[0] - 2) ** 2 + (x[1] - 0.25) ** 2;
    }),
    { start: [0.5, 0.5], steps: [0.2, 0.2], maxEvaluations: 600, random: createRandom(3) },
  );
  expect(Math.min(...tried)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...tried)).toBeLessThanOrEqual(1);
  expect(best[0]).toBeCloseTo(1, 3);
  expect(best[1]).toBeCloseTo(0.25, 2);
});

it('is the same for the same numbers, ends where it is told to, and keeps its best', async () => {
  const run = async (seed: number, most = 400) => {
    let least = Infinity;
    const state = await cmaEs(
      each((x) => {
        const cost = rosenbrock(x);
        least = Math.min(least, cost);
        return cost;
      }),
      { start: [0.1, 0.1, 0.1], steps: [0.1, 0.1, 0.1], maxEvaluations: most, random: createRandom(seed) },
    );
    expect(state.cost).toBe(least);
    return state;
  };
  expect(await run(7)).toEqual(await run(7));
  expect((await run(7)).best).not.toEqual((await run(8)).best);
  expect((await run(7, 50)).evaluations).toBeLessThanOrEqual(50);
  const ended = await cmaEs(each(sphere), {
    start: [0.5, 0.5],
    steps: [0.1, 0.1],
    maxEvaluations: 1000,
    random: createRandom(1),
    isCancelled: ({ evaluations }) => evaluations > 30,
  });
  expect(ended.evaluations).toBeLessThan(45);
});
