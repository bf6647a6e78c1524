/** The inner loops of engine/effects/reverb.ts: all-passes, and a feedback delay network of sixteen lines. */
import { BYTES, SPARE, at, dryLeft, dryRight, left, loopLeft, loopRight, right } from './regions';
import { setSides, sides } from './sides';

export const LINES: i32 = 16;
/** Samples that are sent round together at most. */
export const MOST_TURN: i32 = 64;
/** Of a line's past, as much as a turn reads, with neighbours and with what a moving distance takes. */
export const WINDOW: i32 = MOST_TURN + 8;

/** Windows of all lines, and what comes out of each, then what goes into it. */
export const windows = memory.data(BYTES * (LINES * WINDOW + SPARE), 16);
export const rows = memory.data(BYTES * (LINES * MOST_TURN + SPARE), 16);
/**
 * Of each line: the place in its window of the first sample to be read, by how much less the next one's is
 * later, gain and pole of its low-pass.
 */
export const linePlaces = memory.data(BYTES * LINES);
export const lineSteps = memory.data(BYTES * LINES);
export const lineGains = memory.data(BYTES * LINES);
export const linePoles = memory.data(BYTES * LINES);
/** What the low-passes remember. */
export const lineStates = memory.data(BYTES * LINES, 16);

/** Under this a state is silence. */
const FORGOTTEN: f64 = 1e-15;

function rowOf(line: i32): usize {
  return at(rows, line * MOST_TURN);
}

/**
 * One pair of all-passes: `dryLeft` and `dryRight` come out of their lines, and what goes in is left in
 * `loopLeft` and `loopRight`.
 */
export function allPass(from: i32, to: i32, amount: f64): void {
  const share = f64x2.splat(amount);
  for (let i = from; i < to; i++) {
    const late = sides(dryLeft, dryRight, i);
    const v = f64x2.sub(sides(left, right, i), f64x2.mul(share, late));
    setSides(left, right, i, f64x2.add(late, f64x2.mul(share, v)));
    setSides(loopLeft, loopRight, i, v);
  }
}

/** Reads a line between its samples by Lagrange's polynomial of third order (Laakso et al. 1996). */
function readLine(line: i32, count: i32): void {
  const window = at(windows, line * WINDOW);
  const row = rowOf(line);
  const step = load<f64>(at(lineSteps, line));
  let place = load<f64>(at(linePlaces, line));
  let n: i32 = 0;
  while (n < count) {
    // As long as the place stays between the same two samples, seen from the one that is written.
    const above = ceil(place);
    const d = above - place;
    let many = <f64>(count - n);
    if (step > 0) many = min(many, ceil((1 - d) / step));
    else if (step < 0) many = min(many, floor(d / -step) + 1);
    const end = n + max(1, <i32>many);
    interpolate(at(window, <i32>above), d, step, end - n, at(row, n));
    place += <f64>(end - n) * (1 - step);
    n = end;
  }
}

/** @param d how far the first one lies before the sample at `from`, and by how much further every next one */
function interpolate(from: usize, d: f64, step: f64, count: i32, to: usize): void {
  const one = f64x2.splat(1);
  const two = f64x2.splat(2);
  const half = f64x2.splat(0.5);
  const sixth = f64x2.splat(1 / 6.0);
  const steps = f64x2.splat(2 * step);
  let ds = f64x2(d, d + step);
  for (let n = 0; n < count; n += 2) {
    const x = at(from, n);
    const before = f64x2.sub(ds, one);
    const after = f64x2.add(ds, one);
    const far = f64x2.sub(ds, two);
    const outer = f64x2.mul(sixth, f64x2.mul(ds, before));
    const inner = f64x2.mul(half, f64x2.mul(after, far));
    const ends = f64x2.sub(f64x2.mul(after, v128.load(x - 2 * BYTES)), f64x2.mul(far, v128.load(x, 8)));
    const middle = f64x2.sub(f64x2.mul(before, v128.load(x)), f64x2.mul(ds, v128.load(x - BYTES)));
    v128.store(at(to, n), f64x2.add(f64x2.mul(outer, ends), f64x2.mul(inner, middle)));
    ds = f64x2.add(ds, steps);
  }
}

