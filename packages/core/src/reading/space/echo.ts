import { findCommonRate } from '../commonRate';
import type { LevelContour } from '../level/levelContour';
import { foldTurn } from '../movement/periodicMovement';
import { divisionOf } from '../piece/heardDivision';
import type { Reading } from '../schema';
import { fitLine, mean, median } from '../statistics';

/** Of levels that echoes are looked for in. */
export const STEP_SECONDS = 0.01;
/** What is further under the loudest is not looked at. */
const RANGE_DB = 60;
const MIN_TAIL_SECONDS = 0.15;
/** Echoes have come round often enough by then. */
const MOST_ECHO_SECONDS = 6;

export const MIN_STEPS = MIN_TAIL_SECONDS / STEP_SECONDS;

/** Mean power of every step, dB against the loudest. */
export function levelsInSteps({ rms, hopSeconds }: LevelContour): Float64Array {
  const step = Math.max(1, Math.round(STEP_SECONDS / hopSeconds));
  const powers = Float64Array.from({ length: Math.floor(rms.length / step) }, (_, i) =>
    mean(rms.subarray(i * step, (i + 1) * step).map((x) => x * x)),
  );
  const top = powers.reduce((a, b) => Math.max(a, b), 0);
  return powers.map((power) => 10 * Math.log10(power / top + 1e-12));
}

/** The first that is as loud as any: of a gated tone any of them may be the loudest. */
const peakOf = (levels: Float64Array) => levels.findIndex((db) => db > -AS_LOUD_DB);
const AS_LOUD_DB = 1;
const PLATEAU_DB = 3;
const endOfPlateau = (levels: Float64Array) => levels.findLastIndex((db) => db > -PLATEAU_DB);

/** Steps until the level has left the range for good. */
export const tailOf = (levels: Float64Array, from: number) => levels.findLastIndex((db) => db > -RANGE_DB) + 1 - from;

/** Where a tail may begin: at the first peak of levels in steps, or where the loud stretch ends. */
export const tailStarts = (levels: Float64Array): number[] =>
  [...new Set([peakOf(levels), endOfPlateau(levels)])].sort((a, b) => a - b);

/** The echo that the level of a note comes back by, and how sure that is; undefined without one. */
export function echoOf(levels: Float64Array, bpm: number | null): Echo | undefined {
  const echoes = tailStarts(levels).flatMap((from) => findEcho(levels, from, bpm) ?? []);
  return echoes.length > 0 ? echoes.reduce((a, b) => (b.confidence > a.confidence ? b : a)) : undefined;
}

interface Echo {
  echo: NonNullable<Reading['traits']['space']['echo']>;
  confidence: number;
}

/** A single line folds less clearly than many. */
const ECHO = { minHz: 0.75, maxHz: 25, nearly: 0.14 };
const MIN_TURNS = 2;
const LEAST_EXPLAINED = 0.7;
const LEAST_DROP_DB = 1.2;
const MOST_DROP_DB = 26;
/** Levels of echoes rise or fall at once; what comes and goes evenly is a tremolo. */
const SUDDEN = 0.3;
const LEAST_STEP_DB = 2;

