/**
 * A curve that a signal is bent by, at four times its rate or, where the curve folds, at sixteen or
 * thirty-two times.
 */
import {
  DECIMATOR_LATENCY,
  DECIMATOR_STATE,
  DOUBLE_STATE,
  HALVE_STATE,
  INTERPOLATOR_LATENCY,
  INTERPOLATOR_STATE,
  OUTER_REACH,
  decimateFrom,
  delay,
  double,
  halve,
  interpolateFrom,
} from './halfband';
import { BYTES, MOST, SPARE, at, fine, other, plain, state } from './regions';

/** Inputs from −REACH to REACH are in a table, so many places to each unit. */
export const REACH: i32 = 16;
export const DENSITY: i32 = 64;
export const PLACES: i32 = 2 * REACH * DENSITY + 1;
/**
 * Of each place: coefficients of the cubic polynomial from there to the next that is the curve's integral,
 * the constant one first.
 */
export const CUBIC: i32 = 4;
/** Tables that are in place at a time. */
export const TABLES: i32 = 16;
export const TABLE_NUMBERS: i32 = CUBIC * PLACES;
/** One more than there are, so that a place worked out from what is no number is still a place. */
export const tables = memory.data(BYTES * (TABLES + 1) * TABLE_NUMBERS, 16);

/**
 * What becomes of inputs beyond the table: the curve stays where it is, comes back every PERIOD, or goes on
 * as a logarithm.
 */
export const HELD: i32 = 0;
export const FOLDS: i32 = 1;
export const LOGARITHM: i32 = 2;
const PERIOD: f64 = 4;
/** Bend of the logarithmic curve. */
export const LOG_BEND: i32 = 8;

/** Inputs so near to each other have the curve's value between them. */
const NEAR: f64 = 0.002;

/** How often the rate may be doubled once more from four times on. */
const MOST_DOUBLINGS: i32 = 3;
/** Delay of one more doubling and of halving again, in samples of the higher rate. */
const DOUBLING_LATENCY: i32 = 2 * OUTER_REACH - 1;
/**
 * Held back at the highest rate, less one for each of its 2ⁿ samples that one sample at four times the rate
 * has become, so that any number of doublings is equally late: by so many samples at the plain rate.
 */
const PAD: i32 = DOUBLING_LATENCY;
const PATH_LATENCY: i32 = (DOUBLING_LATENCY - 1) / 4;

/**
 * Delay of what is bent, and of the dry signal beside it; the mean over a sample of the higher rate is half a
 * sample more of that rate.
 */
export const SHAPER_LATENCY: i32 = INTERPOLATOR_LATENCY + PATH_LATENCY + DECIMATOR_LATENCY;

/**
 * Of every shaper: the dry signal, both changes of rate, the input before and its integral; then what lies
 * between four times and the highest.
 */
export const SHAPER_PATH_STATE: i32 = MOST_DOUBLINGS * (DOUBLE_STATE + HALVE_STATE) + PAD;
export const SHAPER_STATE: i32 = SHAPER_LATENCY + INTERPOLATOR_STATE + DECIMATOR_STATE + 2 + SHAPER_PATH_STATE;

declare function log1p(x: f64): f64;

let table: usize = 0;
let beyond: i32 = HELD;

function logIntegral(x: f64): f64 {
  const u = <f64>LOG_BEND * abs(x);
  return ((1 + u) * log1p(u) - u) / <f64>(LOG_BEND * LOG_BEND);
}

/** What the integral is more, beyond the table, than at its edge. */
function integralBeyond(x: f64, edge: f64): f64 {
  if (x === edge) return 0;
  if (beyond === LOGARITHM) return logIntegral(x) - logIntegral(edge);
  return (x - edge) * valueAt(edge);
}

