import * as echarts from 'echarts/core';
import './Chart';
import { distanceCurveOption } from './distanceCurveOption';
import { currentInks } from './inks';

const CURVE = ['sources', 'filter'].map((stage, i) => ({ seconds: i, overallJnd: 2 - i, stage }));

/**
 * Draws one chart that nobody sees. The first chart of a page costs some 45 ms, most of it the compiling of
 * ECharts' code; with it drawn while the page has nothing to do, the chart of a match does not hold up a page
 * whose machine is busy with that match.
 */
export function warmCharts(): void {
  const box = document.createElement('div');
  const chart = echarts.init(box, null, { width: 400, height: 128 });
  chart.setOption({ animation: false, ...distanceCurveOption(CURVE, 4, currentInks()) });
  chart.dispose();
}
