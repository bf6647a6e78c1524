import { compileEnvelope, envelopeValue } from '../patch/envelopeCurve';

/** A fall whose way is none of an exponential. */
export interface BentFall {
  /** What it comes down to, and from how far above. */
  rest: number;
  range: number;
  seconds: number;
  /** Decay curve of an envelope: 0 is a straight line, under that it falls slowly first. */
  curve: number;
  /** Root of the mean square of what it leaves. */
  rms: number;
}

const CURVES = [50, 0, -50, -100];
const TIMES = Array.from({ length: 36 }, (_, i) => 0.05 * 1.13 ** i);

/**
 * The straight or bowed fall that is nearest to values over time, by least squares for every curve and time:
 * a cutoff that falls exponentially in Hz, say, goes in a straight line of octaves until it is about there.
 *
 * @param points seconds since the fall began; none that come before
 */
export function bentFallOf(points: readonly { seconds: number; value: number }[]): BentFall | undefined {
  let best: BentFall | undefined;
  for (const curve of CURVES)
    for (const seconds of TIMES) {
      const program = compileEnvelope({ ...AT_ONCE, decaySeconds: seconds, decayCurve: curve });
      const fall = fittedTo(
        points,
        points.map((point) => envelopeValue(program, point.seconds)),
      );
      if (fall.range > 0 && (!best || fall.rms < best.rms)) best = { ...fall, seconds, curve };
    }
  return best;
}

const AT_ONCE = { attackSeconds: 0, holdSeconds: 0, sustainDb: -Infinity, releaseSeconds: 0 };

/** A shape over a rest, by least squares. */
function fittedTo(points: readonly { value: number }[], shape: readonly number[]) {
  const count = points.length;
  const middle = shape.reduce((a, b) => a + b, 0) / count;
  const mean = points.reduce((sum, { value }) => sum + value, 0) / count;
  let [cross, square] = [0, 1e-12];
  shape.forEach((s, i) => {
    cross += (s - middle) * (points[i].value - mean);
    square += (s - middle) ** 2;
  });
  const range = cross / square;
  const rest = mean - range * middle;
  const left = points.reduce((sum, { value }, i) => sum + (value - rest - range * shape[i]) ** 2, 0);
  return { rest, range, rms: Math.sqrt(left / count) };
}
