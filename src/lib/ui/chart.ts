/** Charts of measured numbers: set up in one way, as drawings that print. */
import { LineChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { theme } from './theme.svelte.ts';

echarts.use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, DataZoomComponent, SVGRenderer]);

export type Chart = echarts.ECharts;

/** A chart that is as large as its holder, and what ends it. */
export function openChart(holder: HTMLElement): { chart: Chart; close: () => void } {
  const chart = echarts.init(holder, null, { renderer: 'svg' });
  const observer = new ResizeObserver(() => chart.resize());
  observer.observe(holder);
  return {
    chart,
    close: () => {
      observer.disconnect();
      chart.dispose();
    },
  };
}

/** A colour of the theme at hand: an effect that draws with it draws again in another. */
export function colourOf(holder: HTMLElement, name: string): string {
  void theme.name;
  return getComputedStyle(holder).getPropertyValue(`--color-${name}`).trim();
}

export const labelStyle = (color: string) => ({ color, fontFamily: 'IBM Plex Sans', fontSize: 11 });
