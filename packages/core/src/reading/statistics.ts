export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return sum / values.length;
}

/** RMS of a signal between two samples; what lies beyond its end does not count. */
export function rmsOf(signal: ArrayLike<number>, from: number, to: number): number {
  let sum = 0;
  const end = Math.min(signal.length, to);
  for (let i = from; i < end; i++) sum += signal[i] * signal[i];
  return Math.sqrt(sum / Math.max(1, end - from));
}

/** The same between two times, in seconds. */
export const rmsWithin = (signal: ArrayLike<number>, sampleRateHz: number, from: number, to: number): number =>
  rmsOf(signal, Math.max(0, Math.round(from * sampleRateHz)), Math.round(to * sampleRateHz));

/** The value under which the fraction `q` of all values lies, by linear interpolation. NaN for none. */
export function quantile(values: ArrayLike<number>, q: number): number {
  const sorted = Float64Array.from(values).sort();
  if (sorted.length === 0) return NaN;
  const place = q * (sorted.length - 1);
  const low = Math.floor(place);
  const high = Math.ceil(place);
  return sorted[low] + (place - low) * (sorted[high] - sorted[low]);
}

export const median = (values: ArrayLike<number>) => quantile(values, 0.5);

/** Straight line through points by weighted least squares. */
export function fitLine(
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
  weights: ArrayLike<number>,
): { intercept: number; slope: number } {
  let w = 0;
  let wx = 0;
  let wy = 0;
  let wxx = 0;
  let wxy = 0;
  for (let i = 0; i < xs.length; i++) {
    w += weights[i];
    wx += weights[i] * xs[i];
    wy += weights[i] * ys[i];
    wxx += weights[i] * xs[i] * xs[i];
    wxy += weights[i] * xs[i] * ys[i];
  }
  const spread = w * wxx - wx * wx;
  const slope = spread > 1e-12 * w * wxx ? (w * wxy - wx * wy) / spread : 0;
  return { intercept: (wy - slope * wx) / w, slope };
}

/** Pearson's correlation; 0 when one of both does not move. */
export function correlation(xs: ArrayLike<number>, ys: ArrayLike<number>): number {
  const middleX = mean(xs);
  const middleY = mean(ys);
  let product = 0;
  let powerX = 0;
  let powerY = 0;
  for (let i = 0; i < xs.length; i++) {
    product += (xs[i] - middleX) * (ys[i] - middleY);
    powerX += (xs[i] - middleX) ** 2;
    powerY += (ys[i] - middleY) ** 2;
  }
  return powerX > 0 && powerY > 0 ? product / Math.sqrt(powerX * powerY) : 0;
}

/** Legendre's polynomial of an order at −1..1. */
export function legendre(order: number, x: number): number {
  let before = 1;
  let now = x;
  if (order === 0) return before;
  for (let n = 1; n < order; n++) [before, now] = [now, ((2 * n + 1) * x * now - n * before) / (n + 1)];
  return now;
}

/**
 * Values without the polynomial of an order that fits them best, over times that are (nearly) evenly spaced.
 */
export function withoutCourse(times: ArrayLike<number>, values: ArrayLike<number>, order: number): Float64Array {
  const left = Float64Array.from(values);
  const middle = (times[0] + times[times.length - 1]) / 2;
  const half = (times[times.length - 1] - times[0]) / 2 || 1;
  const basis = Array.from({ length: order + 1 }, (_, k) =>
    Float64Array.from(times, (at) => legendre(k, (at - middle) / half)),
  );
  // One after the other: on evenly spaced points they are nearly orthogonal, a second pass takes what is
  // left.
  for (let pass = 0; pass < 2; pass++) {
    for (const b of basis) {
      let product = 0;
      let power = 0;
      for (let i = 0; i < b.length; i++) {
        product += b[i] * left[i];
        power += b[i] * b[i];
      }
      for (let i = 0; i < b.length; i++) left[i] -= (product / power) * b[i];
    }
  }
  return left;
}

/** Places of some, at most, that are spread evenly over so many. */
export function spread(count: number, most: number): number[] {
  const step = Math.max(1, Math.ceil(count / most));
  return Array.from({ length: Math.ceil(count / step) }, (_, i) => i * step);
}
