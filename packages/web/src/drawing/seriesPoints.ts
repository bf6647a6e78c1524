import type { Series } from '@imprint/core/reading/documentParts';

const MAX_POINTS = 600;

/** A measured line as points for a chart, thinned to what a chart can show. */
export function seriesPoints(
  { hopSeconds, values }: Series,
  convert: (value: number) => number = (v) => v,
): [number, number | null][] {
  const step = Math.max(1, Math.ceil(values.length / MAX_POINTS));
  const points: [number, number | null][] = [];
  for (let i = 0; i < values.length; i += step) {
    const value = values[i];
    points.push([i * hopSeconds, value === null ? null : convert(value)]);
  }
  return points;
}
