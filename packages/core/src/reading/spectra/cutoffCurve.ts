import { leastSquares } from '../../dsp/leastSquares';
import { median, quantile } from '../statistics';

/** A value that goes a way exponentially and comes to rest. */
export interface Sweep {
  rest: number;
  /** From rest, at time 0. */
  range: number;
  /** Seconds to 37 % of the way. */
  timeConstant: number;
}

const DIFFERENCES = [1e-3, 1e-3, 1e-3];
const MOST_STEP = [1, 1.5, 0.7];
/** Single values count no more than this. */
const ROBUST_OCTAVES = 0.25;
/** What strays more, half of the time, or goes beyond what it was seen at by more, is no such curve. */
const MOST_STRAY_OCTAVES = 0.08;
const MOST_BEYOND_OCTAVES = 2;
const SHORTEST_SECONDS = 0.008;

/**
 * The exponential way that octaves of a cutoff go, by damped least squares; undefined where they go another
 * way. Source: Levenberg 1944; Marquardt 1963.
 *
 * @param seconds of the values, from the onset
 */
export function fitSweep(seconds: readonly number[], octaves: readonly number[]): Sweep | undefined {
  const span = seconds[seconds.length - 1];
  const residuals = (point: Float64Array, out: Float64Array) => {
    const timeConstant = Math.exp(point[2]);
    if (timeConstant < SHORTEST_SECONDS || timeConstant > 4 * span) return false;
    for (let i = 0; i < out.length; i++) {
      const off = octaves[i] - point[0] - point[1] * Math.exp(-seconds[i] / timeConstant);
      const far = Math.abs(off) > ROBUST_OCTAVES;
      out[i] = far ? Math.sign(off) * Math.sqrt(2 * ROBUST_OCTAVES * Math.abs(off) - ROBUST_OCTAVES ** 2) : off;
    }
    return true;
  };
  const end = median(octaves.slice(-Math.max(2, Math.floor(octaves.length / 8))));
  const starts = [0.05, 0.2, 0.6].map((share) => [
    end,
    octaves[0] - end,
    Math.log(Math.max(2 * SHORTEST_SECONDS, share * span)),
  ]);
  const search = { count: seconds.length, differences: DIFFERENCES, mostStep: MOST_STEP, mostIterations: 25 };
  const found = starts
    .map((start) => leastSquares(residuals, start, search))
    .reduce((a, b) => (b.cost < a.cost ? b : a));
  const [rest, range] = found.point;
  const timeConstant = Math.exp(found.point[2]);
  const strays = octaves.map((octave, i) => Math.abs(octave - rest - range * Math.exp(-seconds[i] / timeConstant)));
  const seen = Math.max(...octaves) - Math.min(...octaves);
  if (quantile(strays, 0.5) > MOST_STRAY_OCTAVES || Math.abs(range) > seen + MOST_BEYOND_OCTAVES) return undefined;
  return { rest, range, timeConstant };
}
