import { plainPatch } from '../../../test/patches';
import { createRandom } from '../../../test/signals';
import { routeSchema } from '../../patch/schemas/modulatorSchema';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import type { Layer, Patch } from '../../patch/schema';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import type { Freedom, Hypothesis } from '../explain/hypothesis';
import { chooseAmongFew, chooseBeginning } from './choices';
import type { Judge } from './judge';
import { parameterSpace } from './parameterSpace';
import { prune } from './prune';
import { refine } from './refine';
import { roundPatch } from './round';
import { screen } from './screen';
import { settingsOf } from './settings';

const layerOf = ({ layers: [layer] }: Patch): Layer => layer;
const filterOf = (patch: Patch) => layerOf(patch).filters[0] as Extract<Layer['filters'][0], { kind: 'lowpass' }>;

/** A saw, a soft sine beside it, a low-pass. */
function start(): Patch {
  const patch = plainPatch('saw');
  const layer = layerOf(patch);
  layer.sources.push(sourceSchema.parse({ kind: 'shape', id: 'sub', shape: 'sine', semitones: -12, levelDb: -20 }));
  layer.filters[0] = filterSchema.parse({ kind: 'lowpass', id: 'filter-1', cutoffHz: 500 });
  const route = { id: 'fall', from: 'filter-contour', to: { moduleId: 'filter-1', parameter: 'cutoffHz' }, amount: 12 };
  layer.routes = [routeSchema.parse(route)];
  return patch;
}

const cutoff: Freedom = { moduleId: 'filter-1', parameter: 'cutoffHz', stage: 'filter', step: 0.05 };
const amount: Freedom = { moduleId: 'fall', parameter: 'amount', stage: 'filter', step: 0.03 };

/** Hears nothing but numbers: how far a patch is from the cutoff and the amount that are wanted. */
function judgeOf(distanceOf: (patch: Patch) => number): Judge {
  let renders = 0;
  const distances = (patches: readonly Patch[]) => {
    renders += patches.length;
    return Promise.resolve(patches.map(distanceOf));
  };
  const distance = async (patch: Patch) => (await distances([patch]))[0];
  return { distances, distance, calibrate: () => Promise.resolve(), renders: () => renders };
}

it('moves numbers of modules and routes along their rulers, in a copy', () => {
  const patch = start();
  const space = parameterSpace(patch, [cutoff, amount, { ...cutoff, moduleId: 'gone' }]);
  expect(space.freedoms).toHaveLength(2);
  const point = space.pointOf(patch);
  expect(filterOf(space.at(point)).cutoffHz).toBeCloseTo(500, 3);
  expect(layerOf(space.at(point)).routes[0].amount).toBeCloseTo(12, 3);
  expect(filterOf(space.at([point[0] + 0.1, point[1]])).cutoffHz).toBeCloseTo(500 * 1000 ** 0.1, 0);
  expect(filterOf(patch).cutoffHz).toBe(500);
});

it('finds the numbers that a judge wants, and keeps the best it came by', async () => {
  const judge = judgeOf(
    (patch) =>
      Math.abs(Math.log2(filterOf(patch).cutoffHz / 1400)) + Math.abs(layerOf(patch).routes[0].amount - 30) / 12,
  );
  const limits = { maxRenders: 250, random: createRandom(4), isCancelled: () => false };
  const begun = { patch: start(), distance: await judge.distance(start()) };
  const { patch, distance } = await refine(begun, [cutoff, amount], judge, limits);
  expect(distance).toBeLessThan(0.1);
  expect(filterOf(patch).cutoffHz / 1400).toBeCloseTo(1, 1);
  expect((await refine({ patch, distance: 0 }, [cutoff], judge, limits)).patch).toBe(patch);
});

it('rounds to what a person would type, where that costs nothing', async () => {
  const patch = start();
  filterOf(patch).cutoffHz = 1397.312;
  const easy = await roundPatch(
    { patch, distance: 1 },
    [cutoff],
    judgeOf(() => 1),
    true,
  );
  expect(filterOf(easy.patch).cutoffHz).toBe(1400);
  const fussy = judgeOf((tried) => Math.abs(filterOf(tried).cutoffHz - 1397.312));
  const coarse = await roundPatch({ patch, distance: 0 }, [cutoff], fussy, true);
  expect(filterOf(coarse.patch).cutoffHz).toBe(1400);
  // Without time for trying it is not coarse, and nothing is asked but how far it is.
  const quick = await roundPatch({ patch, distance: 0 }, [cutoff, amount], fussy, false);
  expect(quick.distance).toBeCloseTo(Math.abs(filterOf(quick.patch).cutoffHz - 1397.312), 5);
});

const hypothesis = (name: string, brings: string[]): Hypothesis => ({
  name,
  stage: 'sources',
  confidence: 1,
  why: 'it is there',
  apply: () => {},
  freedoms: [],
  brings,
});
const hypotheses = [hypothesis('saw', []), hypothesis('sub', ['sub']), hypothesis('fall', ['fall'])];
const hasSub = (patch: Patch) => layerOf(patch).sources.some(({ id }) => id === 'sub');
const hasFall = (patch: Patch) => layerOf(patch).routes.length > 0;

