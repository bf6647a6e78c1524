/**
 * A signal read between its samples by a table of windowed sincs (src/dsp/sinc.ts makes it and says what it
 * is).
 */
import { BYTES, at } from './regions';

export const TAPS: i32 = 32;
export const PHASES: i32 = 512;
/** Samples that are read from, and values that are read, at most in one call. */
export const MOST_SAMPLES: i32 = 8192;
export const MOST_VALUES: i32 = 4096;

/** A row of taps for each phase, and one more. */
export const sincs = memory.data(BYTES * TAPS * (PHASES + 1), 16);
export const samples = memory.data(BYTES * MOST_SAMPLES, 16);
export const values = memory.data(BYTES * MOST_VALUES, 16);

/** Reads `count` values from a position on; all their taps have to be within `samples`. */
export function readBetween(count: i32, position: f64, step: f64): void {
  for (let i = 0; i < count; i++) {
    const place = position + <f64>i * step;
    const whole = Math.floor(place);
    const between = (place - whole) * PHASES;
    const phase = min(PHASES - 1, <i32>between);
    // Straight lines between the stored phases: their error is under that of the window.
    const share = between - <f64>phase;
    let tap = at(samples, <i32>whole - TAPS / 2 + 1);
    let row = at(sincs, phase * TAPS);
    let before = f64x2.splat(0);
    let after = f64x2.splat(0);
    for (let k = 0; k < TAPS; k += 2) {
      const x = v128.load(tap);
      before = f64x2.add(before, f64x2.mul(x, v128.load(row)));
      after = f64x2.add(after, f64x2.mul(x, v128.load(row, BYTES * TAPS)));
      tap += 16;
      row += 16;
    }
    const sum = f64x2.add(before, f64x2.mul(f64x2.splat(share), f64x2.sub(after, before)));
    store<f64>(at(values, i), f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1));
  }
}
