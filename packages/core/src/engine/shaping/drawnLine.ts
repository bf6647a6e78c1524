/** A drawn line at a place: straight from point to point; beyond the ends the ends are held. */
export function drawnAt(points: readonly { x: number; y: number }[], x: number): number {
  const last = points.length - 1;
  if (x <= points[0].x) return points[0].y;
  if (x >= points[last].x) return points[last].y;
  let i = 1;
  while (points[i].x < x) i++;
  const a = points[i - 1];
  const b = points[i];
  return a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x);
}
