/**
 * Memory of the kernel: numbers go in and out through these places. Nothing is kept here from one call to
 * the next, but for tables of shaper and sincs. What a filter remembers is copied in and out by its owner.
 */

/** Samples at the plain rate that one call takes at most. */
export const MOST: i32 = 128;
/** Highest multiple of the plain rate. */
export const HIGHEST: i32 = 32;
/** Loops do up to sixteen numbers at a time, and may write so many too far. */
export const SPARE: i32 = 16;

export const BYTES: i32 = 8;
/** Of a number of 32 bits. */
export const SINGLE_BYTES: i32 = 4;

/** Place of the `index`-th number from a place on. */
export function at(place: usize, index: i32): usize {
  return place + ((<usize>index) << 3);
}

/** The same for numbers of 32 bits. */
export function singleAt(place: usize, index: i32): usize {
  return place + ((<usize>index) << 2);
}

/**
 * Both sides of a signal, what they were before something was done to them, and what they are sent round as.
 */
export const left = memory.data(BYTES * (MOST + SPARE), 16);
export const right = memory.data(BYTES * (MOST + SPARE), 16);
export const dryLeft = memory.data(BYTES * (MOST + SPARE), 16);
export const dryRight = memory.data(BYTES * (MOST + SPARE), 16);
export const loopLeft = memory.data(BYTES * (MOST + SPARE), 16);
export const loopRight = memory.data(BYTES * (MOST + SPARE), 16);
/** A signal at the plain rate, and at multiples of it. */
export const plain = memory.data(BYTES * (MOST + SPARE), 16);
export const fine = memory.data(BYTES * (HIGHEST * MOST + SPARE), 16);
export const other = memory.data(BYTES * (HIGHEST * MOST + SPARE), 16);
/** What the called function remembers. */
export const state = memory.data(BYTES * 512, 16);
/** Coefficients of filters, and by how much they change from sample to sample. */
export const coefficients = memory.data(BYTES * 64, 16);
export const steps = memory.data(BYTES * 64, 16);
