import { type ShaperCurve, shaperTitles } from '../../parameters/shapes';
import type { Freedom, Stage } from '../explain/hypothesis';
import type { Patch } from '../../patch/schema';
import type { Judge } from './judge';
import { copied } from './parameterSpace';
import { type Limits, type Refined, refine } from './refine';

/** What something else than was read has to be worth. */
const WORTH_JND = 0.1;
/** Further away than this as it stands, it is not turned. */
const NEAR_JND = 3;

export interface Chosen extends Refined {
  /** What was chosen otherwise than it was read, in words. */
  why: string[];
}

/** Something of which there are a few, and which the evidence does not tell for sure. */
interface Choice {
  moduleId: string;
  /** Whose numbers are turned a little with each. */
  stage: Stage;
  /** Patches with others in its place, and why one of them is taken. */
  others(patch: Patch): { patch: Patch; why: (nearer: string) => string }[];
}

const SLOPES = [6, 12, 18, 24] as const;

/** Next to the one that was read: a resonance or a drive makes a low-pass look steeper or less so. */
const slope: Choice = {
  moduleId: 'filter-1',
  stage: 'filter',
  others(patch) {
    const [filter] = patch.layers[0].filters;
    if (!filter.on || filter.kind !== 'lowpass') return [];
    const read = filter.slopeDbPerOctave;
    return SLOPES.filter((other) => other !== read && Math.abs(other - read) <= 12).map((other) => {
      const changed = copied(patch);
      Object.assign(changed.layers[0].filters[0], { slopeDbPerOctave: other });
      const why = (nearer: string) =>
        `slope: ${other} dB an octave comes ${nearer} JND nearer than the ${read} that were read`;
      return { patch: changed, why };
    });
  },
};

/** Readings take one of these for another: driven a little, all of them bend alike. */
const CURVES: readonly ShaperCurve[] = ['soft', 'hard', 'roundFold'];

const curve: Choice = {
  moduleId: 'shaper',
  stage: 'dirt',
  others(patch) {
    const { shaper } = patch.layers[0];
    if (!shaper.on || !CURVES.includes(shaper.curve)) return [];
    return CURVES.filter((other) => other !== shaper.curve).map((other) => {
      const changed = copied(patch);
      changed.layers[0].shaper.curve = other;
      const why = (nearer: string) =>
        `curve: ${shaperTitles[other]} comes ${nearer} JND nearer than ${shaperTitles[shaper.curve]}`;
      return { patch: changed, why };
    });
  },
};

/** All choices, one after the other, but for those of modules that are locked. */
export async function chooseAmongFew(
  start: Refined,
  freedoms: readonly Freedom[],
  judge: Judge,
  limits: Limits,
  isLocked: (moduleId: string) => boolean,
): Promise<Chosen> {
  let best: Chosen = { ...start, why: [] };
  for (const choice of [slope, curve])
    if (!isLocked(choice.moduleId)) best = await choose(choice, best, freedoms, judge, limits);
  return best;
}

/** The nearest of the few, each with the numbers that belong to it turned a little. */
async function choose(
  { stage, others }: Choice,
  start: Chosen,
  freedoms: readonly Freedom[],
  judge: Judge,
  limits: Limits,
): Promise<Chosen> {
  const own = freedoms.filter((freedom) => freedom.stage === stage);
  const tried = others(start.patch);
  const distances = await judge.distances(tried.map(({ patch }) => patch));
  let best = start;
  for (const [i, { patch, why }] of tried.entries()) {
    if (distances[i] > start.distance + NEAR_JND) continue;
    const turned = await refine({ patch, distance: distances[i] }, own, judge, limits);
    if (turned.distance > best.distance - WORTH_JND) continue;
    best = { ...turned, why: [...start.why, why((start.distance - turned.distance).toFixed(1))] };
  }
  return best;
}

const AT_ONCE_SECONDS = 0.001;
/** A rise that takes so many periods is seen in the level, wherever a period begins. */
const UNSURE_PERIODS = 1.5;
const BEGINNINGS = [0, 0.25, 0.5, 0.75];

/**
 * Where in their periods sources begin, and whether at once: of a low note the level does not tell a rise
 * from the part of a period that comes first.
 */
export async function chooseBeginning(
  start: Refined,
  periodSeconds: number,
  judge: Judge,
  isFree: (freedom: Freedom) => boolean,
): Promise<Refined> {
  const [{ amp, sources }] = start.patch.layers;
  const isOpen = (moduleId: string, parameter: string, stage: Freedom['stage']) =>
    isFree({ moduleId, parameter, stage, step: 1 });
  const isUnsure = amp.attackSeconds > AT_ONCE_SECONDS && amp.attackSeconds < UNSURE_PERIODS * periodSeconds;
  const fixed = sources.filter((source) => 'startPhaseRandom' in source && source.startPhaseRandom === 0);
  const ids = fixed.map(({ id }) => id).filter((id) => isOpen(id, 'startPhaseCycles', 'sources'));
  if (!isUnsure || ids.length === 0) return start;
  const attacks = isOpen('amp', 'attackSeconds', 'level') ? [amp.attackSeconds, AT_ONCE_SECONDS] : [amp.attackSeconds];
  const patches = attacks.flatMap((attackSeconds) =>
    BEGINNINGS.map((cycles) => begun(start.patch, attackSeconds, ids, cycles)),
  );
  const distances = await judge.distances(patches);
  const nearest = distances.indexOf(Math.min(...distances));
  return distances[nearest] < start.distance - WORTH_JND
    ? { patch: patches[nearest], distance: distances[nearest] }
    : start;
}

function begun(patch: Patch, attackSeconds: number, ids: readonly string[], cycles: number): Patch {
  const changed = copied(patch);
  const [layer] = changed.layers;
  layer.amp.attackSeconds = attackSeconds;
  for (const source of layer.sources)
    if ('startPhaseCycles' in source && ids.includes(source.id))
      source.startPhaseCycles = (source.startPhaseCycles + cycles) % 1;
  return changed;
}
