<!-- A measured number against the value that was tried: each point is one measurement, flips are marked. -->
<script lang="ts">
  import type { Point } from '$core/search/seek.ts';
  import { LineChart } from 'echarts/charts';
  import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
  import * as echarts from 'echarts/core';
  import { SVGRenderer } from 'echarts/renderers';
  import { onMount } from 'svelte';

  echarts.use([LineChart, GridComponent, TooltipComponent, MarkLineComponent, SVGRenderer]);

  let { points, flips, across, up }: { points: Point[]; flips: number[]; across: string; up: string } =
    $props();

  let holder: HTMLDivElement;
  let chart: echarts.ECharts | null = null;
  const colour = (name: string) => getComputedStyle(holder).getPropertyValue(name).trim();

  onMount(() => {
    chart = echarts.init(holder, null, { renderer: 'svg' });
    const observer = new ResizeObserver(() => chart?.resize());
    observer.observe(holder);
    return () => {
      observer.disconnect();
      chart?.dispose();
    };
  });

  $effect(() => {
    const data = points.map(({ value, number }) => [value, number]);
    const ink = colour('--color-base-content');
    const line = colour('--color-base-300');
    const mark = colour('--color-accent');
    const text = { color: ink, fontFamily: 'IBM Plex Sans', fontSize: 11 };
    chart?.setOption(
      {
        animation: false,
        textStyle: text,
        grid: { left: 56, right: 20, top: 14, bottom: 34 },
        tooltip: {
          trigger: 'axis',
          valueFormatter: (value: unknown) =>
            value === null ? 'no box' : String(Math.round(Number(value) * 100) / 100),
        },
        xAxis: {
          type: 'value',
          name: across,
          nameLocation: 'middle',
          nameGap: 20,
          nameTextStyle: text,
          axisLabel: text,
          axisLine: { lineStyle: { color: ink } },
          splitLine: { show: false },
          scale: true,
        },
        yAxis: {
          type: 'value',
          axisLabel: text,
          axisLine: { show: true, lineStyle: { color: ink } },
          splitLine: { lineStyle: { color: line } },
          scale: true,
        },
        series: [
          {
            type: 'line',
            name: up,
            data,
            symbol: 'circle',
            symbolSize: 4,
            lineStyle: { color: ink, width: 1 },
            itemStyle: { color: ink },
            markLine: {
              symbol: 'none',
              silent: true,
              lineStyle: { color: mark, type: 'solid', width: 1 },
              label: { color: mark, fontFamily: 'IBM Plex Mono', fontSize: 11, formatter: '{c}' },
              data: flips.map((value) => ({ xAxis: value })),
            },
          },
        ],
      },
      true,
    );
  });
</script>

<div
  bind:this={holder}
  class="h-44 w-full"
  role="img"
  aria-label="{up} against {across}: {points.length} measurements"
  data-chart
></div>
