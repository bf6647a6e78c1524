import { withoutCourse } from './statistics';

/** Lines over the same times that may come round together. */
export interface Lines {
  seconds: Float64Array;
  values: Float64Array[];
}

export interface CommonRate {
  rateHz: number;
  /** Share of all that the lines do, besides their slow course, that comes round, 0..1; what chance would fold is taken off. */
  explained: number;
  turns: number;
}

/** A turn is folded into as many parts as there are values in one, and not more than this. */
const MOST_PARTS = 120;
const FEWEST_PARTS = 6;
const FEWEST_VALUES = 30;
/** Values that each part of a turn gets at least. */
const VALUES_PER_PART = 3;
/** Candidates a turn apart over the whole stretch, times this: sharp shapes fold at their very rate only. */
const RATES_PER_TURN = 8;
const MIN_TURNS = 2;
/** Every multiple of a period folds as well: the highest rate that explains nearly as much is told. */
const NEARLY = 0.07;
const HARMONICS = 8;
/** The slow course of a line is a polynomial of this order. */
const COURSE_ORDER = 3;
const REFINING_STEPS = 60;

/**
 * The rate at which several lines repeat, whatever each of them does within a turn: the variance within the parts of a folded turn against
 * that of the whole, over all lines (phase dispersion minimisation, Stellingwerf 1978), refined where the lines' power at the multiples of
 * the rate is greatest.
 *
 * @param nearly how much less of the variance the multiple of a rate may explain, to be told instead of it
 */
export function findCommonRate(
  { seconds, values }: Lines,
  minHz: number,
  maxHz: number,
  nearly = NEARLY,
): CommonRate | undefined {
  const span = seconds[seconds.length - 1] - seconds[0];
  const lowest = Math.max(minHz, MIN_TURNS / span);
  if (!(lowest < maxHz) || seconds.length < FEWEST_VALUES) return undefined;
  const flat = values.map((line) => withoutCourse(seconds, line, COURSE_ORDER));
  const whole = flat.reduce((sum, line) => sum + line.reduce((a, x) => a + x * x, 0), 0) / (seconds.length - 1);
  if (!(whole > 0)) return undefined;
  const rates: number[] = [];
  for (let rate = lowest; rate <= maxHz; rate += 1 / span / RATES_PER_TURN) rates.push(rate);
  const explained = rates.map((rate) => 1 - dispersion(seconds, flat, rate) / whole);
  const most = Math.max(...explained);
  const chosen = explained.findLastIndex(
    (share, i) => share >= most - nearly && share >= (explained[i - 1] ?? -1) && share >= (explained[i + 1] ?? -1),
  );
  if (chosen < 0) return undefined;
  const reach = 0.5 / span;
  let rateHz = rates[chosen];
  let strongest = -Infinity;
  for (let step = -REFINING_STEPS; step <= REFINING_STEPS; step++) {
    const rate = rates[chosen] + (reach * step) / REFINING_STEPS;
    const power = powerAtMultiples(seconds, flat, rate);
    if (power > strongest) {
      strongest = power;
      rateHz = rate;
    }
  }
  return { rateHz, explained: explained[chosen], turns: span * rateHz };
}

/** Variance that is left within the parts of a turn. */
function dispersion(seconds: Float64Array, lines: readonly Float64Array[], rateHz: number): number {
  const step = (seconds[seconds.length - 1] - seconds[0]) / (seconds.length - 1);
  const count = Math.max(
    FEWEST_PARTS,
    Math.min(MOST_PARTS, Math.floor(1 / rateHz / step / 1.5), Math.floor(seconds.length / VALUES_PER_PART)),
  );
  const parts = Uint8Array.from(seconds, (at) => {
    const turns = at * rateHz;
    return Math.floor((turns - Math.floor(turns)) * count);
  });
  const counts = new Float64Array(count);
  for (const part of parts) counts[part]++;
  const sums = new Float64Array(count);
  let left = 0;
  for (const line of lines) {
    sums.fill(0);
    let squares = 0;
    for (let i = 0; i < line.length; i++) {
      sums[parts[i]] += line[i];
      squares += line[i] * line[i];
    }
    for (let part = 0; part < count; part++) if (counts[part] > 0) squares -= sums[part] ** 2 / counts[part];
    left += squares;
  }
  return left / Math.max(1, seconds.length - count);
}

function powerAtMultiples(seconds: Float64Array, lines: readonly Float64Array[], rateHz: number): number {
  const sums = new Float64Array(2 * HARMONICS * lines.length);
  for (let i = 0; i < seconds.length; i++) {
    const c1 = Math.cos(2 * Math.PI * rateHz * seconds[i]);
    const s1 = Math.sin(2 * Math.PI * rateHz * seconds[i]);
    // Multiples of the angle by turning on.
    for (let h = 0, c = c1, s = s1, k = 0; h < HARMONICS; h++) {
      for (const line of lines) {
        sums[k++] += line[i] * c;
        sums[k++] += line[i] * s;
      }
      const turned = c * c1 - s * s1;
      s = s * c1 + c * s1;
      c = turned;
    }
  }
  return sums.reduce((power, x) => power + x * x, 0);
}
