import { leastSquares } from '../../dsp/leastSquares';
import type { LevelContour } from '../level/levelContour';
import { median, rmsOf } from '../statistics';
import { bounded, fitDecays, levelAt } from './decays';
import { MIN_STEPS, STEP_SECONDS, tailOf } from './tail';

/** Repeats nearer than this colour the tone; further ones are told apart from a second note by nothing. */
const LEAST_SECONDS = 0.05;
const MOST_SECONDS = 1.35;
/** Repeats that are tried first lie so far apart. */
const GRID = 1.03;
/** How many of them are fitted. */
const FITTED = 8;
/** Echoes have come round often enough by then. */
const MOST_TAIL_STEPS = 6 / STEP_SECONDS;

/** A tone that is let go and comes back; levels in dB. */
export interface Repeats {
  steps: number;
  /** The first repeat, against the tone. */
  levelDb: number;
  /** Every further one, against the one before. */
  feedbackDb: number;
  /** Of the tone itself, by 60 dB. */
  releaseSteps: number;
}

export interface Fit extends Repeats {
  /** Root mean square of what the model misses the level by, dB. */
  missedDb: number;
  from: number;
}

/** The time between repeats, to the step or near that. */
interface KnownTime {
  steps: number;
  isExact: boolean;
}

/** What comes back as loud as before is a movement of the tone; what is much softer is not heard. */
const LOUDEST_DB = -1.2;
const SOFTEST_DB = -26;

export const isRepeating = ({ levelDb, feedbackDb }: Repeats) =>
  levelDb < LOUDEST_DB && levelDb > SOFTEST_DB && feedbackDb < LOUDEST_DB;

const FLOOR_DB = -75;
const FLOOR = 10 ** (FLOOR_DB / 10);
const DB_OF_LOG = 10 / Math.LN10;
/** Of the level, the least that is the tone's own. */
const LEAST_OWN = 0.02;
const FIRST_RELEASES = [6, 20];
export const power = (db: number) => 10 ** (db / 10);

/** What a fall and a room behind it, both even, miss the level by, dB. */
export function evenFallMissesDb(levels: Float64Array, from: number, seenFallDb: number): number {
  const tail = tailFrom(levels, from, seenFallDb);
  const seconds = tail.map((_, i) => i * STEP_SECONDS);
  const line = tail.map((db) => db - tail[0]);
  const decays = fitDecays(seconds, line);
  return rootMeanSquare(line.map((db, i) => bounded(db - levelAt(decays, seconds[i]))));
}

/** How fast a level falls at the end, at least, dB a step. */
const FALLING_DB = 0.5;

/** The tail without its last fall, but for how that begins. */
function tailFrom(levels: Float64Array, from: number, seenFallDb: number): Float64Array {
  const tail = levels.subarray(from, from + Math.min(tailOf(levels, from), MOST_TAIL_STEPS));
  let end = tail.length;
  while (end > 1 && tail[end - 2] > tail[end - 1] + FALLING_DB) end--;
  const fallen = tail.subarray(end).findIndex((db) => db < tail[end - 1] - seenFallDb);
  return fallen < 0 ? tail : tail.subarray(0, end + fallen + 1);
}

const rootMeanSquare = (values: Float64Array) => rmsOf(values, 0, values.length);

/** Log steps, level, feedback, log release. */
const DIFFERENCES = [2e-3, 0.05, 0.05, 0.02];
const MOST_STEP = [0.02, 3, 3, 0.7];

/**
 * Ways in which a level from some step on is a tone that is let go and comes back, best first, by least
 * squares in dB.
 *
 * @param from where the tone is let go
 * @param seenFallDb how much is looked at of the fall that the tail ends with
 * @param known the time between repeats; otherwise all are tried
 */