describe('Screening', () => {
  const misled = judgeOf((patch) => 3 + (hasSub(patch) ? 0 : 1) + (hasFall(patch) ? 2 : 0));

  it('leaves out what takes the start further away, and only that', async () => {
    const { patch, distance, ...screened } = await screen(
      { patch: start(), distance: 5 },
      hypotheses,
      misled,
      () => false,
    );
    expect([hasSub(patch), hasFall(patch), distance]).toEqual([true, false, 3]);
    expect(screened.leftOut.map(({ name }) => name)).toEqual(['fall']);
    expect(screened.hypotheses.map(({ name }) => name)).toEqual(['saw', 'sub']);
  });

  it('leaves what is locked, and what does little', async () => {
    const locked = await screen({ patch: start(), distance: 5 }, hypotheses, misled, (id) => id === 'fall');
    expect(locked.leftOut).toEqual([]);
    const small = judgeOf((patch) => (hasFall(patch) ? 3.2 : 3));
    expect((await screen({ patch: start(), distance: 3.2 }, hypotheses, small, () => false)).leftOut).toEqual([]);
  });

  it('leaves what a structure is nothing without', async () => {
    const assumed = hypotheses.map((own) => (own.name === 'fall' ? { ...own, isAssumed: true } : own));
    expect((await screen({ patch: start(), distance: 5 }, assumed, misled, () => false)).leftOut).toEqual([]);
  });
});

describe('The beginning', () => {
  const mainOf = (patch: Patch) => layerOf(patch).sources[0] as Extract<Layer['sources'][0], { kind: 'shape' }>;
  const slow = (attackSeconds: number) => {
    const patch = start();
    layerOf(patch).amp.attackSeconds = attackSeconds;
    return patch;
  };
  /** Wants a start half a period on, at once. */
  const judge = judgeOf(
    (patch) =>
      Math.abs(mainOf(patch).startPhaseCycles - 0.5) + (layerOf(patch).amp.attackSeconds > 0.002 ? 1 : 0) + 0.1,
  );
  const chosen = (seconds: number, isFree: (freedom: Freedom) => boolean) =>
    chooseBeginning({ patch: slow(seconds), distance: 1.6 }, 0.02, judge, isFree);

  it('of a low note is where and how it comes nearest', async () => {
    const { patch, distance } = await chosen(0.01, () => true);
    expect(mainOf(patch).startPhaseCycles).toBe(0.5);
    expect(layerOf(patch).amp.attackSeconds).toBe(0.001);
    expect(distance).toBeCloseTo(0.1, 5);
  });

  it('is as it was read where the rise is longer than the period, or held', async () => {
    expect((await chosen(0.05, () => true)).distance).toBe(1.6);
    const held = await chosen(0.01, ({ stage }) => stage !== 'level');
    expect(layerOf(held.patch).amp.attackSeconds).toBe(0.01);
    expect(mainOf(held.patch).startPhaseCycles).toBe(0.5);
  });
});

describe('What there are a few of', () => {
  const bent = start();
  layerOf(bent).shaper = { ...layerOf(bent).shaper, on: true, curve: 'soft', driveDb: 12 };
  const wanted = (patch: Patch) =>
    (layerOf(patch).shaper.curve === 'hard' ? 0 : 1) + Math.abs(filterOf(patch).slopeDbPerOctave - 12) / 12;
  const limits = { maxRenders: 20, random: createRandom(4), isCancelled: () => false };
  const chosen = (from: Patch, isLocked: (moduleId: string) => boolean) =>
    chooseAmongFew({ patch: from, distance: wanted(from) }, [], judgeOf(wanted), limits, isLocked);

  it('is chosen as it comes nearest, with what that is worth', async () => {
    const { patch, distance, why } = await chosen(bent, () => false);
    expect(distance).toBe(0);
    expect(filterOf(patch).slopeDbPerOctave).toBe(12);
    expect(layerOf(patch).shaper.curve).toBe('hard');
    expect(why).toEqual([
      'slope: 12 dB an octave comes 1.0 JND nearer than the 24 that were read',
      'curve: hard comes 1.0 JND nearer than soft',
    ]);
  });

  it('stays where it is locked, or is not there', async () => {
    const { patch, why } = await chosen(bent, (moduleId) => moduleId === 'shaper');
    expect(layerOf(patch).shaper.curve).toBe('soft');
    expect(why).toHaveLength(1);
    expect((await chosen(start(), (moduleId) => moduleId === 'filter-1')).why).toEqual([]);
  });
});

describe('Pruning', () => {
  const judge = judgeOf((patch) => 1 + (hasSub(patch) ? 0 : 2) + (hasFall(patch) ? 0 : 0.05));

  it('takes away what is worth less than its price, and says what the rest is worth', async () => {
    const pruned = await prune({ patch: start(), distance: 1 }, hypotheses, judge, () => false);
    expect(hasSub(pruned.patch)).toBe(true);
    expect(hasFall(pruned.patch)).toBe(false);
    expect(pruned.kept.map(({ hypothesis: { name }, worthJnd }) => [name, worthJnd && Math.round(worthJnd)])).toEqual([
      ['saw', null],
      ['sub', 2],
    ]);
    expect(pruned.dropped.map(({ hypothesis: { name } }) => name)).toEqual(['fall']);
  });

  it('leaves what is locked', async () => {
    const pruned = await prune({ patch: start(), distance: 1 }, hypotheses, judge, (id) => id === 'fall');
    expect(hasFall(pruned.patch)).toBe(true);
  });
});

it('counts what a person would have to set', () => {
  const plain = settingsOf(plainPatch('saw'));
  expect(settingsOf(start())).toBeGreaterThan(plain + 4);
  const drawn = start();
  const points = Array.from({ length: 50 }, (_, i) => ({ seconds: i, value: 0 }));
  layerOf(drawn).modulators.push({ kind: 'contour', id: 'line', name: 'Line', points });
  const unused = settingsOf(drawn);
  layerOf(drawn).routes.push(
    routeSchema.parse({ id: 'x', from: 'line', to: { moduleId: 'layer', parameter: 'levelDb' }, amount: 3 }),
  );
  expect(settingsOf(drawn)).toBeGreaterThanOrEqual(unused + 100);
});
