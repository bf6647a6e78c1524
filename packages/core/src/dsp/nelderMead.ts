/**
 * Minimises a function without derivatives (Nelder & Mead 1965; coefficients of Lagarias et al. 1998).
 *
 * @param cost function of a point; may return Infinity outside the allowed region
 * @param start first guess
 * @param steps edge of the first simplex along each axis, in that axis's unit
 * @returns the best point found within `maxEvaluations`
 */
export function nelderMead(
  cost: (point: readonly number[]) => number,
  start: readonly number[],
  steps: readonly number[],
  maxEvaluations = 400,
): { point: number[]; cost: number } {
  const n = start.length;
  const vertex = (point: number[]) => ({ point, cost: cost(point) });
  const simplex = [vertex([...start])];
  for (let i = 0; i < n; i++) simplex.push(vertex(start.map((x, j) => (j === i ? x + steps[i] : x))));
  let evaluations = n + 1;

  while (evaluations < maxEvaluations) {
    simplex.sort((a, b) => a.cost - b.cost);
    const best = simplex[0];
    const worst = simplex[n];
    if (worst.cost - best.cost <= 1e-9 * (Math.abs(best.cost) + 1e-12)) break;
    const centroid = start.map((_, j) => simplex.slice(0, n).reduce((sum, v) => sum + v.point[j], 0) / n);
    const along = (factor: number) => vertex(centroid.map((c, j) => c + factor * (worst.point[j] - c)));

    const reflected = along(-1);
    evaluations++;
    if (reflected.cost < best.cost) {
      const expanded = along(-2);
      evaluations++;
      simplex[n] = expanded.cost < reflected.cost ? expanded : reflected;
    } else if (reflected.cost < simplex[n - 1].cost) {
      simplex[n] = reflected;
    } else {
      const contracted = along(reflected.cost < worst.cost ? -0.5 : 0.5);
      evaluations++;
      if (contracted.cost < Math.min(reflected.cost, worst.cost)) {
        simplex[n] = contracted;
      } else {
        for (let i = 1; i <= n; i++) {
          simplex[i] = vertex(simplex[i].point.map((x, j) => best.point[j] + 0.5 * (x - best.point[j])));
        }
        evaluations += n;
      }
    }
  }
  return simplex.reduce((best, v) => (v.cost < best.cost ? v : best));
}