/** Integral of the curve at two inputs. */
function integralsAt(input: v128): v128 {
  let x = input;
  let more = f64x2.splat(0);
  if (beyond === FOLDS) {
    x = f64x2.sub(x, f64x2.mul(f64x2.splat(PERIOD), f64x2.nearest(f64x2.mul(x, f64x2.splat(1 / PERIOD)))));
  } else {
    x = f64x2.pmax(f64x2.splat(-REACH), f64x2.pmin(f64x2.splat(REACH), x));
    if (v128.any_true(f64x2.ne(x, input))) {
      more = f64x2(
        integralBeyond(f64x2.extract_lane(input, 0), f64x2.extract_lane(x, 0)),
        integralBeyond(f64x2.extract_lane(input, 1), f64x2.extract_lane(x, 1)),
      );
    }
  }
  const place = f64x2.add(f64x2.mul(x, f64x2.splat(DENSITY)), f64x2.splat(REACH * DENSITY));
  const whole = f64x2.floor(place);
  const t = f64x2.sub(place, whole);
  // From 2⁵² on the lowest bits of a number are those of a whole one.
  const rounded = f64x2.add(whole, f64x2.splat(4503599627370496));
  const p0 = at(table, CUBIC * (<i32>i64x2.extract_lane(rounded, 0) & 0xfff));
  const p1 = at(table, CUBIC * (<i32>i64x2.extract_lane(rounded, 1) & 0xfff));
  const low0 = v128.load(p0);
  const low1 = v128.load(p1);
  const high0 = v128.load(p0, 16);
  const high1 = v128.load(p1, 16);
  const c2 = v128.shuffle<f64>(high0, high1, 0, 2);
  const c3 = v128.shuffle<f64>(high0, high1, 1, 3);
  const c1 = v128.shuffle<f64>(low0, low1, 1, 3);
  const c0 = v128.shuffle<f64>(low0, low1, 0, 2);
  const slope = f64x2.add(c1, f64x2.mul(t, f64x2.add(c2, f64x2.mul(t, c3))));
  return f64x2.add(more, f64x2.add(c0, f64x2.mul(t, slope)));
}

/** The curve itself: the slope of its integral. */
function valueAt(input: f64): f64 {
  let x = input;
  if (beyond === FOLDS) x -= PERIOD * nearest(x / PERIOD);
  else if (abs(x) > <f64>REACH) {
    if (beyond === LOGARITHM) return copysign(log1p(<f64>LOG_BEND * abs(x)) / <f64>LOG_BEND, x);
    x = x > 0 ? <f64>REACH : -(<f64>REACH);
  }
  const place = (x + <f64>REACH) * <f64>DENSITY;
  const i = min(floor(place), <f64>(PLACES - 2));
  const t = place - i;
  const c = at(table, CUBIC * <i32>i);
  return <f64>DENSITY * (load<f64>(c, BYTES) + t * (2 * load<f64>(c, 2 * BYTES) + t * 3 * load<f64>(c, 3 * BYTES)));
}

/**
 * The mean of the curve between each input and the one before: the difference of its integral over that of
 * the inputs. What lies at multiples of the rate, and would come back as aliases, is weakened as by a window
 * as long as a sample; all is half a sample later (antiderivative antialiasing: Parker, Zavalishin & Le Bivic
 * 2016). Inputs are first times the drive and more by the lean; what the lean alone puts out is taken off.
 * All three move in straight lines.
 */
function bend(signal: usize, count: i32, before: usize, drive: f64, driveStep: f64, lean: f64, leanStep: f64): void {
  const rest = valueAt(lean);
  const restStep = (valueAt(lean + <f64>count * leanStep) - rest) / <f64>count;
  let xs = v128.load_splat<f64>(before);
  let integrals = v128.load_splat<f64>(before, BYTES);
  let drives = f64x2(drive, drive + driveStep);
  let leans = f64x2(lean, lean + leanStep);
  let rests = f64x2(rest, rest + restStep);
  const driveSteps = f64x2.splat(2 * driveStep);
  const leanSteps = f64x2.splat(2 * leanStep);
  const restSteps = f64x2.splat(2 * restStep);
  const near = f64x2.splat(NEAR);
  for (let i = 0; i < count; i += 2) {
    const x = f64x2.add(f64x2.mul(drives, v128.load(at(signal, i))), leans);
    const integral = integralsAt(x);
    const xBefore = v128.shuffle<f64>(xs, x, 1, 2);
    const way = f64x2.sub(x, xBefore);
    let y = f64x2.div(f64x2.sub(integral, v128.shuffle<f64>(integrals, integral, 1, 2)), way);
    const isNear = f64x2.lt(f64x2.abs(way), near);
    if (v128.any_true(isNear)) {
      const middle = f64x2.mul(f64x2.splat(0.5), f64x2.add(x, xBefore));
      const values = f64x2(valueAt(f64x2.extract_lane(middle, 0)), valueAt(f64x2.extract_lane(middle, 1)));
      y = v128.bitselect(values, y, isNear);
    }
    v128.store(at(signal, i), f64x2.sub(y, rests));
    drives = f64x2.add(drives, driveSteps);
    leans = f64x2.add(leans, leanSteps);
    rests = f64x2.add(rests, restSteps);
    xs = x;
    integrals = integral;
  }
  store<f64>(before, f64x2.extract_lane(xs, 1));
  store<f64>(before, f64x2.extract_lane(integrals, 1), BYTES);
}

