/**
 * For every row of costs one place, so that the costs there and `price` for every step from the place of the
 * row before are least in sum. Source: Viterbi 1967, with the distance transform of Felzenszwalb &
 * Huttenlocher 2012 instead of all pairs.
 *
 * @param costs a row a moment, all of one length
 */
export function cheapestPath(costs: readonly Float64Array[], price: number): number[] {
  const from: Int16Array[] = [];
  let total = new Float64Array(costs[0]?.length ?? 0);
  for (const row of costs) {
    const origin = Int16Array.from(total.keys());
    const reach = (c: number, neighbour: number) => {
      if (total[neighbour] + price >= total[c]) return;
      total[c] = total[neighbour] + price;
      origin[c] = origin[neighbour];
    };
    for (let c = 1; c < total.length; c++) reach(c, c - 1);
    for (let c = total.length - 2; c >= 0; c--) reach(c, c + 1);
    total = total.map((sum, c) => sum + row[c]);
    from.push(origin);
  }
  let at = total.indexOf(total.reduce((a, b) => Math.min(a, b), Infinity));
  const path: number[] = [];
  for (let i = costs.length - 1; i >= 0; i--) {
    path.push(at);
    at = from[i][at];
  }
  return path.reverse();
}
