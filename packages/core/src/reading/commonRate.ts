import { withoutCourse } from './statistics';

/** Lines over the same times that may come round together. */
export interface Lines {
  seconds: Float64Array;
  values: Float64Array[];
}

export interface CommonRate {
  rateHz: number;
  /**
   * Share of all that the lines do, besides their slow course, that comes round, 0..1; what chance would fold
   * is taken off.
   */
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
/** Steps to either side of the best candidate; the lobe of the highest multiple is five of them wide. */
const REFINING_STEPS = 20;

/**
 * The rate at which several lines repeat, whatever each of them does within a turn: the variance within the
 * parts of a folded turn against that of the whole, over all lines (phase dispersion minimisation,
 * Stellingwerf 1978), refined where the lines' power at the multiples of the rate is greatest.
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
  const moments = byMoment(flat, seconds.length);
  const squares = moments.reduce((sum, x) => sum + x * x, 0);
  if (!(squares > 0)) return undefined;
  const rates: number[] = [];
  for (let rate = lowest; rate <= maxHz; rate += 1 / span / RATES_PER_TURN) rates.push(rate);
  const explained = rates.map((rate) => {
    const { left, freedom } = dispersion(seconds, moments, squares, rate);
    return 1 - ((left / squares) * (seconds.length - 1)) / freedom;
  });
  const most = Math.max(...explained);
  const chosen = explained.findLastIndex(
    (share, i) => share >= most - nearly && share >= (explained[i - 1] ?? -1) && share >= (explained[i + 1] ?? -1),
  );
  if (chosen < 0) return undefined;
  const step = 0.5 / span / REFINING_STEPS;
  const powers = Array.from({ length: 2 * REFINING_STEPS + 1 }, (_, i) =>
    powerAtMultiples(seconds, moments, rates[chosen] + (i - REFINING_STEPS) * step),
  );
  const rateHz = rates[chosen] + (peakOf(powers) - REFINING_STEPS) * step;
  return { rateHz, explained: explained[chosen], turns: span * rateHz };
}

/** Where a series is highest, between its values by a parabola. */
function peakOf(values: readonly number[]): number {
  const top = values.indexOf(Math.max(...values));
  if (top === 0 || top === values.length - 1) return top;
  const [before, at, after] = values.slice(top - 1, top + 2);
  return top + (before - after) / 2 / (before - 2 * at + after);
}

/** The values of all lines at one time after those at the time before: the lines are looked at together. */
function byMoment(lines: readonly Float64Array[], count: number): Float64Array {
  const moments = new Float64Array(count * lines.length);
  lines.forEach((line, l) => line.forEach((value, i) => (moments[i * lines.length + l] = value)));
  return moments;
}

/** Squares that are left within the parts of a turn, and how many values are free. */
function dispersion(
  seconds: Float64Array,
  moments: Float64Array,
  squares: number,
  rateHz: number,
): { left: number; freedom: number } {
  const step = (seconds[seconds.length - 1] - seconds[0]) / (seconds.length - 1);
  const count = Math.max(
    FEWEST_PARTS,
    Math.min(MOST_PARTS, Math.floor(1 / rateHz / step / 1.5), Math.floor(seconds.length / VALUES_PER_PART)),
  );
  const lines = moments.length / seconds.length;
  const counts = new Float64Array(count);
  const sums = new Float64Array(count * lines);
  for (let i = 0, k = 0; i < seconds.length; i++) {
    const turns = seconds[i] * rateHz;
    const part = Math.floor((turns - Math.floor(turns)) * count);
    counts[part]++;
    for (let at = part * lines, end = at + lines; at < end; at++, k++) sums[at] += moments[k];
  }
  let left = squares;
  for (let part = 0, k = 0; part < count; part++) {
    let held = 0;
    for (const end = (part + 1) * lines; k < end; k++) held += sums[k] * sums[k];
    if (counts[part] > 0) left -= held / counts[part];
  }
  return { left, freedom: Math.max(1, seconds.length - count) };
}

function powerAtMultiples(seconds: Float64Array, moments: Float64Array, rateHz: number): number {
  const lines = moments.length / seconds.length;
  const sums = new Float64Array(2 * HARMONICS * lines);
  for (let i = 0; i < seconds.length; i++) {
    const c1 = Math.cos(2 * Math.PI * rateHz * seconds[i]);
    const s1 = Math.sin(2 * Math.PI * rateHz * seconds[i]);
    const first = i * lines;
    // Multiples of the angle by turning on.
    for (let h = 0, c = c1, s = s1, k = 0; h < HARMONICS; h++) {
      for (let l = first; l < first + lines; l++) {
        sums[k++] += moments[l] * c;
        sums[k++] += moments[l] * s;
      }
      const turned = c * c1 - s * s1;
      s = s * c1 + c * s1;
      c = turned;
    }
  }
  return sums.reduce((power, x) => power + x * x, 0);
}
