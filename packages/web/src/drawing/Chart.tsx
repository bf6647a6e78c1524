import { BarChart, CustomChart, LineChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer } from 'echarts/renderers';
import type { EChartsOption } from 'echarts';
import { useEffect, useRef } from 'react';
import { useSettings } from '../app/settings';
import { type Inks, currentInks } from './inks';

echarts.use([
  BarChart,
  LineChart,
  CustomChart,
  GridComponent,
  TooltipComponent,
  AriaComponent,
  LabelLayout,
  CanvasRenderer,
]);

/**
 * An ECharts chart in the inks of the theme. `option` is a function, so that a change of theme draws it anew.
 */
export function Chart({
  option,
  label,
  className = 'h-48',
}: {
  option: (inks: Inks) => EChartsOption;
  label: string;
  className?: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const theme = useSettings((settings) => settings.theme);
  useEffect(() => {
    const chart = echarts.init(box.current!);
    const frame = requestAnimationFrame(() =>
      chart.setOption({
        animation: false,
        aria: { enabled: true, label: { description: label } },
        ...option(currentInks()),
      }),
    );
    const observer = new ResizeObserver(() => chart.resize());
    observer.observe(box.current!);
    return () => {
      cancelAnimationFrame(frame);
      observer.disconnect();
      chart.dispose();
    };
  }, [option, label, theme]);
  return <div ref={box} className={className} role="img" aria-label={label} />;
}