/** Adds a line to what is heard on its side; signs by pairs, so that the sides share no sum. */
function hear(line: i32, count: i32): void {
  const sum = (line & 1) === 0 ? dryLeft : dryRight;
  const sign = f64x2.splat((line & 3) < 2 ? 1 : -1);
  const row = rowOf(line);
  for (let n = 0; n < count; n += 2) {
    v128.store(at(sum, n), f64x2.add(v128.load(at(sum, n)), f64x2.mul(sign, v128.load(at(row, n)))));
  }
}

/** Low-passes four lines, whose waiting times then overlap. */
function damp(line: i32, count: i32): void {
  const a = rowOf(line);
  const b = rowOf(line + 1);
  const c = rowOf(line + 2);
  const d = rowOf(line + 3);
  const state = at(lineStates, line);
  let low = v128.load(state);
  let other = v128.load(state, 16);
  const pole = v128.load(at(linePoles, line));
  const otherPole = v128.load(at(linePoles, line), 16);
  const gain = v128.load(at(lineGains, line));
  const otherGain = v128.load(at(lineGains, line), 16);
  for (let n = 0; n < count; n++) {
    low = f64x2.add(f64x2.mul(gain, sides(a, b, n)), f64x2.mul(pole, low));
    other = f64x2.add(f64x2.mul(otherGain, sides(c, d, n)), f64x2.mul(otherPole, other));
    setSides(a, b, n, low);
    setSides(c, d, n, other);
  }
  const forgotten = f64x2.splat(FORGOTTEN);
  v128.store(state, v128.and(low, f64x2.gt(f64x2.abs(low), forgotten)));
  v128.store(state, v128.and(other, f64x2.gt(f64x2.abs(other), forgotten)), 16);
}

/** The Hadamard transform of the lines, without its factor of a quarter. */
function mixLines(count: i32): void {
  for (let half = 1; half < LINES; half *= 2) {
    for (let line = 0; line < LINES; line++) {
      if ((line & half) !== 0) continue;
      const one = rowOf(line);
      const other = rowOf(line + half);
      for (let n = 0; n < count; n += 2) {
        const a = v128.load(at(one, n));
        const b = v128.load(at(other, n));
        v128.store(at(one, n), f64x2.add(a, b));
        v128.store(at(other, n), f64x2.sub(a, b));
      }
    }
  }
}

/** What goes into a line again: what goes round, and what comes in on its side from `from` on. */
function feed(line: i32, from: i32, count: i32): void {
  const input = at((line & 1) === 0 ? left : right, from);
  const row = rowOf(line);
  const quarter = f64x2.splat(0.25);
  for (let n = 0; n < count; n += 2) {
    v128.store(at(row, n), f64x2.add(f64x2.mul(quarter, v128.load(at(row, n))), v128.load(at(input, n))));
  }
}

/**
 * Sends `count` samples of `left` and `right` round the lines; what comes out of them takes their place, as
 * wide as is said.
 */
export function turn(from: i32, count: i32, output: f64, width: f64, widthStep: f64): void {
  memory.fill(dryLeft, 0, BYTES * count);
  memory.fill(dryRight, 0, BYTES * count);
  for (let line = 0; line < LINES; line++) {
    readLine(line, count);
    hear(line, count);
  }
  for (let line = 0; line < LINES; line += 4) damp(line, count);
  mixLines(count);
  for (let line = 0; line < LINES; line++) feed(line, from, count);
  let wide = width;
  for (let n = 0; n < count; n++) {
    wide += widthStep;
    const l = load<f64>(at(dryLeft, n));
    const r = load<f64>(at(dryRight, n));
    const middle = output * (l + r);
    const side = output * wide * (l - r);
    store<f64>(at(left, from + n), middle + side);
    store<f64>(at(right, from + n), middle - side);
  }
}
