/**
 * Adds the sums of partials to two samples in a row (Clenshaw 1955), whose series do not wait for one
 * another: many times faster than a sine for each. Beyond the end nothing is written.
 *
 * @param amplitudes of partials from 1; what stands at 0 is not read
 * @param first phase of the first partial at the first sample, in radians
 */
export function addTwo(
  out: Float64Array,
  at: number,
  amplitudes: ArrayLike<number>,
  first: number,
  second: number,
): void {
  const twiceFirst = 2 * Math.cos(first);
  const twiceSecond = 2 * Math.cos(second);
  let a1 = 0;
  let a2 = 0;
  let b1 = 0;
  let b2 = 0;
  for (let n = amplitudes.length - 1; n > 0; n--) {
    const amplitude = amplitudes[n];
    const a = amplitude - a2 + twiceFirst * a1;
    a2 = a1;
    a1 = a;
    const b = amplitude - b2 + twiceSecond * b1;
    b2 = b1;
    b1 = b;
  }
  out[at] += a1 * Math.sin(first);
  if (at + 1 < out.length) out[at + 1] += b1 * Math.sin(second);
}
