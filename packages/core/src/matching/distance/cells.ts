/** Spans of time that are compared as one; edges in seconds, one more than there are spans. */
export type Cells = readonly number[];

/** Width of the first cell after something happens; each is twice as wide as the one before. */
const FIRST_SECONDS = 0.01;

/**
 * Cells that are narrow where something begins or ends and wider the longer ago that is: times are heard by
 * their ratio.
 *
 * @param leastSeconds none is narrower: what the window in use can tell
 * @param widestSeconds over what levels are taken together
 */
export function cellsAround(
  events: readonly number[],
  endSeconds: number,
  leastSeconds: number,
  widestSeconds: number,
): Cells {
  const edges = [0];
  const add = (seconds: number) => {
    const last = edges[edges.length - 1];
    if (seconds - last >= leastSeconds - 1e-9 && seconds < endSeconds) edges.push(seconds);
  };
  const sorted = [...new Set([0, ...events])].sort((a, b) => a - b);
  sorted.forEach((event, i) => {
    if (event >= endSeconds) return;
    const next = Math.min(sorted[i + 1] ?? Infinity, endSeconds);
    add(event);
    let width = FIRST_SECONDS;
    for (let at = event + width; at < next - leastSeconds; at += width) {
      add(at);
      width = Math.min(widestSeconds, 2 * width);
    }
  });
  return [...edges, Math.max(endSeconds, edges[edges.length - 1] + leastSeconds)];
}
