import { DECAY_TAUS, compileEnvelope, envelopeValue } from '../../patch/envelopeCurve';

/** A value that falls to a rest as an envelope does. */
export interface Fall {
  /** Not under nought. */
  rest: number;
  /** From there to where it begins; negative where it rises. */
  range: number;
  /** A decay as envelopes count it. */
  seconds: number;
}

/** A fall as an envelope's decay. */
export interface FittedFall extends Fall {
  /** Decay curve: 100 is exponential, 0 a straight line; under that it falls slowly first. */
  curve: number;
  /** Root of the mean square of what it leaves. */
  rms: number;
}

/** A value so many seconds after the fall began. */
export interface FallingPoint {
  seconds: number;
  value: number;
}

/** Time constants that are tried, s. */
const TAUS = Array.from({ length: 40 }, (_, i) => 0.02 * 1.15 ** i);

/**
 * The exponential fall to a rest that is nearest to a value over time, by least squares for each time
 * constant.
 *
 * @param points seconds since the fall began
 */
export function fallOf(points: readonly FallingPoint[]): FittedFall {
  const count = Math.max(1, points.length);
  const mean = points.reduce((sum, { value }) => sum + value, 0) / count;
  let best: Fall = { rest: mean, range: 0, seconds: TAUS[0] * DECAY_TAUS };
  let least = points.reduce((sum, { value }) => sum + (value - mean) ** 2, 0);
  for (const tau of TAUS) {
    const shape = points.map(({ seconds }) => Math.exp(-Math.max(0, seconds) / tau));
    const { rest, range, left } = overRest(points, shape);
    if (left < least) [least, best] = [left, { rest, range, seconds: tau * DECAY_TAUS }];
  }
  return { ...best, curve: 100, rms: Math.sqrt(least / count) };
}

const CURVES = [50, 0, -50, -100];
const TIMES = Array.from({ length: 36 }, (_, i) => 0.05 * 1.13 ** i);
const AT_ONCE = { attackSeconds: 0, holdSeconds: 0, sustainDb: -Infinity, releaseSeconds: 0 };

/**
 * The straight or bowed fall to a rest that is nearest to a value over time, in the same way: a cutoff that
 * falls exponentially in Hz, say, goes in a straight line of octaves until it is about there. Undefined where
 * nothing falls.
 *
 * @param points none that come before the fall begins
 */
export function bentFallOf(points: readonly FallingPoint[]): FittedFall | undefined {
  let best: FittedFall | undefined;
  for (const curve of CURVES)
    for (const seconds of TIMES) {
      const program = compileEnvelope({ ...AT_ONCE, decaySeconds: seconds, decayCurve: curve });
      const shape = points.map((point) => envelopeValue(program, point.seconds));
      const { rest, range, left } = overRest(points, shape);
      const rms = Math.sqrt(left / points.length);
      if (range > 0 && (!best || rms < best.rms)) best = { rest, range, seconds, curve, rms };
    }
  return best;
}

/** A shape over a rest that is not under nought, by least squares, and the squares that it leaves. */
function overRest(points: readonly FallingPoint[], shape: readonly number[]) {
  const count = Math.max(1, points.length);
  const mean = points.reduce((sum, { value }) => sum + value, 0) / count;
  const middle = shape.reduce((a, b) => a + b, 0) / count;
  let [cross, square] = [0, 1e-12];
  shape.forEach((s, i) => {
    cross += (s - middle) * (points[i].value - mean);
    square += (s - middle) ** 2;
  });
  const rest = Math.max(0, mean - (cross / square) * middle);
  const range = middle > 0 ? (mean - rest) / middle : 0;
  const left = points.reduce((sum, { value }, i) => sum + (value - rest - range * shape[i]) ** 2, 0);
  return { rest, range, left };
}
