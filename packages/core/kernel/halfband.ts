/**
 * Changes of rate by two, with symmetric filters whose taps the caller puts in place (dsp/halfband.ts designs
 * them). On the way down sums are of 32 bits, four at a time: their noise stays 140 dB under. On the way up
 * they are of 64: what follows may lift them.
 */
import { BYTES, HIGHEST, MOST, SINGLE_BYTES, SPARE, at, fine, other, plain, singleAt, state } from './regions';

/** Distance of the outermost tap of each filter from its middle one. */
export const INNER_REACH: i32 = 43;
export const OUTER_REACH: i32 = 15;
export const LAST_REACH: i32 = 57;
/**
 * Samples at four times the rate by which a change of rate is held back, so that its delay is a whole number
 * of samples.
 */
const INTERPOLATOR_PAD: i32 = 3;
const DECIMATOR_PAD: i32 = 2;
/**
 * Delay of going up to four times the rate and of going down, in samples at the plain rate. A halver stands
 * on the later one of a pair.
 */
export const INTERPOLATOR_LATENCY: i32 = (2 * INNER_REACH + OUTER_REACH + INTERPOLATOR_PAD) / 4;
export const DECIMATOR_LATENCY: i32 = (2 * (LAST_REACH - 1) + OUTER_REACH - 1 + DECIMATOR_PAD) / 4;

const INNER_TAPS: i32 = (INNER_REACH + 1) / 2;
const OUTER_TAPS: i32 = (OUTER_REACH + 1) / 2;
const LAST_ODD_TAPS: i32 = (LAST_REACH + 1) / 2;
const LAST_EVEN_TAPS: i32 = LAST_REACH - LAST_ODD_TAPS;

/** Taps of the half-bands at odd distances from the middle outwards, for a middle of 1/2. */
export const innerTaps = memory.data(BYTES * INNER_TAPS);
export const outerTaps = memory.data(BYTES * OUTER_TAPS);
/** Taps of the last low-pass from the middle one outwards. */
export const lastTaps = memory.data(BYTES * (LAST_REACH + 1));

const DOUBLE_INNER_STATE: i32 = INNER_REACH;
export const DOUBLE_STATE: i32 = OUTER_REACH;
export const HALVE_STATE: i32 = 2 * OUTER_REACH;
const HALVE_LAST_STATE: i32 = 2 * LAST_REACH;
export const INTERPOLATOR_STATE: i32 = DOUBLE_INNER_STATE + DOUBLE_STATE + INTERPOLATOR_PAD;
export const DECIMATOR_STATE: i32 = DECIMATOR_PAD + HALVE_STATE + HALVE_LAST_STATE;

/** A filter's past and what comes in; sums. */
const LONGEST: i32 = HIGHEST * MOST + 2 * LAST_REACH + SPARE;
const work = memory.data(BYTES * LONGEST, 16);
const sums = memory.data(BYTES * LONGEST, 16);
/** On the way down: every second sample, the others, and sums. */
const evens = memory.data(SINGLE_BYTES * LONGEST, 16);
const odds = memory.data(SINGLE_BYTES * LONGEST, 16);
const singleSums = memory.data(SINGLE_BYTES * LONGEST, 16);

/**
 * Adds Σ taps[j]·(low[n − j] + high[n + j]) to each sum: eight at a time, so that each tap is read once for
 * all of them.
 */
function addPairs(taps: usize, tapCount: i32, low: usize, high: usize, count: i32): void {
  for (let n = 0; n < count; n += 8) {
    let l = at(low, n);
    let h = at(high, n);
    const sum = at(sums, n);
    let a = v128.load(sum);
    let b = v128.load(sum, 16);
    let c = v128.load(sum, 32);
    let d = v128.load(sum, 48);
    for (let j = 0; j < tapCount; j++) {
      const weight = v128.load_splat<f64>(at(taps, j));
      a = f64x2.add(a, f64x2.mul(weight, f64x2.add(v128.load(l), v128.load(h))));
      b = f64x2.add(b, f64x2.mul(weight, f64x2.add(v128.load(l, 16), v128.load(h, 16))));
      c = f64x2.add(c, f64x2.mul(weight, f64x2.add(v128.load(l, 32), v128.load(h, 32))));
      d = f64x2.add(d, f64x2.mul(weight, f64x2.add(v128.load(l, 48), v128.load(h, 48))));
      l -= BYTES;
      h += BYTES;
    }
    v128.store(sum, a);
    v128.store(sum, b, 16);
    v128.store(sum, c, 32);
    v128.store(sum, d, 48);
  }
}

/** The same on the way down, sixteen at a time, with every second tap or all. */
function addSinglePairs(taps: usize, tapStride: i32, tapCount: i32, low: usize, high: usize, count: i32): void {
  for (let n = 0; n < count; n += 16) {
    let tap = taps;
    let l = singleAt(low, n);
    let h = singleAt(high, n);
    const sum = singleAt(singleSums, n);
    let a = v128.load(sum);
    let b = v128.load(sum, 16);
    let c = v128.load(sum, 32);
    let d = v128.load(sum, 48);
    for (let j = 0; j < tapCount; j++) {
      const weight = f32x4.splat(<f32>load<f64>(tap));
      a = f32x4.add(a, f32x4.mul(weight, f32x4.add(v128.load(l), v128.load(h))));
      b = f32x4.add(b, f32x4.mul(weight, f32x4.add(v128.load(l, 16), v128.load(h, 16))));
      c = f32x4.add(c, f32x4.mul(weight, f32x4.add(v128.load(l, 32), v128.load(h, 32))));
      d = f32x4.add(d, f32x4.mul(weight, f32x4.add(v128.load(l, 48), v128.load(h, 48))));
      tap += BYTES * tapStride;
      l -= SINGLE_BYTES;
      h += SINGLE_BYTES;
    }
    v128.store(sum, a);
    v128.store(sum, b, 16);
    v128.store(sum, c, 32);
    v128.store(sum, d, 48);
  }
}

