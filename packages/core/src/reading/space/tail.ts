import type { LevelContour } from '../level/levelContour';
import { mean } from '../statistics';

/** Of levels that echoes and rooms are looked for in. */
export const STEP_SECONDS = 0.01;
/** What is further under the loudest is not looked at. */
const RANGE_DB = 60;
const MIN_TAIL_SECONDS = 0.15;
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

/** A note that is let go falls by more than before and by so much, in so many steps. */
const FALL_STEPS = 8;
const LEAST_FALL_DB = 3;
/** It has begun to fall once it is so much softer. */
const BEGUN_DB = 1;
/** Further under the loudest it is no longer the note that is let go. */
const LET_GO_DB = -30;
const MOST_BENDS = 3;

/**
 * Where a note may be let go: where its level bends down most, that is falls more than it did just before,
 * steepest first.
 */
function bendsOf(levels: Float64Array): number[] {
  const bends: { at: number; db: number }[] = [];
  for (let i = peakOf(levels) + FALL_STEPS; i + FALL_STEPS < levels.length && levels[i] > LET_GO_DB; i++) {
    const db = levels[i] - levels[i + FALL_STEPS] - Math.max(0, levels[i - FALL_STEPS] - levels[i]);
    const last = bends[bends.length - 1];
    if (db < LEAST_FALL_DB) continue;
    if (last && i - last.at < FALL_STEPS) {
      if (db > last.db) bends[bends.length - 1] = { at: i, db };
    } else bends.push({ at: i, db });
  }
  return bends
    .sort((a, b) => b.db - a.db)
    .slice(0, MOST_BENDS)
    .map(({ at }) => {
      const fallen = levels.subarray(at).findIndex((db) => db < levels[at] - BEGUN_DB);
      return at + Math.max(0, fallen - 1);
    });
}

/** What comes back rises by so much within so many steps. */
const RISE_STEPS = 3;
const LEAST_RISE_DB = 4;

/** Just before the level first rises again, from no further under the loudest than so. */
export function beforeRise(levels: Float64Array, leastDb = LET_GO_DB): number[] {
  const peak = peakOf(levels);
  for (let i = peak + FALL_STEPS; i + RISE_STEPS < levels.length && levels[i] > leastDb; i++)
    if (levels[i + RISE_STEPS] > levels[i] + LEAST_RISE_DB && levels[i] < levels[peak] - LEAST_RISE_DB) return [i];
  return [];
}

/** Steps until the level has left the range for good. */
export const tailOf = (levels: Float64Array, from: number) => levels.findLastIndex((db) => db > -RANGE_DB) + 1 - from;

/**
 * Where a tail may begin: at the first peak of levels in steps, where the loud stretch ends, where the note
 * is let go, and just before it comes back.
 */
export const tailStarts = (levels: Float64Array): number[] =>
  [...new Set([peakOf(levels), endOfPlateau(levels), ...bendsOf(levels), ...beforeRise(levels)])].sort((a, b) => a - b);
