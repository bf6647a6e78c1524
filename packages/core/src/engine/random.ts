/** A number 0..1 from three whole numbers, the same at every call: what makes a render repeat exactly. */
export function hashedRandom(a: number, b: number, c: number): number {
  writeRandom(one, 0, a, b, c);
  return one[0];
}

const one = new Float64Array(1);

/** Writes it to `out[at]`, for those who may not allocate: a number that a function returns can be boxed. */
export function writeRandom(out: Float64Array, at: number, a: number, b: number, c: number): void {
  let h =
    Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^
    Math.imul(b + 0x7f4a7c15, 0xc2b2ae35) ^
    Math.imul(c + 0x165667b1, 0x27d4eb2f);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  out[at] = ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}
