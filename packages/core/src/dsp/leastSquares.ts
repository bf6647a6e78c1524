import { dotProduct } from './dotProduct';

/**
 * Writes what a model misses its targets by to `out`; returns false where the point is not allowed.
 */
export type Residuals = (point: Float64Array, out: Float64Array) => boolean;

/** Writes the derivatives of the residuals along each axis; `left` are the residuals themselves. */
export type Derivatives = (point: Float64Array, left: Float64Array, columns: readonly Float64Array[]) => void;

interface Search {
  /** How many residuals there are. */
  count: number;
  /**
   * Differences that derivatives are taken over, in each axis's unit; may be negative; 0: the axis stays. Or
   * their formulas.
   */
  differences: readonly number[] | Derivatives;
  /** As far as a step goes along each axis at most; if missing, there is no limit. */
  mostStep?: readonly number[];
  mostIterations: number;
}

interface LeastSquares {
  point: Float64Array;
  /** Sum of the squares that are left; Infinity where the start is not allowed. */
  cost: number;
}

const FIRST_DAMPING = 1e-2;
const MOST_TRIES = 8;
/** A step that takes off less than this share of the cost is the last. */
const LEAST_GAIN = 1e-5;

/**
 * Least squares by damped Gauss-Newton steps (Levenberg 1944; Marquardt 1963: the damping is scaled by the
 * diagonal).
 */
export function leastSquares(residuals: Residuals, start: ArrayLike<number>, search: Search): LeastSquares {
  const { count, differences, mostStep = [], mostIterations } = search;
  const n = start.length;
  let point = Float64Array.from(start);
  let left = new Float64Array(count);
  let cost = residuals(point, left) ? squares(left) : Infinity;
  if (cost === Infinity) return { point, cost };
  let tried = new Float64Array(n);
  let triedLeft = new Float64Array(count);
  const columns = Array.from({ length: n }, () => new Float64Array(count));
  const normal = new Float64Array(n * n);
  const slope = new Float64Array(n);
  let damping = FIRST_DAMPING;
  for (let iteration = 0; iteration < mostIterations; iteration++) {
    if (typeof differences === 'function') differences(point, left, columns);
    else differentiate(residuals, point, left, differences, columns);
    for (let i = 0; i < n; i++) {
      slope[i] = dotProduct(columns[i], left);
      for (let j = 0; j <= i; j++) normal[i * n + j] = normal[j * n + i] = dotProduct(columns[i], columns[j]);
    }
    const before = cost;
    for (let attempt = 0; attempt < MOST_TRIES; attempt++, damping *= 4) {
      const step = solveDamped(normal, slope, damping);
      for (let i = 0; i < n; i++) {
        const most = mostStep[i] ?? Infinity;
        tried[i] = point[i] - Math.max(-most, Math.min(most, step[i]));
      }
      const triedCost = residuals(tried, triedLeft) ? squares(triedLeft) : Infinity;
      if (!(triedCost < cost)) continue;
      [point, tried, left, triedLeft, cost] = [tried, point, triedLeft, left, triedCost];
      damping = Math.max(1e-7, damping / 8);
      break;
    }
    if (before - cost <= LEAST_GAIN * before) break;
  }
  return { point, cost };
}

/** Fills the columns of the Jacobian; a side that is not allowed is taken from the other. */
function differentiate(
  residuals: Residuals,
  point: Float64Array,
  left: Float64Array,
  differences: readonly number[],
  columns: Float64Array[],
): void {
  for (let i = 0; i < point.length; i++) {
    const column = columns[i];
    const here = point[i];
    let difference = differences[i];
    if (difference === 0) continue;
    point[i] = here + difference;
    if (!residuals(point, column)) {
      difference = -difference;
      point[i] = here + difference;
      if (!residuals(point, column)) column.set(left);
    }
    point[i] = here;
    for (let k = 0; k < column.length; k++) column[k] = (column[k] - left[k]) / difference;
  }
}

const squares = (values: Float64Array) => dotProduct(values, values);

/** Solves (A + damping · diag A) x = b by Cholesky's factors; an axis that changes nothing stays. */
function solveDamped(normal: Float64Array, b: Float64Array, damping: number): Float64Array {
  const n = b.length;
  const lower = new Float64Array(n * n);
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = normal[i * n + j] + (i === j ? damping * normal[i * n + i] + 1e-12 : 0);
      for (let k = 0; k < j; k++) sum -= lower[i * n + k] * lower[j * n + k];
      lower[i * n + j] = i === j ? Math.sqrt(Math.max(sum, 1e-15)) : sum / lower[j * n + j];
    }
  }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= lower[i * n + k] * x[k];
    x[i] /= lower[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= lower[k * n + i] * x[k];
    x[i] /= lower[i * n + i];
  }
  return x;
}
