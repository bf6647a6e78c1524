/**
 * A signal against the multiples of one phase (src/dsp/harmonics.ts says what for), two samples in the lanes
 * of a vector, two vectors at a time.
 */
import { BYTES, SPARE, at } from './regions';

/** Samples that one call takes at most, a multiple of four, and how many multiples. */
export const MOST_TURNED: i32 = 1024;
export const MOST_MULTIPLES: i32 = 128;

export const turned = memory.data(BYTES * (MOST_TURNED + SPARE), 16);
export const cosines = memory.data(BYTES * (MOST_TURNED + SPARE), 16);
export const sines = memory.data(BYTES * (MOST_TURNED + SPARE), 16);
/** Of each multiple two lanes of the sum with the cosine, and two with the sine. */
export const sums = memory.data(BYTES * 4 * MOST_MULTIPLES, 16);

/**
 * Adds the products of `turned` with the cosines and sines of each multiple. What is behind `count`, up to
 * the next multiple of four, has to be 0.
 */
export function addMultiples(count: i32, multiples: i32): void {
  for (let i = 0; i < count; i += 4) {
    const x = v128.load(at(turned, i));
    const y = v128.load(at(turned, i), 16);
    const cosX = v128.load(at(cosines, i));
    const cosY = v128.load(at(cosines, i), 16);
    const twiceX = f64x2.add(cosX, cosX);
    const twiceY = f64x2.add(cosY, cosY);
    // Multiples of the angle by Chebyshev's recurrence, from those of 0 and 1.
    let c = f64x2.mul(x, cosX);
    let d = f64x2.mul(y, cosY);
    let s = f64x2.mul(x, v128.load(at(sines, i)));
    let t = f64x2.mul(y, v128.load(at(sines, i), 16));
    let cBefore = x;
    let dBefore = y;
    let sBefore = f64x2.splat(0);
    let tBefore = f64x2.splat(0);
    let place: usize = sums;
    for (let n = 0; n < multiples; n++) {
      v128.store(place, f64x2.add(v128.load(place), f64x2.add(c, d)));
      v128.store(place, f64x2.add(v128.load(place, 16), f64x2.add(s, t)), 16);
      place += 32;
      const nextC = f64x2.sub(f64x2.mul(twiceX, c), cBefore);
      const nextD = f64x2.sub(f64x2.mul(twiceY, d), dBefore);
      const nextS = f64x2.sub(f64x2.mul(twiceX, s), sBefore);
      const nextT = f64x2.sub(f64x2.mul(twiceY, t), tBefore);
      cBefore = c;
      dBefore = d;
      sBefore = s;
      tBefore = t;
      c = nextC;
      d = nextD;
      s = nextS;
      t = nextT;
    }
  }
}
