import type { Unit } from '../../parameters/parameter';
import { type Series, seriesAt } from '../../reading/documentParts';
import type { Reading } from '../../reading/schema';

/** How a gap sounds when the patch has more or less of it than the reference, and what closes it. */
export interface Wording {
  more: string;
  less: string;
  closes: string;
}

/**
 * One thing of a trait that can be compared: where its value is in a reading, how far two are apart, and what
 * to say about it.
 */
export interface ComparedTrait {
  trait: string;
  label: string;
  unit: Unit;
  value: (reading: Reading) => number | null;
  /** Distance in JND; undefined when the two cannot be compared. */
  distance: (reference: Reading, proof: Reading) => number | undefined;
  /** In words; of some, by both values. */
  wording: Wording | ((reference: number | null, proof: number | null) => Wording);
}

type Value = ComparedTrait['value'];

/** Distance by a rule for two values that are both there. */
export const between =
  (value: Value, jnds: (a: number, b: number) => number): ComparedTrait['distance'] =>
  (reference, proof) => {
    const a = value(reference);
    const b = value(proof);
    return a === null || b === null ? undefined : Math.abs(jnds(a, b));
  };

/** Distance when one of two has something that the other lacks: plain to hear. */
const MISSING_JND = 6;

/**
 * Distance by a rule where both have it; where one lacks it, it is missing; where neither has it, there is
 * nothing to compare.
 */
export const present =
  (value: Value, jnds: (a: number, b: number) => number): ComparedTrait['distance'] =>
  (reference, proof) => {
    const [a, b] = [value(reference), value(proof)];
    if (a === null && b === null) return undefined;
    return a === null || b === null ? MISSING_JND : Math.abs(jnds(a, b));
  };

/**
 * Added to times: hearing tells no less than about 2 ms apart (gaps in noise: Plomp 1964; Green 1971), which
 * is a quarter of this.
 */
const SHORT_SECONDS = 0.008;

/** A time whose JND is a fraction of itself, and never less than the ear's resolution. */
export const ratioOfTimes = (fraction: number) => (a: number, b: number) =>
  Math.log((b + SHORT_SECONDS) / (a + SHORT_SECONDS)) / Math.log(1 + fraction);

/** Rates, and times that are heard as rates: 4 % (from memory). */
export const ratioOfRates = (a: number, b: number) => Math.log(b / a) / Math.log(1.04);

const COMPARED_POINTS = 200;
const HEARD_DB = -40;

/**
 * Pairs of values of two series at the same times, while the reference's level is within 40 dB of its top.
 */
export function pairs(reference: Reading, proof: Reading, pick: (reading: Reading) => Series): [number, number][] {
  const level = reference.traits.loudness.contour;
  const topDb = Math.max(...level.values.map((v) => v ?? -200));
  const result: [number, number][] = [];
  for (let i = 0; i < COMPARED_POINTS; i++) {
    const seconds = (reference.durationSeconds * i) / COMPARED_POINTS;
    if ((seriesAt(level, seconds) ?? -200) < topDb + HEARD_DB) continue;
    const a = seriesAt(pick(reference), seconds);
    const b = seriesAt(pick(proof), seconds);
    if (a !== null && b !== null) result.push([a, b]);
  }
  return result;
}

/** Root mean square. */
export const rms = (values: readonly number[]) => Math.sqrt(values.reduce((sum, x) => sum + x * x, 0) / values.length);
