import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { mean, median, withoutCourse } from '../statistics';

/** How the levels of the partials move within one turn of a movement. */
export interface FoldedTurn {
  f0Hz: number;
  /** Numbers of the partials that are loud enough, from 1. */
  partials: number[];
  /** Per partial, dB around its own mean at each part of the turn. */
  levelsDb: Float64Array[];
  /** Turns that a movement makes over the parts: one where it was folded. */
  cycles: number;
  /** Whether what all partials do alike was taken off. */
  isApart: boolean;
}

/** A way to and fro, and how well it explains the movement of the partials. */
export interface Path {
  /** Share of the partials' movement that it explains, 0..1. */
  explained: number;
  /** From end to end: octaves of a cutoff or a corner, seconds of a delay; 0 for what is common. */
  width: number;
  /** What it goes round: Hz or seconds; 0 for what is common. */
  middle: number;
  /** Where its sine stands at the start of the signal, cycles. */
  startCycles: number;
}

export const PARTS = 48;
const MOST_PARTIALS = 24;
/** Higher partials move too much within a part of a turn. */
const HIGHEST_HZ = 4000;
const LEAST_DB = -50;
/** Decays are no movements: the slow course of a level is a polynomial of this order. */
const COURSE_ORDER = 3;
/** Fewer do not tell causes apart. */
export const MIN_PARTIALS = 4;

/** The partials whose levels are followed. */
export const lookedAt = <T>(partials: readonly T[], f0Hz: number): T[] =>
  partials.slice(0, Math.max(MIN_PARTIALS, Math.min(MOST_PARTIALS, Math.floor(HIGHEST_HZ / f0Hz))));

/** Folds the levels of the partials over one turn at a rate; undefined with too few of them. */
export function foldPartials(
  { f0Hz, seconds, partials }: PartialEnvelopes,
  rateHz: number,
  fromSeconds: number,
  toSeconds: number,
): FoldedTurn | undefined {
  const inside = [...seconds.keys()].filter((i) => seconds[i] >= fromSeconds && seconds[i] <= toSeconds);
  const powers = lookedAt(partials, f0Hz).map(powersOf);
  const { loud, strongest } = loudOf(powers, inside);
  if (loud.length < MIN_PARTIALS) return undefined;
  const times = inside.map((i) => seconds[i]);
  const levelsDb = loud.map((n) => {
    const parts = Array.from({ length: PARTS }, (): number[] => []);
    const levels = inside.map((i) => 10 * Math.log10(powers[n][i] / strongest + 1e-9));
    withoutCourse(times, levels, COURSE_ORDER).forEach((level, i) => {
      const turns = rateHz * times[i];
      parts[Math.floor((turns - Math.floor(turns)) * PARTS)].push(level);
    });
    const turn = Float64Array.from(parts, (part) => (part.length > 0 ? median(part) : NaN));
    const middle = mean(turn.filter(Number.isFinite));
    return turn.map((db) => (Number.isFinite(db) ? db - middle : 0));
  });
  return { f0Hz, partials: loud.map((n) => n + 1), levelsDb, cycles: 1, isApart: false };
}

/** Which partials are loud enough to be followed, and the power of the strongest. */
export function loudOf(powers: readonly Float64Array[], inside: readonly number[]) {
  const means = powers.map((power) => mean(inside.map((i) => power[i])));
  const strongest = Math.max(...means);
  const loud = [...means.keys()].filter((n) => 10 * Math.log10(means[n] / strongest + 1e-12) > LEAST_DB);
  return { loud, strongest };
}

export const SHIFTS = 16;
/** Every so manieth part of a turn is enough to scan paths. */
export const SCAN_STRIDE = 2;

/** As deep as combs come out in levels that are looked at through windows. */
const NOTCH_MIX = 0.85;

/** Level of a tone with a late copy of itself, by the angle between the two. */
export const combDb = (angle: number) => 10 * Math.log10(1 + NOTCH_MIX ** 2 + 2 * NOTCH_MIX * Math.cos(angle));

/** A path of a middle, a depth (backwards where it is negative) and where it begins. */
export function pathOf([middle, depth, shift]: readonly number[], explained: number): Path {
  const start = depth < 0 ? shift + 0.5 : shift;
  return { explained, width: 2 * Math.abs(depth), middle, startCycles: start - Math.floor(start) };
}

/** Takes off a row of a model, in place, what a turn does not show. */
export function holdAgainst({ isApart }: FoldedTurn, row: Float64Array): Float64Array {
  if (!isApart) return row;
  const common = mean(row);
  for (let n = 0; n < row.length; n++) row[n] -= common;
  return row;
}

/** Into how many parts it is cut. */
export const partsOf = ({ levelsDb: [first] }: FoldedTurn) => first.length;

/** Where a sine of its cycles stands in a part, −1..1; `shift` in cycles is where it begins. */
export const roundAt = (turn: FoldedTurn, part: number, shift: number) =>
  Math.sin(2 * Math.PI * ((turn.cycles * (part + 0.5)) / partsOf(turn) + shift));

/** Share of the squares of a turn that rows of a model, one a part of it, explain. */
export const shareOf = (turn: FoldedTurn, rows: readonly Float64Array[]): number => againstRows(turn, rows).share;

/**
 * Share of the squares of a turn that rows of a model, one a part of it, explain once their means are off and
 * they are scaled, and by how much they are.
 */
export function againstRows({ levelsDb }: FoldedTurn, rows: readonly Float64Array[]): { share: number; scale: number } {
  let product = 0;
  let model = 0;
  let whole = 0;
  for (let n = 0; n < levelsDb.length; n++) {
    let middle = 0;
    const turn = levelsDb[n];
    for (let part = 0; part < turn.length; part++) middle += rows[part][n];
    middle /= turn.length;
    for (let part = 0; part < turn.length; part++) {
      const m = rows[part][n] - middle;
      product += m * turn[part];
      model += m * m;
      whole += turn[part] * turn[part];
    }
  }
  if (product <= 0 || model === 0 || whole === 0) return { share: 0, scale: 0 };
  return { share: (product * product) / model / whole, scale: product / model };
}
