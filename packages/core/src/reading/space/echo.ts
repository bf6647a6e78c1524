import { leastSquares } from '../../dsp/leastSquares';
import { divisionOf } from '../piece/heardDivision';
import type { LevelContour } from '../level/levelContour';
import type { Reading } from '../schema';
import { mean, median } from '../statistics';
import { bounded, fitDecays, levelAt } from './decays';
import { MIN_STEPS, STEP_SECONDS, tailOf, tailStarts } from './tail';

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
interface Repeats {
  steps: number;
  /** The first repeat, against the tone. */
  levelDb: number;
  /** Every further one, against the one before. */
  feedbackDb: number;
  /** Of the tone itself, by 60 dB. */
  releaseSteps: number;
}

interface Fit extends Repeats {
  /** Root mean square of what the model misses the level by, dB. */
  missedDb: number;
  from: number;
}

const FLOOR_DB = -75;
/** Of the level, the least that is the tone's own. */
const LEAST_OWN = 0.02;
const FIRST_RELEASES = [6, 20];
const power = (db: number) => 10 ** (db / 10);

export type Echo = NonNullable<Reading['traits']['space']['echo']>;

export interface FoundEcho {
  echo: Omit<Echo, 'changesSides'>;
  confidence: number;
  repeats: Repeats;
  /** Where the tone is let go, or before it comes back. */
  fromSeconds: number;
  /** Whether the tone itself is louder than its repeats for as long as it is held. */
  isHeld: boolean;
}

/**
 * The echo that the level of a note comes back by, and how sure that is; undefined without one. Until it is
 * let go, the tone itself is what the level has beside its repeats; then it falls evenly, and all else is
 * repeats of what was. Time, level, feedback and release are those that miss the rest of the level least
 * (our own method; powers add up, as those of sounds that have nothing to do with one another).
 *
 * @param levels dB against the loudest, in steps
 */
export function echoOf(levels: Float64Array, bpm: number | null): FoundEcho | undefined {
  const endless = echoesIn(levels, SEEN_FALL_DB);
  // Of a few repeats and no more, the last fall says that there are none.
  const echoes =
    endless.length > 0 ? endless : echoesIn(levels, BEGUN_FALL_DB).filter((fit) => isSofter(fit) && !isOne(fit));
  if (echoes.length === 0) return undefined;
  const least = Math.min(...echoes.map(({ missedDb }) => missedDb));
  // From the first repeat on, a tone with repeats looks the same but for what it says of the first.
  const good = echoes.filter(({ missedDb }) => missedDb < AS_GOOD * least + AS_GOOD_DB);
  const best = good.reduce((a, b) => (b.from < a.from || (b.from === a.from && b.missedDb < a.missedDb) ? b : a));
  const same = good.filter(({ steps }) => Math.abs(Math.log(steps / best.steps)) < SAME_TIME);
  const seconds = same.reduce((a, b) => (b.missedDb < a.missedDb ? b : a)).steps * STEP_SECONDS;
  const echo = {
    seconds: Number(seconds.toPrecision(4)),
    division: (bpm === null ? undefined : divisionOf(1 / seconds, bpm)) ?? null,
    feedback: Number((10 ** (best.feedbackDb / 20)).toFixed(3)),
    levelDb: Number(best.levelDb.toFixed(1)),
  };
  const confidence = Math.max(0.5, Math.min(0.95, 1 - best.missedDb / 6));
  const { own, returned } = partsOf(levels.map(power), best.from, best);
  const isHeld = own[best.from] > HELD * returned[best.from] && returned[best.from] > 0;
  return { echo, confidence, repeats: best, fromSeconds: best.from * STEP_SECONDS, isHeld };
}

const AS_GOOD = 1.6;
const AS_GOOD_DB = 0.4;
/** By how much, in power, a tone that is held is over its repeats. */
const HELD = 2;
/** Times that are one, log. */
const SAME_TIME = 0.05;

/** What comes back as loud as before is a movement of the tone; what is much softer is not heard. */
const LOUDEST_DB = -1.2;
const SOFTEST_DB = -26;
const MOST_MISSED_DB = 2;
/** More may be missed at the edges of gaps, where a fall and a room miss most: a share of that. */
const FAR_BETTER = 0.3;
/** One repeat and no more is soon found in the beating of voices: it has to be met better. */
const ONLY_ONE_DB = -18;
const ONE_MISSED_DB = 0.8;
/** A tone that goes on for a while looks like one repeat, as loud as it was. */
const SOFTER_DB = -5;
/** By the time that it comes, the tone itself has to have fallen so far under it. */
const STANDS_OUT_DB = 6;
/** Of what an even fall, and a room behind it, misses. */
const LEAST_GAIN = 0.62;
/** Where those miss no more, nothing comes back. */
const LEAST_UNEVEN_DB = 0.9;

/** How much is looked at of the fall that a tail ends with, dB. */
const SEEN_FALL_DB = 25;
const BEGUN_FALL_DB = 8;

const echoesIn = (levels: Float64Array, seenFallDb: number) =>
  tailStarts(levels)
    .flatMap((from) => fitRepeats(levels, from, seenFallDb))
    .filter((fit) => isEcho(fit, evenFallMissesDb(levels, fit.from, seenFallDb)));

const isOne = ({ feedbackDb }: Fit) => feedbackDb < ONLY_ONE_DB;
const isSofter = ({ levelDb }: Fit) => levelDb < SOFTER_DB;

