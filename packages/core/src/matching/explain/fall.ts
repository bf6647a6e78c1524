import { DECAY_TAUS } from '../../patch/envelopeCurve';

/** A value that falls to a rest as an envelope does. */
export interface Fall {
  /** Not under nought. */
  rest: number;
  /** From there to where it begins; negative where it rises. */
  range: number;
  /** A decay as envelopes count it. */
  seconds: number;
}

/** Time constants that are tried, s. */
const TAUS = Array.from({ length: 40 }, (_, i) => 0.02 * 1.15 ** i);

/**
 * The exponential fall to a rest that is nearest to a value over time, by least squares for each time
 * constant.
 *
 * @param points seconds since the fall began
 */
export function fallOf(points: readonly { seconds: number; value: number }[]): Fall & { rms: number } {
  const count = Math.max(1, points.length);
  const mean = points.reduce((sum, { value }) => sum + value, 0) / count;
  let best: Fall = { rest: mean, range: 0, seconds: TAUS[0] * DECAY_TAUS };
  let least = points.reduce((sum, { value }) => sum + (value - mean) ** 2, 0);
  for (const tau of TAUS) {
    const shapes = points.map(({ seconds }) => Math.exp(-Math.max(0, seconds) / tau));
    const middle = shapes.reduce((a, b) => a + b, 0) / count;
    let [cross, square] = [0, 1e-12];
    shapes.forEach((shape, i) => {
      cross += (shape - middle) * (points[i].value - mean);
      square += (shape - middle) ** 2;
    });
    const rest = Math.max(0, mean - (cross / square) * middle);
    const range = middle > 0 ? (mean - rest) / middle : 0;
    const error = points.reduce((sum, { value }, i) => sum + (value - rest - range * shapes[i]) ** 2, 0);
    if (error < least) [least, best] = [error, { rest, range, seconds: tau * DECAY_TAUS }];
  }
  return { ...best, rms: Math.sqrt(least / count) };
}