/** The dry signal, held back. */
const drySignal = memory.data(BYTES * (MOST + SPARE), 16);

/** Mixes the dry signal into `plain`, both by gains that move in straight lines. */
function mix(count: i32, wet: f64, wetStep: f64, dry: f64, dryStep: f64): void {
  let wets = f64x2(wet + wetStep, wet + 2 * wetStep);
  let drys = f64x2(dry + dryStep, dry + 2 * dryStep);
  const wetSteps = f64x2.splat(2 * wetStep);
  const drySteps = f64x2.splat(2 * dryStep);
  for (let i = 0; i < count; i += 2) {
    const here = f64x2.mul(wets, v128.load(at(plain, i)));
    v128.store(at(plain, i), f64x2.add(here, f64x2.mul(drys, v128.load(at(drySignal, i)))));
    wets = f64x2.add(wets, wetSteps);
    drys = f64x2.add(drys, drySteps);
  }
}

/**
 * Bends `plain` in place. Drive, lean and the gains of what is bent and of the dry signal go from what they
 * are to what they are at the end.
 * @param doublings of the rate, from four times on
 * @param fresh whether there was no input before, or only for another curve
 */
export function shape(
  count: i32,
  slot: i32,
  beyondTable: i32,
  doublings: i32,
  fresh: bool,
  drive: f64,
  driveEnd: f64,
  lean: f64,
  leanEnd: f64,
  wet: f64,
  wetEnd: f64,
  dry: f64,
  dryEnd: f64,
): void {
  table = at(tables, slot * TABLE_NUMBERS);
  beyond = beyondTable;
  const up = at(state, SHAPER_LATENCY);
  const down = at(up, INTERPOLATOR_STATE);
  const before = at(down, DECIMATOR_STATE);
  const pad = at(before, 2);
  const doubles = at(pad, PAD);
  const halves = at(doubles, MOST_DOUBLINGS * DOUBLE_STATE);
  memory.copy(drySignal, plain, BYTES * count);
  delay(drySignal, SHAPER_LATENCY, count, state);
  interpolateFrom(count, up);
  let here = fine;
  let there = other;
  for (let d = 0; d < doublings; d++) {
    double(here, (4 << d) * count, at(doubles, d * DOUBLE_STATE), there);
    const was = here;
    here = there;
    there = was;
  }
  const many = (4 << doublings) * count;
  // As if the first input had been there before: its integral is then not asked for.
  if (fresh) store<f64>(before, drive * load<f64>(here) + lean);
  bend(here, many, before, drive, (driveEnd - drive) / <f64>many, lean, (leanEnd - lean) / <f64>many);
  delay(here, PAD - (1 << doublings), many, pad);
  for (let d = doublings - 1; d >= 0; d--) {
    halve(here, (4 << d) * count, at(halves, d * HALVE_STATE), there);
    const was = here;
    here = there;
    there = was;
  }
  if (here !== fine) memory.copy(fine, here, 4 * BYTES * count);
  decimateFrom(count, down);
  mix(count, wet, (wetEnd - wet) / <f64>count, dry, (dryEnd - dry) / <f64>count);
}
