/** What a search says of itself after every generation. */
export interface SearchState {
  best: readonly number[];
  cost: number;
  evaluations: number;
}

export interface CmaEsOptions {
  /** First guess, within 0..1 in every dimension. */
  start: readonly number[];
  /** Standard deviation of the first generation, of each dimension. */
  steps: readonly number[];
  maxEvaluations: number;
  random: () => number;
  /** The search ends once the best of generations have differed by less than this for several. */
  tolerance?: number;
  /** The search ends as soon as a cost is as low as this. */
  goal?: number;
  /** Ends the search when it returns true. */
  isCancelled?: (state: SearchState) => boolean | Promise<boolean>;
  /** Whether points are kept within 0..1. */
  bounded?: boolean;
}

/**
 * Minimises a function without derivatives by the evolution strategy with covariance matrix adaptation:
 * weighted recombination, cumulative step-size adaptation, rank-one and rank-µ updates, with the standard
 * settings of Hansen, "The CMA evolution strategy: a tutorial" (2016), appendix A. Points outside the bounds
 * are evaluated at the nearest one inside, with a penalty for the distance.
 *
 * @param costs of all points of a generation, in their order
 * @returns the best point that was evaluated
 */
export async function cmaEs(
  costs: (points: readonly (readonly number[])[]) => Promise<readonly number[]>,
  options: CmaEsOptions,
): Promise<SearchState> {
  const { start, steps, maxEvaluations, random, tolerance = 1e-12, goal = -Infinity, bounded = true } = options;
  const n = start.length;
  const normal = gaussian(random);
  const lambda = 4 + Math.floor(3 * Math.log(n));
  const mu = Math.floor(lambda / 2);
  const raw = Array.from({ length: mu }, (_, i) => Math.log((lambda + 1) / 2) - Math.log(i + 1));
  const total = raw.reduce((a, b) => a + b, 0);
  const weights = raw.map((w) => w / total);
  const muEff = 1 / weights.reduce((sum, w) => sum + w * w, 0);
  const cc = (4 + muEff / n) / (n + 4 + (2 * muEff) / n);
  const cs = (muEff + 2) / (n + muEff + 5);
  const c1 = 2 / ((n + 1.3) ** 2 + muEff);
  const cmu = Math.min(1 - c1, (2 * (muEff - 2 + 1 / muEff)) / ((n + 2) ** 2 + muEff));
  const damps = 1 + 2 * Math.max(0, Math.sqrt((muEff - 1) / (n + 1)) - 1) + cs;
  const chiN = Math.sqrt(n) * (1 - 1 / (4 * n) + 1 / (21 * n * n));

  let mean = [...start];
  let sigma = 1;
  let pc = new Array<number>(n).fill(0);
  let ps = new Array<number>(n).fill(0);
  let covariance = start.map((_, i) => start.map((_unused, j) => (i === j ? steps[i] ** 2 : 0)));
  let axes = eigen(covariance);
  const inside = (x: number) => (bounded ? Math.min(1, Math.max(0, x)) : x);
  const state = { best: mean.map(inside), cost: Infinity, evaluations: 0 };
  const recent: number[] = [];

  const evaluate = async (all: readonly (readonly number[])[]) => {
    const points = all.map((x) => x.map(inside));
    const values = await costs(points);
    return all.map((x, k) => {
      const [point, value] = [points[k], values[k]];
      state.evaluations++;
      if (value < state.cost) Object.assign(state, { best: point, cost: value });
      const outside = x.reduce((sum, v, i) => sum + ((v - point[i]) / steps[i]) ** 2, 0);
      return Number.isFinite(value) ? value * (1 + 0.01 * outside) + 1e-3 * outside : Infinity;
    });
  };
  await evaluate([mean]);

  while (state.evaluations < maxEvaluations && state.cost > goal && !(await options.isCancelled?.(state))) {
    const drawn = Array.from({ length: Math.min(lambda, maxEvaluations - state.evaluations) }, () => {
      const z = mean.map(() => normal());
      const y = mean.map((_, i) =>
        axes.reduce((sum, { vector, deviation }, k) => sum + vector[i] * deviation * z[k], 0),
      );
      const x = mean.map((m, i) => m + sigma * y[i]);
      return { x, y };
    });
    const values = await evaluate(drawn.map(({ x }) => x));
    const population = drawn.map((one, k) => ({ ...one, value: values[k] })).sort((a, b) => a.value - b.value);
    if (population.length < lambda) break;
    const chosen = population.slice(0, mu);
    const step = mean.map((_, i) => chosen.reduce((sum, { y }, k) => sum + weights[k] * y[i], 0));
    mean = mean.map((m, i) => m + sigma * step[i]);
    // C^(−1/2)·step, by the axes.
    const along = axes.map(({ vector, deviation }) => vector.reduce((sum, v, i) => sum + v * step[i], 0) / deviation);
    const white = mean.map((_, i) => axes.reduce((sum, { vector }, k) => sum + vector[i] * along[k], 0));
    ps = ps.map((p, i) => (1 - cs) * p + Math.sqrt(cs * (2 - cs) * muEff) * white[i]);
    const length = Math.sqrt(ps.reduce((sum, p) => sum + p * p, 0));
    const generations = state.evaluations / lambda;
    const isMoving = length / Math.sqrt(1 - (1 - cs) ** (2 * generations)) / chiN < 1.4 + 2 / (n + 1);
    pc = pc.map((p, i) => (1 - cc) * p + (isMoving ? Math.sqrt(cc * (2 - cc) * muEff) * step[i] : 0));
    const kept = 1 - c1 - cmu + (isMoving ? 0 : c1 * cc * (2 - cc));
    covariance = covariance.map((row, i) =>
      row.map(
        (value, j) =>
          kept * value + c1 * pc[i] * pc[j] + cmu * chosen.reduce((sum, { y }, k) => sum + weights[k] * y[i] * y[j], 0),
      ),
    );
    sigma *= Math.exp(Math.min(1, (cs / damps) * (length / chiN - 1)));
    axes = eigen(covariance);
    recent.push(population[0].value);
    if (recent.length > 10 + Math.ceil((30 * n) / lambda)) recent.shift();
    const isFlat =
      recent.length > 9 + Math.ceil((30 * n) / lambda) && Math.max(...recent) - Math.min(...recent) < tolerance;
    if (isFlat || axes.every(({ deviation }) => sigma * deviation < 1e-9)) break;
  }
  return state;
}

