<!-- A measured number against the value that was tried: each point is one measurement, flips are marked. -->
<script lang="ts">
  import type { Point } from '$core/search/seek.ts';
  import { onMount } from 'svelte';
  import { colourOf, labelStyle, openChart, type Chart } from '../../chart.ts';

  let { points, flips, across, up }: { points: Point[]; flips: number[]; across: string; up: string } =
    $props();

  let holder: HTMLDivElement;
  let chart: Chart | null = null;
  const colour = (name: string) => colourOf(holder, name);

  onMount(() => {
    const opened = openChart(holder);
    ({ chart } = opened);
    return opened.close;
  });

  $effect(() => {
    const data = points.map(({ value, number }) => [value, number]);
    const ink = colour('base-content');
    const line = colour('base-300');
    const mark = colour('accent');
    const text = labelStyle(ink);
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