function isEcho(fit: Fit, evenDb: number): boolean {
  if (fit.levelDb > LOUDEST_DB || fit.levelDb < SOFTEST_DB || fit.feedbackDb > LOUDEST_DB) return false;
  if (fit.levelDb < (-60 * fit.steps) / fit.releaseSteps + STANDS_OUT_DB) return false;
  if (isOne(fit) && !isSofter(fit)) return false;
  if (evenDb < LEAST_UNEVEN_DB) return false;
  const mostDb = isOne(fit) ? ONE_MISSED_DB : MOST_MISSED_DB;
  return fit.missedDb < Math.max(FAR_BETTER * evenDb, Math.min(mostDb, LEAST_GAIN * evenDb));
}

/** What a fall and a room behind it, both even, miss the level by, dB. */
function evenFallMissesDb(levels: Float64Array, from: number, seenFallDb: number): number {
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

const rootMeanSquare = (values: Float64Array) => Math.sqrt(mean(values.map((x) => x * x)));

/** Log steps, level, feedback, log release. */
const DIFFERENCES = [2e-3, 0.05, 0.05, 0.02];
const MOST_STEP = [0.02, 3, 3, 0.7];

function fitRepeats(levels: Float64Array, from: number, seenFallDb: number): Fit[] {
  const tail = tailFrom(levels, from, seenFallDb);
  if (tail.length < MIN_STEPS) return [];
  const powers = levels.subarray(0, from + tail.length).map(power);
  const missed = (repeats: Repeats, out: Float64Array) => {
    const model = levelsOf(powers, from, repeats);
    for (let i = 0; i < out.length; i++) out[i] = bounded(Math.max(tail[i + 1], FLOOR_DB) - model[i]);
    return out;
  };
  const most = Math.min(MOST_SECONDS / STEP_SECONDS, 0.8 * tail.length);
  const tried: Fit[] = [];
  for (let steps = LEAST_SECONDS / STEP_SECONDS; steps < most; steps *= GRID) {
    const levelDb = softerBy(levels, from + 0.4 * steps, from + steps, steps);
    const feedbackDb = softerBy(levels, from + steps, from + tail.length, steps);
    const out = new Float64Array(tail.length - 1);
    for (const releaseSteps of FIRST_RELEASES) {
      const repeats = { steps, levelDb, feedbackDb: Math.min(-1, feedbackDb), releaseSteps };
      tried.push({ ...repeats, missedDb: rootMeanSquare(missed(repeats, out)), from });
    }
  }
  const repeatsOf = (point: ArrayLike<number>): Repeats => ({
    steps: Math.exp(point[0]),
    levelDb: point[1],
    feedbackDb: point[2],
    releaseSteps: Math.exp(point[3]),
  });
  const search = { count: tail.length - 1, differences: DIFFERENCES, mostStep: MOST_STEP, mostIterations: 20 };
  return leastMissed(tried).map(({ steps, levelDb, feedbackDb, releaseSteps }) => {
    const residuals = (point: Float64Array, out: Float64Array) => {
      const repeats = repeatsOf(point);
      if (repeats.steps < 3 || repeats.levelDb > 3 || repeats.feedbackDb > 0 || repeats.feedbackDb < -60) return false;
      missed(repeats, out);
      return true;
    };
    const start = [Math.log(steps), levelDb, feedbackDb, Math.log(releaseSteps)];
    const { point, cost } = leastSquares(residuals, start, search);
    return { ...repeatsOf(point), missedDb: Math.sqrt(cost / search.count), from };
  });
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

/** What a level is made of: the power of the tone itself, and of all that comes back from before. */
function partsOf(powers: Float64Array, from: number, { steps, levelDb, feedbackDb, releaseSteps }: Repeats) {
  const [first, again] = [power(levelDb), power(feedbackDb)];
  const fall = 10 ** (-6 / releaseSteps);
  const own = new Float64Array(powers.length);
  const returned = new Float64Array(powers.length);
  const all = new Float64Array(powers.length);
  const whole = Math.floor(steps);
  const part = steps - whole;
  for (let i = 0; i < powers.length; i++) {
    const at = i - whole;
    const before = at >= 1 ? (1 - part) * all[at] + part * all[at - 1] : 0;
    returned[i] = first * before;
    own[i] = i <= from ? Math.max(LEAST_OWN * powers[i], powers[i] - returned[i]) : own[i - 1] * fall;
    all[i] = own[i] + again * before;
  }
  return { own, returned };
}

/** Levels behind a time, dB, of what falls evenly from there on and comes back as often as it does. */
function levelsOf(powers: Float64Array, from: number, repeats: Repeats): Float64Array {
  const { own, returned } = partsOf(powers, from, repeats);
  return own.subarray(from + 1).map((x, i) => 10 * Math.log10(x + returned[from + 1 + i] + power(FLOOR_DB)));
}

/** The level of a tone without what comes back of it. */
export function levelWithoutRepeats(level: LevelContour, { repeats, fromSeconds }: FoundEcho): LevelContour {
  const { rms, hopSeconds } = level;
  const perStep = STEP_SECONDS / hopSeconds;
  const from = Math.round(fromSeconds / hopSeconds + perStep / 2);
  const steps = repeats.steps * perStep;
  const releaseSteps = repeats.releaseSteps * perStep;
  const powers = rms.map((x) => x * x);
  const { own } = partsOf(powers, from, { ...repeats, steps, releaseSteps });
  return { ...level, rms: own.map(Math.sqrt) };
}