/** Normal numbers from even ones (Box & Muller 1958). */
function gaussian(random: () => number): () => number {
  let spare: number | undefined;
  return () => {
    if (spare !== undefined) {
      const value = spare;
      spare = undefined;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    const angle = 2 * Math.PI * random();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
}

interface Axis {
  vector: number[];
  deviation: number;
}

/** Axes of a covariance by Jacobi's rotations (Golub & Van Loan, Matrix Computations, 8.5). */
function eigen(matrix: readonly (readonly number[])[]): Axis[] {
  const n = matrix.length;
  const a = matrix.map((row, i) => row.map((value, j) => (value + matrix[j][i]) / 2));
  const v = a.map((_, i) => a.map((_unused, j): number => (i === j ? 1 : 0)));
  for (let sweep = 0; sweep < 30; sweep++) {
    let off = 0;
    let trace = 0;
    for (let i = 0; i < n; i++) {
      trace += Math.abs(a[i][i]);
      for (let j = 0; j < i; j++) off += Math.abs(a[i][j]);
    }
    if (off <= 1e-14 * trace) break;
    for (let p = 0; p < n - 1; p++) {
      for (let q = p + 1; q < n; q++) {
        if (a[p][q] === 0) continue;
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let k = 0; k < n; k++) {
          const [x, y] = [a[k][p], a[k][q]];
          a[k][p] = c * x - s * y;
          a[k][q] = s * x + c * y;
        }
        for (let k = 0; k < n; k++) {
          const [x, y] = [a[p][k], a[q][k]];
          a[p][k] = c * x - s * y;
          a[q][k] = s * x + c * y;
          const [f, g] = [v[k][p], v[k][q]];
          v[k][p] = c * f - s * g;
          v[k][q] = s * f + c * g;
        }
      }
    }
  }
  return a.map((_, k) => ({ vector: v.map((row) => row[k]), deviation: Math.sqrt(Math.max(1e-20, a[k][k])) }));
}
