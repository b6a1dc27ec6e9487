<!-- Lines of measured numbers over viewport widths, with breakpoints and flips; drag or scroll to zoom. -->
<script lang="ts">
  import type { Point } from '$core/search/seek.ts';
  import { onMount } from 'svelte';
  import { colourOf, labelStyle, openChart, type Chart } from '../chart.ts';

  let {
    lines,
    flips,
    breakpoints,
  }: { lines: { words: string; points: Point[] }[]; flips: number[]; breakpoints: number[] } = $props();

  let holder: HTMLDivElement;
  let chart: Chart | null = null;
  const colour = (name: string) => colourOf(holder, name);
  const INKS = ['base-content', 'secondary', 'accent', 'info'];
  const DASHES = ['solid', [5, 3], [2, 2], [8, 2, 2, 2]] as const;

  onMount(() => {
    const opened = openChart(holder);
    ({ chart } = opened);
    return opened.close;
  });

  $effect(() => {
    const ink = colour('base-content');
    const text = labelStyle(ink);
    const mark = (widths: number[], name: string, width: number) =>
      widths.map((xAxis) => ({
        xAxis,
        lineStyle: { color: colour(name), type: 'solid', width, opacity: 0.55 },
      }));
    chart?.setOption(
      {
        animation: false,
        textStyle: text,
        grid: { left: 58, right: 22, top: 12, bottom: 36 },
        tooltip: {
          trigger: 'axis',
          valueFormatter: (value: unknown) =>
            value == null ? 'no box' : String(Math.round(Number(value) * 100) / 100),
        },
        dataZoom: [{ type: 'inside' }],
        xAxis: {
          type: 'value',
          min: 'dataMin',
          max: 'dataMax',
          name: 'viewport width, px',
          nameLocation: 'middle',
          nameGap: 22,
          nameTextStyle: text,
          axisLabel: { ...text, showMinLabel: false, showMaxLabel: false },
          axisLine: { lineStyle: { color: ink } },
          splitLine: { show: false },
        },
        yAxis: {
          type: 'value',
          axisLabel: text,
          axisLine: { show: true, lineStyle: { color: ink } },
          splitLine: { lineStyle: { color: colour('base-300') } },
          scale: true,
        },
        series: lines.map(({ words, points }, i) => ({
          type: 'line',
          name: words,
          data: points.map(({ value, number }) => [value, number]),
          symbol: 'circle',
          symbolSize: 3,
          lineStyle: { color: colour(INKS[i % 4]!), width: 1.3, type: DASHES[i % 4] },
          itemStyle: { color: colour(INKS[i % 4]!) },
          ...(i === 0
            ? {
                markLine: {
                  symbol: 'none',
                  silent: true,
                  label: { show: false },
                  data: [...mark(flips, 'accent', 0.6), ...mark(breakpoints, 'secondary', 1.2)],
                },
              }
            : {}),
        })),
      },
      true,
    );
  });
</script>

<div
  bind:this={holder}
  class="h-56 w-full"
  role="img"
  aria-label="{lines.map(({ words }) => words).join('; ')} over viewport widths"
  data-course
></div>
<p class="faint px-4 pb-2 text-[11.5px]">
  Every point was measured. <span class="text-secondary">Teal</span>: the page’s own breakpoints;
  <span class="text-accent">crimson</span>: flips. Scroll over it to zoom.
</p>
