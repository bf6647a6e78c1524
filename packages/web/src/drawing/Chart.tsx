import { BarChart, CustomChart, LineChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { CanvasRenderer } from 'echarts/renderers';
import type { EChartsOption } from 'echarts';
import { useEffect, useRef } from 'react';
import { useSettings } from '../app/settings';
import { type Inks, currentInks } from './inks';

echarts.use([BarChart, LineChart, CustomChart, GridComponent, TooltipComponent, LabelLayout, CanvasRenderer]);

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
  const chart = useRef<echarts.ECharts | null>(null);
  const theme = useSettings((settings) => settings.theme);
  useEffect(() => {
    const made = echarts.init(box.current!);
    chart.current = made;
    // It is told of its size at first, too, which it knows.
    const observer = new ResizeObserver(() => {
      const { clientWidth, clientHeight } = made.getDom();
      if (made.getWidth() !== clientWidth || made.getHeight() !== clientHeight) made.resize();
    });
    observer.observe(box.current!);
    return () => {
      observer.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    const frame = requestAnimationFrame(() =>
      chart.current?.setOption({ animation: false, ...option(currentInks()) }, { notMerge: true }),
    );
    return () => cancelAnimationFrame(frame);
  }, [option, theme]);
  return <div ref={box} className={className} role="img" aria-label={label} />;
}
