import { namedInks as inks } from '../../test/inks';
import { type OverprintCurves, curvesOption, partialsOption } from './overprintOptions';

const levels: OverprintCurves = {
  reference: [
    [0, -60],
    [0.5, -6],
  ],
  x: { unit: 's' },
  y: { unit: 'dB', min: -60, max: 0 },
};

interface Drawn {
  series: {
    name: string;
    data: (number | null)[][];
    areaStyle?: object;
    lineStyle?: { color: string; type?: object };
  }[];
  tooltip: { formatter: (items: unknown) => string };
  xAxis: { type: string; axisLabel: { formatter: (value: number) => string } };
  yAxis: { type: string; min: number; max: number; axisLabel: { formatter: (value: number) => string } };
}
const curves = (change: Partial<OverprintCurves> = {}) =>
  curvesOption({ ...levels, ...change }, inks) as unknown as Drawn;
const bars = (reference: number[], patch?: number[]) => partialsOption(reference, patch, inks) as unknown as Drawn;

describe('Curves over one another', () => {
  it('are the reference as an area, what was fitted to it dashed, and the patch as a line, in their inks', () => {
    const { series } = curves({ patch: [[0, -50]], fitted: [[0, -55]] });
    expect(series.map(({ name, areaStyle, lineStyle }) => [name, Boolean(areaStyle), lineStyle!.color])).toEqual([
      ['reference', true, 'blue'],
      ['fitted', false, 'black'],
      ['patch', false, 'red'],
    ]);
    expect(series[1].lineStyle!.type).toBeDefined();
  });

  it('are the reference alone where there is no patch yet', () => {
    expect(curves().series.map(({ name }) => name)).toEqual(['reference']);
  });

  it('tell both values under the pointer, and none of a curve that is not there', () => {
    const { tooltip } = curves({ patch: [[0.5, -9]] });
    const at = (reference: number | null, patch: number | null) =>
      tooltip.formatter([
        { seriesName: 'reference', value: [0.5, reference] },
        { seriesName: 'patch', value: [0.5, patch] },
      ]);
    expect(at(-6, -9)).toMatch(/500 ms.*reference −6(\.0)? dB.*patch −9(\.0)? dB/);
    expect(at(-6, null)).not.toContain('patch');
  });

  it('share one unit along an axis', () => {
    const { xAxis, yAxis } = curves();
    expect([0, 0.25, 1.5].map(xAxis.axisLabel.formatter)).toEqual(['0 s', '0.25 s', '1.5 s']);
    expect([-60, 0].map(yAxis.axisLabel.formatter)).toEqual(['−60 dB', '0 dB']);
    expect([yAxis.min, yAxis.max]).toEqual([-60, 0]);
  });

  it('of frequencies stand over a logarithmic axis', () => {
    const { xAxis } = curves({ x: { unit: 'Hz', log: true, min: 20, max: 20000 } });
    expect(xAxis.type).toBe('log');
    expect(xAxis.axisLabel.formatter(2000)).toBe('2 kHz');
    expect(xAxis.axisLabel).toMatchObject({ showMinLabel: true, showMaxLabel: true });
  });

  it('of frequencies one over the other are named at decades only', () => {
    const { yAxis } = curves({ y: { unit: 'Hz', log: true, min: 100, max: 20000 } });
    expect(yAxis.axisLabel).toMatchObject({ showMinLabel: true, showMaxLabel: false });
  });
});

describe('Levels of partials as bars', () => {
  it('grow from 72 dB under the strongest, and what is softer has none', () => {
    const { series, yAxis } = bars([0, -12, -90], [0, -80, -20]);
    expect(series.map(({ data }) => data)).toEqual([
      [
        [1, 72],
        [2, 60],
        [3, null],
      ],
      [
        [1, 72],
        [2, null],
        [3, 52],
      ],
    ]);
    expect([0, 48, 72].map(yAxis.axisLabel.formatter).map((text) => text.replace('.0', ''))).toEqual([
      '−72 dB',
      '−24 dB',
      '0 dB',
    ]);
  });

  it('tell the partial and its levels under the pointer', () => {
    const { tooltip } = bars([0, -12], [0, -14]);
    const text = tooltip.formatter([
      { seriesName: 'reference', value: [2, 60] },
      { seriesName: 'patch', value: [2, 58] },
    ]);
    expect(text).toMatch(/partial 2.*reference −12(\.0)? dB.*patch −14(\.0)? dB/);
    expect(tooltip.formatter([{ seriesName: 'reference', value: [3, null] }])).toBe('');
  });
});