/** Sums start with a signal times a factor. */
function startSums(factor: f64, from: usize, count: i32): void {
  const factors = f32x4.splat(<f32>factor);
  for (let n = 0; n < count; n += 4)
    v128.store(singleAt(singleSums, n), f32x4.mul(factors, v128.load(singleAt(from, n))));
}

/** Writes the sums down as 64 bits. */
function giveSums(count: i32, to: usize): void {
  for (let n = 0; n < count; n += 4) {
    const s = v128.load(singleAt(singleSums, n));
    v128.store(at(to, n), f64x2.promote_low_f32x4(s));
    v128.store(at(to, n), f64x2.promote_low_f32x4(v128.shuffle<f32>(s, s, 2, 3, 2, 3)), 16);
  }
}

/** Four numbers of 64 bits as 32. */
function singles(place: usize): v128 {
  const low = f32x4.demote_f64x2_zero(v128.load(place));
  return v128.shuffle<f32>(low, f32x4.demote_f64x2_zero(v128.load(place, 16)), 0, 1, 4, 5);
}

/** Takes every second sample of `work` apart from the others. */
function split(count: i32): void {
  for (let n = 0; 2 * n < count; n += 4) {
    const first = singles(at(work, 2 * n));
    const second = singles(at(work, 2 * n + 4));
    v128.store(singleAt(evens, n), v128.shuffle<f32>(first, second, 0, 2, 4, 6));
    v128.store(singleAt(odds, n), v128.shuffle<f32>(first, second, 1, 3, 5, 7));
  }
}

/** Puts the past before what comes in, both in `work`, and remembers the end. */
function join(past: usize, length: i32, from: usize, count: i32): void {
  memory.copy(work, past, BYTES * length);
  memory.copy(at(work, length), from, BYTES * count);
  memory.copy(past, at(work, count), BYTES * length);
}

/** Holds a signal back in place. */
export function delay(signal: usize, samples: i32, count: i32, past: usize): void {
  join(past, samples, signal, count);
  memory.copy(signal, work, BYTES * count);
}

/**
 * `count` samples become twice as many; those that stand on the grid are copied, those between interpolated.
 */
function doubleBy(taps: usize, reach: i32, from: usize, count: i32, past: usize, to: usize): void {
  join(past, reach, from, count);
  const tapCount = (reach + 1) / 2;
  const onGrid = at(work, tapCount);
  memory.fill(sums, 0, BYTES * (count + 8));
  addPairs(taps, tapCount, onGrid - BYTES, onGrid, count);
  // The middle tap is 1/2, and half of the samples are zeros.
  const two = f64x2.splat(2);
  for (let n = 0; n < count; n += 2) {
    const between = f64x2.mul(two, v128.load(at(sums, n)));
    const copied = v128.load(at(onGrid, n));
    v128.store(at(to, 2 * n), v128.shuffle<f64>(between, copied, 0, 2));
    v128.store(at(to, 2 * n), v128.shuffle<f64>(between, copied, 1, 3), 16);
  }
}

/** Doubles a rate that is at least twice the plain one. */
export function double(from: usize, count: i32, past: usize, to: usize): void {
  doubleBy(outerTaps, OUTER_REACH, from, count, past, to);
}

/** Makes `count` samples of twice as many, at a rate that stays at least twice the plain one. */
export function halve(from: usize, count: i32, past: usize, to: usize): void {
  join(past, 2 * OUTER_REACH, from, 2 * count);
  split(2 * (count + OUTER_REACH));
  const middle = (OUTER_REACH + 1) / 2;
  startSums(0.5, singleAt(evens, middle), count);
  const high = singleAt(odds, middle);
  addSinglePairs(outerTaps, 1, OUTER_TAPS, high - SINGLE_BYTES, high, count);
  giveSums(count, to);
}

/** The last step down to the plain rate. */
function halveLast(from: usize, count: i32, past: usize, to: usize): void {
  join(past, 2 * LAST_REACH, from, 2 * count);
  split(2 * (count + LAST_REACH));
  const middle = (LAST_REACH + 1) / 2;
  startSums(load<f64>(lastTaps), singleAt(evens, middle), count);
  addSinglePairs(at(lastTaps, 1), 2, LAST_ODD_TAPS, singleAt(odds, middle - 1), singleAt(odds, middle), count);
  addSinglePairs(at(lastTaps, 2), 2, LAST_EVEN_TAPS, singleAt(evens, middle - 1), singleAt(evens, middle + 1), count);
  giveSums(count, to);
}

/** From `plain` to `fine`, at four times the rate. */
export function interpolateFrom(count: i32, past: usize): void {
  const outer = at(past, DOUBLE_INNER_STATE);
  doubleBy(innerTaps, INNER_REACH, plain, count, past, other);
  double(other, 2 * count, outer, fine);
  delay(fine, INTERPOLATOR_PAD, 4 * count, at(outer, DOUBLE_STATE));
}

/** From `fine`, at four times the rate, to `plain`. */
export function decimateFrom(count: i32, past: usize): void {
  const outer = at(past, DECIMATOR_PAD);
  delay(fine, DECIMATOR_PAD, 4 * count, past);
  halve(fine, 2 * count, outer, other);
  halveLast(other, count, at(outer, HALVE_STATE), plain);
}

export function interpolate(count: i32): void {
  interpolateFrom(count, state);
}

export function decimate(count: i32): void {
  decimateFrom(count, state);
}