export function fitRepeats(levels: Float64Array, from: number, seenFallDb: number, known?: KnownTime): Fit[] {
  const tail = tailFrom(levels, from, seenFallDb);
  if (tail.length < MIN_STEPS) return [];
  const powers = levels.subarray(0, from + tail.length).map(power);
  const seen = tail.subarray(1).map((db) => Math.max(db, FLOOR_DB));
  const parts = emptyParts(powers.length);
  const missed = (repeats: Repeats, out: Float64Array) => {
    const { own, returned } = partsOf(powers, from, repeats, parts);
    for (let i = 0; i < out.length; i++) {
      const model = DB_OF_LOG * Math.log(own[from + 1 + i] + returned[from + 1 + i] + FLOOR);
      out[i] = bounded(seen[i] - model);
    }
    return out;
  };
  const out = new Float64Array(tail.length - 1);
  const tried = (known ? [known.steps] : stepsUpTo(0.8 * tail.length)).flatMap((steps) => {
    const levelDb = softerBy(levels, from + 0.4 * steps, from + steps, steps);
    const feedbackDb = Math.min(-1, softerBy(levels, from + steps, from + tail.length, steps));
    return FIRST_RELEASES.map((releaseSteps) => {
      const repeats = { steps, levelDb, feedbackDb, releaseSteps };
      return { ...repeats, missedDb: rootMeanSquare(missed(repeats, out)), from };
    });
  });
  const repeatsOf = (point: ArrayLike<number>): Repeats => ({
    steps: Math.exp(point[0]),
    levelDb: point[1],
    feedbackDb: point[2],
    releaseSteps: Math.exp(point[3]),
  });
  const differences = known?.isExact ? [0, ...DIFFERENCES.slice(1)] : DIFFERENCES;
  const search = { count: out.length, differences, mostStep: MOST_STEP, mostIterations: 20 };
  return leastMissed(tried).map(({ steps, levelDb, feedbackDb, releaseSteps }) => {
    const residuals = (point: Float64Array, left: Float64Array) => {
      const repeats = repeatsOf(point);
      if (repeats.steps < 3 || repeats.levelDb > 3 || repeats.feedbackDb > 0 || repeats.feedbackDb < -60) return false;
      missed(repeats, left);
      return true;
    };
    const start = [Math.log(steps), levelDb, feedbackDb, Math.log(releaseSteps)];
    const { point, cost } = leastSquares(residuals, start, search);
    return { ...repeatsOf(point), missedDb: Math.sqrt(cost / search.count), from };
  });
}

/** Times between repeats to try, evenly apart in their logarithm. */
function stepsUpTo(most: number): number[] {
  const steps: number[] = [];
  for (let at = LEAST_SECONDS / STEP_SECONDS; at < Math.min(most, MOST_SECONDS / STEP_SECONDS); at *= GRID)
    steps.push(at);
  return steps;
}

/** Those that miss least, of each time one. */
function leastMissed(tried: Fit[]): Fit[] {
  const kept: Fit[] = [];
  for (const fit of tried.sort((a, b) => a.missedDb - b.missedDb))
    if (kept.length < FITTED && kept.every(({ steps }) => Math.abs(Math.log(steps / fit.steps)) > 2 * Math.log(GRID)))
      kept.push(fit);
  return kept;
}

/** By how much levels are under those of so many steps before, dB, median over a stretch. */
function softerBy(levels: Float64Array, from: number, to: number, steps: number): number {
  const falls: number[] = [];
  for (let i = Math.ceil(Math.max(from, steps)); i < Math.min(to, levels.length); i++) {
    const before = levels[i - Math.round(steps)];
    if (before > FLOOR_DB && levels[i] > FLOOR_DB) falls.push(levels[i] - before);
  }
  return falls.length > 0 ? median(falls) : -20;
}

/** What a level is made of at each step: powers of the tone itself, of what comes back, of all that will. */
interface Parts {
  own: Float64Array;
  returned: Float64Array;
  all: Float64Array;
}

const emptyParts = (steps: number): Parts => ({
  own: new Float64Array(steps),
  returned: new Float64Array(steps),
  all: new Float64Array(steps),
});

/** The parts of a level whose powers these are, written to `parts`. */
export function partsOf(
  powers: Float64Array,
  from: number,
  { steps, levelDb, feedbackDb, releaseSteps }: Repeats,
  parts = emptyParts(powers.length),
): Parts {
  const { own, returned, all } = parts;
  const [first, again] = [power(levelDb), power(feedbackDb)];
  const fall = 10 ** (-6 / releaseSteps);
  const whole = Math.floor(steps);
  const part = steps - whole;
  for (let i = 0; i < powers.length; i++) {
    const at = i - whole;
    const before = at >= 1 ? (1 - part) * all[at] + part * all[at - 1] : 0;
    returned[i] = first * before;
    own[i] = i <= from ? Math.max(LEAST_OWN * powers[i], powers[i] - returned[i]) : own[i - 1] * fall;
    all[i] = own[i] + again * before;
  }
  return parts;
}

/** The level of a tone without what comes back of it. */
export function levelWithoutRepeats(level: LevelContour, repeats: Repeats, fromSeconds: number): LevelContour {
  const { rms, hopSeconds } = level;
  const perStep = STEP_SECONDS / hopSeconds;
  const from = Math.round(fromSeconds / hopSeconds + perStep / 2);
  const steps = repeats.steps * perStep;
  const releaseSteps = repeats.releaseSteps * perStep;
  const powers = rms.map((x) => x * x);
  const { own } = partsOf(powers, from, { ...repeats, steps, releaseSteps });
  return { ...level, rms: own.map(Math.sqrt) };
}
