import { distanceCurveOption } from './distanceCurveOption';
import { namedInks as inks } from '../../test/inks';

const point = (stage: string, seconds: number, overallJnd: number) => ({ stage, seconds, overallJnd });

interface Mark {
  name: string;
  value: [number, number];
  label: { show: boolean };
}

function marksOf(curve: ReturnType<typeof point>[], budgetSeconds = 20): Mark[] {
  const { series } = distanceCurveOption(curve, budgetSeconds, inks) as { series: { data: unknown }[] };
  return series[1].data as Mark[];
}

const shown = (marks: Mark[]) => marks.filter(({ label }) => label.show).map(({ name }) => name);

it('has a mark where each stage begins', () => {
  const curve = [point('filter', 2, 8), point('filter', 4, 6), point('polish', 9, 3), point('polish', 12, 2)];
  expect(marksOf(curve).map(({ value }) => value)).toEqual([
    [2, 8],
    [9, 3],
  ]);
  expect(shown(marksOf(curve))).toEqual(['filter', 'polish']);
});

it('names only stages that have room before the next name', () => {
  const curve = [point('explanation', 6, 8), point('level', 6.2, 8), point('filter', 7, 7), point('polish', 12, 3)];
  expect(marksOf(curve)).toHaveLength(4);
  expect(shown(marksOf(curve))).toEqual(['explanation', 'polish']);
  // In a longer run the same seconds are narrower still.
  expect(shown(marksOf(curve, 200))).toEqual(['explanation']);
});

it('reaches to the end of the time, or of what was taken', () => {
  const axisOf = (budget: number) =>
    distanceCurveOption([point('filter', 25, 4)], budget, inks) as { xAxis: { max: number }; yAxis: { max: number } };
  expect(axisOf(60).xAxis.max).toBe(60);
  expect(axisOf(20).xAxis.max).toBe(25);
  expect(axisOf(20).yAxis.max).toBe(4);
});

it('has a picture before anything was found', () => {
  expect(marksOf([])).toEqual([]);
});
