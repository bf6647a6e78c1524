/**
 * Two-pole sections over both sides of a signal at once, a side in each lane (engine/filters/stateVariable.ts
 * says what they are).
 */
import { BYTES, at, coefficients, left, right, state, steps } from './regions';
import { setSides, sides } from './sides';

/** Coefficients of a section: g, k = 1/Q, and the shares of input, band-pass and low-pass. */
const SECTION: i32 = 5;
/** Both integrators of both sides. */
export const STEREO_SECTION_STATE: i32 = 4;

/**
 * What is left below this is silence; without it, dying states turn into denormal numbers, which processors
 * are slow at.
 */
const FORGOTTEN: f64 = 1e-18;

function forgetSmall(x: v128): v128 {
  return v128.and(x, f64x2.gt(f64x2.abs(x), f64x2.splat(FORGOTTEN)));
}

function runAtRest(count: i32, c: usize, past: usize): void {
  let p = v128.load(past);
  let q = v128.load(past, 16);
  const g = load<f64>(c);
  const m0 = load<f64>(c, 2 * BYTES);
  const m1 = load<f64>(c, 3 * BYTES);
  const m2 = load<f64>(c, 4 * BYTES);
  const a = 1 / (1 + g * (g + load<f64>(c, BYTES)));
  const b = g * a;
  const d = g * b;
  const pp = f64x2.splat(2 * a - 1);
  const px = f64x2.splat(2 * b);
  const qq = f64x2.splat(1 - 2 * d);
  const qx = f64x2.splat(2 * d);
  const outX = f64x2.splat(m0 + m1 * b + m2 * d);
  const outP = f64x2.splat(m1 * a + m2 * b);
  const outQ = f64x2.splat(m2 * (1 - d) - m1 * b);
  for (let i = 0; i < count; i++) {
    const x = sides(left, right, i);
    setSides(left, right, i, f64x2.add(f64x2.add(f64x2.mul(outX, x), f64x2.mul(outP, p)), f64x2.mul(outQ, q)));
    const next = f64x2.add(f64x2.mul(pp, p), f64x2.sub(f64x2.mul(px, x), f64x2.mul(px, q)));
    q = f64x2.add(f64x2.mul(px, p), f64x2.add(f64x2.mul(qq, q), f64x2.mul(qx, x)));
    p = next;
  }
  v128.store(past, forgetSmall(p));
  v128.store(past, forgetSmall(q), 16);
}

function runMoving(count: i32, c: usize, step: usize, past: usize): void {
  let p = v128.load(past);
  let q = v128.load(past, 16);
  let g = load<f64>(c);
  let k = load<f64>(c, BYTES);
  let m0 = load<f64>(c, 2 * BYTES);
  let m1 = load<f64>(c, 3 * BYTES);
  let m2 = load<f64>(c, 4 * BYTES);
  for (let i = 0; i < count; i++) {
    const a = 1 / (1 + g * (g + k));
    const x = sides(left, right, i);
    const band = f64x2.add(f64x2.mul(f64x2.splat(a), p), f64x2.mul(f64x2.splat(g * a), f64x2.sub(x, q)));
    const low = f64x2.add(q, f64x2.mul(f64x2.splat(g), band));
    const mixed = f64x2.add(f64x2.mul(f64x2.splat(m1), band), f64x2.mul(f64x2.splat(m2), low));
    setSides(left, right, i, f64x2.add(f64x2.mul(f64x2.splat(m0), x), mixed));
    p = f64x2.sub(f64x2.add(band, band), p);
    q = f64x2.sub(f64x2.add(low, low), q);
    g += load<f64>(step);
    k += load<f64>(step, BYTES);
    m0 += load<f64>(step, 2 * BYTES);
    m1 += load<f64>(step, 3 * BYTES);
    m2 += load<f64>(step, 4 * BYTES);
  }
  v128.store(past, forgetSmall(p));
  v128.store(past, forgetSmall(q), 16);
}

/** Puts `left` and `right` through sections one after the other, in place. */
export function runSections(count: i32, sections: i32, moving: bool): void {
  for (let s = 0; s < sections; s++) {
    const past = at(state, s * STEREO_SECTION_STATE);
    const c = at(coefficients, s * SECTION);
    if (moving) runMoving(count, c, at(steps, s * SECTION), past);
    else runAtRest(count, c, past);
  }
}
