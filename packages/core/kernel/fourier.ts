/**
 * A Fourier transform of complex points in the order of their reversed bits (src/dsp/fft.ts says more), two
 * points in the lanes of a vector.
 */
import { BYTES, at } from './regions';

/** Points that one call takes at most, a power of two. */
export const MOST_POINTS: i32 = 32768;

/** Apart by a little more, so that what is read together does not fall into the same lines of the cache. */
export const points = memory.data(BYTES * (32768 + 264), 16);
export const imaginaries = memory.data(BYTES * (32768 + 264), 16);
/**
 * For passes over groups of four times `quarter` points, from four times `quarter` on: cosines and sines of a
 * turn over the group, and of twice that, of two points each in this order.
 */
export const turns = memory.data(BYTES * 2 * 32768, 16);

/** Transforms the first `size` points in place. */
export function transform(size: i32): void {
  let quarter: i32 = 1;
  if (popcnt(size - 1) & 1) {
    pairs(size);
    quarter = 2;
  } else {
    firstFours(size);
    quarter = 4;
  }
  for (; 4 * quarter <= size; quarter *= 4) fours(size, quarter);
}

/** A stage of radix 2: sums and differences. */
function pairs(size: i32): void {
  for (let i = 0; i < size; i += 2) {
    sumAndDifference(at(points, i));
    sumAndDifference(at(imaginaries, i));
  }
}

function sumAndDifference(place: usize): void {
  const x = load<f64>(place);
  const y = load<f64>(place, BYTES);
  store<f64>(place, x + y);
  store<f64>(place, x - y, BYTES);
}

/** Two stages of radix 2 over groups of four points, which nothing is turned for. */
function firstFours(size: i32): void {
  for (let i = 0; i < size; i += 4) {
    const re = at(points, i);
    const im = at(imaginaries, i);
    const sumRe = load<f64>(re) + load<f64>(re, BYTES);
    const sumIm = load<f64>(im) + load<f64>(im, BYTES);
    const offRe = load<f64>(re) - load<f64>(re, BYTES);
    const offIm = load<f64>(im) - load<f64>(im, BYTES);
    const upRe = load<f64>(re, 2 * BYTES) + load<f64>(re, 3 * BYTES);
    const upIm = load<f64>(im, 2 * BYTES) + load<f64>(im, 3 * BYTES);
    const downRe = load<f64>(re, 2 * BYTES) - load<f64>(re, 3 * BYTES);
    const downIm = load<f64>(im, 2 * BYTES) - load<f64>(im, 3 * BYTES);
    store<f64>(re, sumRe + upRe);
    store<f64>(im, sumIm + upIm);
    store<f64>(re, sumRe - upRe, 2 * BYTES);
    store<f64>(im, sumIm - upIm, 2 * BYTES);
    // A quarter of a turn further: the real part of one is the imaginary part of the other.
    store<f64>(re, offRe + downIm, BYTES);
    store<f64>(im, offIm - downRe, BYTES);
    store<f64>(re, offRe - downIm, 3 * BYTES);
    store<f64>(im, offIm + downRe, 3 * BYTES);
  }
}

/** Two stages of radix 2 at once, over groups of four times `quarter` points. */
function fours(size: i32, quarter: i32): void {
  const next = (<usize>quarter) << 3;
  for (let start = 0; start < size; start += 4 * quarter) {
    let turned = at(turns, 4 * quarter);
    let aRe = at(points, start);
    let aIm = at(imaginaries, start);
    for (let k = 0; k < quarter; k += 2) {
      const bRe = aRe + next;
      const bIm = aIm + next;
      const cRe = bRe + next;
      const cIm = bIm + next;
      const dRe = cRe + next;
      const dIm = cIm + next;
      const c2 = v128.load(turned, 32);
      const s2 = v128.load(turned, 48);
      const b0 = v128.load(bRe);
      const b1 = v128.load(bIm);
      const d0 = v128.load(dRe);
      const d1 = v128.load(dIm);
      const b2Re = f64x2.add(f64x2.mul(b0, c2), f64x2.mul(b1, s2));
      const b2Im = f64x2.sub(f64x2.mul(b1, c2), f64x2.mul(b0, s2));
      const d2Re = f64x2.add(f64x2.mul(d0, c2), f64x2.mul(d1, s2));
      const d2Im = f64x2.sub(f64x2.mul(d1, c2), f64x2.mul(d0, s2));
      const a0 = v128.load(aRe);
      const a1 = v128.load(aIm);
      const c0 = v128.load(cRe);
      const c1 = v128.load(cIm);
      const sumRe = f64x2.add(a0, b2Re);
      const sumIm = f64x2.add(a1, b2Im);
      const offRe = f64x2.sub(a0, b2Re);
      const offIm = f64x2.sub(a1, b2Im);
      const upRe = f64x2.add(c0, d2Re);
      const upIm = f64x2.add(c1, d2Im);
      const downRe = f64x2.sub(c0, d2Re);
      const downIm = f64x2.sub(c1, d2Im);
      const cosine = v128.load(turned);
      const sine = v128.load(turned, 16);
      const turnedRe = f64x2.add(f64x2.mul(upRe, cosine), f64x2.mul(upIm, sine));
      const turnedIm = f64x2.sub(f64x2.mul(upIm, cosine), f64x2.mul(upRe, sine));
      const crossedRe = f64x2.sub(f64x2.mul(downIm, cosine), f64x2.mul(downRe, sine));
      const crossedIm = f64x2.add(f64x2.mul(downRe, cosine), f64x2.mul(downIm, sine));
      v128.store(aRe, f64x2.add(sumRe, turnedRe));
      v128.store(aIm, f64x2.add(sumIm, turnedIm));
      v128.store(cRe, f64x2.sub(sumRe, turnedRe));
      v128.store(cIm, f64x2.sub(sumIm, turnedIm));
      v128.store(bRe, f64x2.add(offRe, crossedRe));
      v128.store(bIm, f64x2.sub(offIm, crossedIm));
      v128.store(dRe, f64x2.sub(offRe, crossedRe));
      v128.store(dIm, f64x2.add(offIm, crossedIm));
      aRe += 16;
      aIm += 16;
      turned += 64;
    }
  }
}
