import { median } from '../statistics';
import type { PlainSources, SourcePart } from './plainSources';

/** Partials this far under the strongest are not there. */
const AUDIBLE_DB = -40;
/** An organ's lower stop: one partial alone, and one at its twelfth, under a series of its octave. */
const LEAST_STOPS = 5;
const HIGH_STOP = 10;
const DULL: readonly SourcePart['shape'][] = ['sine', 'triangle'];
/** Waveforms explain so much of the levels that their roots can be trusted. */
const TRUSTED_DB = 3;

/**
 * Which of a tone's partials is the pitch that a musician would name. It is the first, unless that one
 * belongs to a dull part, a sub, under a richer one; or to a lower stop of an organ. Source: common practice.
 *
 * @param levelsDb of partials 1..n, relative to the strongest
 */
export function rootMultiple(levelsDb: readonly number[], sources: PlainSources | undefined): number {
  if (isLowerStop(levelsDb)) return 2;
  if (!sources || sources.errorDb > TRUSTED_DB) return 1;
  const [lowest, ...others] = sources.parts;
  if (!lowest || lowest.multiple !== 1 || !DULL.includes(lowest.shape)) return lowest?.multiple ?? 1;
  const rich = others.filter(({ shape }) => shape !== 'sine' && !(shape === 'triangle' && lowest.shape === 'triangle'));
  // Octaves of a sine alone are overtones of it; a waveform has odd partials of its own.
  const isThere = (n: number) => (levelsDb[n - 1] ?? -Infinity) > AUDIBLE_DB;
  const octaves = rich.filter(
    ({ multiple }) => (multiple === 2 || multiple === 4) && (isThere(3 * multiple) || isThere(5 * multiple)),
  );
  return octaves.length > 0 && octaves.length === rich.length ? octaves[0].multiple : 1;
}

/** Odd partials behind the first fall off faster than those of a saw or a square would. */
const LONE_FIRST_DB = 15;
/** Even partials stand so far over the odd ones between them, on average of these. */
const OVER_ODD_DB = 7;
const ODD_LOOKED = [3, 5, 7, 9];
/** The series of the even ones is no overtone of a dull tone: the second and the eighth are there. */
const LEAST_SECOND_DB = -15;
const MOST_FALL_DB = 25;

/**
 * A sub under a rich tone, whatever a drive made of both: only the first of the odd partials is loud, and
 * the even ones, which are the tone's own, go far up.
 *
 * @param levelsDb of partials 1..n, relative to the strongest
 */
export function isSubUnderRich(levelsDb: readonly number[]): boolean {
  if (levelsDb.length < 10) return false;
  const level = (n: number) => levelsDb[n - 1];
  if (level(1) - level(3) < LONE_FIRST_DB || level(2) < LEAST_SECOND_DB || level(8) < level(2) - MOST_FALL_DB)
    return false;
  const over = ODD_LOOKED.map((n) => (level(n - 1) + level(n + 1)) / 2 - level(n));
  return over.reduce((sum, db) => sum + db, 0) / over.length > OVER_ODD_DB;
}

/** An organ's stop an octave under the one that is played by name. */
export function isLowerStop(levelsDb: readonly number[]): boolean {
  const there = [...levelsDb.keys()].map((i) => i + 1).filter((n) => levelsDb[n - 1] > AUDIBLE_DB);
  if (there.some((n) => n % 2 === 1 && n > 3) || !there.includes(1)) return false;
  const even = there.filter((n) => n % 2 === 0);
  return even.length >= LEAST_STOPS && even.some((n) => n >= HIGH_STOP) && even.some((n) => (n / 2) % 2 === 1 && n > 2);
}

/** Odd partials stand so far under their stronger neighbour, the third, the fifth and most of the others. */
const UNDER_EVEN_DB = 20;
const EVEN_HEARD_DB = -40;
/** A bell or a bar has its fourth partial, too, but not the second. */
const LEAST_OCTAVE_DB = -16;
const LEAST_EIGHTH_DB = -30;

/**
 * Whether all but the first of a short note's partials are those of its octave, which is then its name, as
 * that of an organ with a lower stop is.
 *
 * @param levelsDb of partials 1..n, relative to the strongest
 */
export function isUnderItsOctave(levelsDb: readonly number[]): boolean {
  const level = (n: number) => levelsDb[n - 1];
  if (levelsDb.length < 10 || level(2) < LEAST_OCTAVE_DB || level(8) < LEAST_EIGHTH_DB) return false;
  const under = Array.from({ length: Math.floor((levelsDb.length - 2) / 2) }, (_, i) => 3 + 2 * i).flatMap((n) => {
    const neighbour = Math.max(level(n - 1), level(n + 1));
    return neighbour > EVEN_HEARD_DB ? [neighbour - level(n)] : [];
  });
  return under.slice(0, 2).every((db) => db > UNDER_EVEN_DB) && median(under) > UNDER_EVEN_DB;
}
