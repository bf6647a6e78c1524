import type { Contour } from '../../patch/schema';

export interface ContourProgram {
  seconds: Float64Array;
  values: Float64Array;
}

export function compileContour({ points }: Pick<Contour, 'points'>): ContourProgram {
  return {
    seconds: Float64Array.from(points, (point) => point.seconds),
    values: Float64Array.from(points, (point) => point.value),
  };
}

/**
 * Value of a contour at a time since note-on: straight between points, held before the first and after the
 * last.
 */
export function contourValue({ seconds, values }: ContourProgram, time: number): number {
  const last = seconds.length - 1;
  if (time <= seconds[0]) return values[0];
  if (time >= seconds[last]) return values[last];
  let low = 0;
  let high = last;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (seconds[middle] <= time) low = middle;
    else high = middle;
  }
  return values[low] + ((values[high] - values[low]) * (time - seconds[low])) / (seconds[high] - seconds[low]);
}
