import type { EChartsOption } from 'echarts';
import { formatValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';
import type { Inks } from './inks';

type Point = [x: number, y: number | null];

export interface OverprintCurves {
  /** Printed as a filled area in blue. */
  reference: Point[];
  /** Printed as a line in red. */
  patch?: Point[];
  /** A dashed line in the reference's ink: what was fitted to it. */
  fitted?: Point[];
  x: { unit: Unit; log?: boolean; min?: number; max?: number };
  y: { unit: Unit; log?: boolean; min?: number; max?: number };
}

export const FONT = 'Spline Sans Mono';

/** Two curves over one axis: the reference filled, the patch as a line, multiplied where they meet. */
export function curvesOption({ reference, patch, fitted, x, y }: OverprintCurves, inks: Inks): EChartsOption {
  return {
    grid: { left: 52, right: 12, top: 10, bottom: 24 },
    tooltip: tooltip(inks, x.unit, y.unit),
    xAxis: axis(inks, x, false),
    yAxis: axis(inks, y, true),
    series: [
      {
        name: 'reference',
        type: 'line',
        data: reference,
        showSymbol: false,
        lineStyle: { color: inks.reference, width: 1.5 },
        itemStyle: { color: inks.reference },
        areaStyle: { color: inks.reference, opacity: 0.28, origin: 'start' },
      },
      ...(fitted
        ? [
            {
              name: 'fitted',
              type: 'line' as const,
              data: fitted,
              showSymbol: false,
              lineStyle: { color: inks.ink, width: 1.5, type: [4, 3] as [number, number] },
              itemStyle: { color: inks.ink },
            },
          ]
        : []),
      ...(patch
        ? [
            {
              name: 'patch',
              type: 'line' as const,
              data: patch,
              showSymbol: false,
              lineStyle: { color: inks.patch, width: 2 },
              itemStyle: { color: inks.patch },
            },
          ]
        : []),
    ],
  };
}

/**
 * Levels of partials as bars in the same place: the reference below, the patch a little to the right over it,
 * multiplied.
 */
export function partialsOption(reference: number[], patch: number[] | undefined, inks: Inks): EChartsOption {
  const floor = -72;
  const height = (levels: number[]) => levels.map((level, i) => [i + 1, level > floor ? level - floor : null]);
  return {
    blendMode: inks.overprint,
    grid: { left: 52, right: 12, top: 10, bottom: 24 },
    tooltip: {
      ...tooltip(inks, '', 'dB'),
      formatter: (items: unknown) => {
        const rows = (items as { seriesName: string; value: [number, number] }[]).filter(
          ({ value }) => value[1] !== null,
        );
        if (rows.length === 0) return '';
        return `partial ${rows[0].value[0]}<br>${rows.map(({ seriesName, value }) => `${seriesName} ${formatValue(value[1] + floor, 'dB')}`).join('<br>')}`;
      },
    },
    xAxis: { ...axis(inks, { unit: '' }, false), min: 0.2, max: reference.length + 0.8, minInterval: 1 },
    yAxis: {
      ...axis(inks, { unit: 'dB', min: 0, max: -floor }, true),
      interval: 24,
      axisLabel: {
        color: inks.soft,
        fontFamily: FONT,
        fontSize: 11,
        formatter: (value: number) => formatValue(value + floor, 'dB'),
      },
    },
    series: [
      {
        name: 'reference',
        type: 'bar',
        data: height(reference),
        barWidth: '52%',
        itemStyle: { color: inks.reference },
      },
      ...(patch
        ? [
            {
              name: 'patch',
              type: 'bar' as const,
              data: height(patch),
              barWidth: '52%',
              // A little beside the reference, so that each ink stands alone at one edge even where both
              // agree.
              barGap: '-72%',
              itemStyle: { color: inks.patch, borderColor: inks.patch, borderWidth: 1 },
            },
          ]
        : []),
    ],
  };
}

export function axis(inks: Inks, { unit, log, min, max }: OverprintCurves['x'], vertical: boolean) {
  // One under the other there is no room beside the decades.
  const isNamed = (edge = 1) => unit !== '' && !(vertical && log && !Number.isInteger(Math.log10(edge)));
  return {
    type: log ? ('log' as const) : ('value' as const),
    min,
    max,
    splitNumber: vertical ? 4 : unit === 's' ? 4 : 8,
    axisLine: { show: !vertical, lineStyle: { color: inks.hairline } },
    axisTick: { show: !vertical, lineStyle: { color: inks.hairline } },
    splitLine: { show: vertical, lineStyle: { color: inks.hairline, opacity: 0.6 } },
    axisLabel: {
      color: inks.soft,
      fontFamily: FONT,
      fontSize: 11,
      hideOverlap: true,
      showMinLabel: isNamed(min),
      showMaxLabel: isNamed(max),
      formatter: (value: number) => axisLabel(value, unit),
    },
  };
}

/** Labels of one axis share one unit: seconds stay seconds, and a low level is a number. */
function axisLabel(value: number, unit: Unit): string {
  if (unit === 's') return `${Number(value.toFixed(2))} s`;
  return unit === 'dB' ? `${value < 0 ? '−' : ''}${Math.abs(value)} dB` : formatValue(value, unit);
}

function tooltip(inks: Inks, xUnit: Unit, yUnit: Unit) {
  return {
    trigger: 'axis' as const,
    backgroundColor: inks.paper,
    borderColor: inks.ink,
    borderWidth: 1,
    padding: [4, 8],
    textStyle: { color: inks.ink, fontFamily: FONT, fontSize: 11 },
    axisPointer: { lineStyle: { color: inks.soft } },
    formatter: (items: unknown) => {
      const rows = items as { seriesName: string; value: [number, number | null] }[];
      const values = rows.filter(({ value }) => value[1] !== null);
      return `${formatValue(rows[0].value[0], xUnit)}<br>${values.map(({ seriesName, value }) => `${seriesName} ${formatValue(value[1]!, yUnit)}`).join('<br>')}`;
    },
  };
}