function findEcho(levels: Float64Array, from: number, bpm: number | null): Echo | undefined {
  const count = Math.min(tailOf(levels, from), MOST_ECHO_SECONDS / STEP_SECONDS);
  if (count < MIN_STEPS) return undefined;
  const seconds = Float64Array.from({ length: count }, (_, i) => i * STEP_SECONDS);
  const tail = levels.subarray(from, from + count).map((db) => Math.max(db, -RANGE_DB - 20));
  const rate = findCommonRate({ seconds, values: [tail] }, ECHO.minHz, ECHO.maxHz, ECHO.nearly);
  if (!rate || rate.turns < MIN_TURNS || rate.explained < LEAST_EXPLAINED) return undefined;
  const { slope } = fitLine(
    seconds,
    tail,
    seconds.map(() => 1),
  );
  const dropDb = -slope / rate.rateHz;
  if (dropDb < LEAST_DROP_DB || dropDb > MOST_DROP_DB) return undefined;
  const turn = foldTurn(
    seconds,
    tail.map((db, i) => db - slope * seconds[i]),
    rate.rateHz,
  );
  if (Math.max(...turn) - Math.min(...turn) < LEAST_STEP_DB) return undefined;
  const step = suddenStep(turn);
  if (step === undefined || !stepsEveryTurn(tail, step / turn.length, rate.rateHz)) return undefined;
  const fallDb = fallPerTurn(tail, 1 / rate.rateHz);
  // What comes back as loud as before is a movement of the tone.
  if (fallDb < LEAST_DROP_DB / 2) return undefined;
  const echo = {
    seconds: Number((1 / rate.rateHz).toPrecision(4)),
    division: (bpm === null ? undefined : divisionOf(rate.rateHz, bpm)) ?? null,
    feedback: Number((10 ** (-fallDb / 20)).toFixed(3)),
  };
  return { echo, confidence: rate.explained * Math.min(1, rate.turns / 3) };
}

/**
 * Where in a turn the level moves at once; undefined where it does not. By amplitude: on a scale of dB the
 * cusp between two beating voices looks as steep.
 */
function suddenStep(turn: Float64Array): number | undefined {
  const amplitudes = turn.map((db) => 10 ** (db / 20));
  const range = Math.max(...amplitudes) - Math.min(...amplitudes);
  const steps = Array.from(amplitudes, (a, i) => Math.abs(amplitudes[(i + 1) % turn.length] - a));
  const steepest = Math.max(...steps);
  return steepest >= SUDDEN * range ? steps.indexOf(steepest) + 1 : undefined;
}

/** A step is seen within so much time, is so large, and comes with this share of the turns. */
const STEP_REACH_SECONDS = 0.02;
const LEAST_TURN_STEP_DB = 1.2;
const STEPPED_TURNS = 0.6;

/** Whether the level steps at one place of most turns, against how it goes before and behind it. */
function stepsEveryTurn(tail: Float64Array, place: number, rateHz: number): boolean {
  const reach = Math.round(STEP_REACH_SECONDS / STEP_SECONDS);
  let [turns, stepped] = [0, 0];
  for (let at = place / rateHz; at < tail.length * STEP_SECONDS; at += 1 / rateHz) {
    const i = Math.round(at / STEP_SECONDS);
    if (i < reach || i + reach >= tail.length || tail[i + reach] < REPEATED_DB) continue;
    turns++;
    // What is sudden may be a step beside the place, by the length of the steps.
    const change = (from: number) => (tail[from + 2 * reach] ?? tail[from]) - (tail[from] ?? tail[from + 2 * reach]);
    const steps = [-1, 0, 1].map((off) => {
      const first = i + off - reach;
      return Math.abs(change(first) - (change(first - 2 * reach) + change(first + 2 * reach)) / 2);
    });
    if (Math.max(...steps) >= LEAST_TURN_STEP_DB) stepped++;
  }
  return stepped >= MIN_TURNS && stepped >= STEPPED_TURNS * turns;
}

/** Echoes that are told this far under the loudest. */
const REPEATED_DB = -50;
const LEAST_REPEATED = 8;

/**
 * In dB, from each moment to the same one a turn later, once the tone itself has been: how the whole tail
 * falls also says how the tone does.
 */
function fallPerTurn(tail: Float64Array, turnSeconds: number): number {
  const steps = turnSeconds / STEP_SECONDS;
  const falls: number[] = [];
  for (let i = Math.ceil(steps); i + steps + 1 < tail.length; i++) {
    const at = i + steps;
    const whole = Math.floor(at);
    const later = tail[whole] + (at - whole) * (tail[whole + 1] - tail[whole]);
    if (later > REPEATED_DB) falls.push(tail[i] - later);
  }
  return falls.length < LEAST_REPEATED ? 0 : median(falls);
}
