import type { EChartsOption } from 'echarts';
import type { Run } from '@imprint/contract/runs';
import { FONT, axis } from './overprintOptions';
import type { Inks } from './inks';

/** The distance of the best patch over the time of a match, with a mark where each stage begins. */
export function distanceCurveOption(curve: Run['curve'], budgetSeconds: number, inks: Inks): EChartsOption {
  const begun = curve.filter(({ stage }, i) => stage !== curve[i - 1]?.stage);
  const spent = curve.at(-1)?.seconds ?? 0;
  const end = Math.max(budgetSeconds, spent);
  const named = namesThatFit(begun, end);
  const top = Math.max(1, ...curve.map(({ overallJnd }) => overallJnd));
  return {
    grid: { left: 52, right: 60, top: 18, bottom: 22 },
    xAxis: { ...axis(inks, { unit: 's', min: 0, max: end }, false) },
    yAxis: { ...axis(inks, { unit: '', min: 0, max: Math.ceil(top) }, true), splitNumber: 2 },
    series: [
      {
        name: 'distance',
        type: 'line',
        step: 'end',
        data: curve.map(({ seconds, overallJnd }) => [seconds, overallJnd]),
        showSymbol: false,
        lineStyle: { color: inks.patch, width: 2 },
        itemStyle: { color: inks.patch },
      },
      {
        name: 'stages',
        type: 'line',
        data: begun.map(({ seconds, overallJnd, stage }) => ({
          value: [seconds, overallJnd],
          name: stage,
          label: { show: named.has(stage) },
        })),
        lineStyle: { opacity: 0 },
        symbol: 'rect',
        symbolSize: [2, 9],
        itemStyle: { color: inks.ink },
        label: {
          // To the right of where the stage begins: to the left the curve comes down from above.
          position: [4, -9],
          formatter: '{b}',
          color: inks.soft,
          backgroundColor: inks.paper,
          padding: [0, 2],
          fontFamily: FONT,
          fontSize: 10,
        },
      },
    ],
  };
}

/** Share of the picture that a letter takes where it is as narrow as it gets. */
const LETTER = 1 / 75;

/** Stages whose names have room before the next one's. */
function namesThatFit(begun: Run['curve'], end: number): ReadonlySet<string> {
  const named = new Set<string>();
  let free = 0;
  for (const { seconds, stage } of begun) {
    const place = seconds / end;
    if (place < free) continue;
    named.add(stage);
    free = place + (stage.length + 1) * LETTER;
  }
  return named;
}
