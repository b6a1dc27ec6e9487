<!-- One row for every finding: what is wrong, and a bar over the widths at which it is, with its exact ends. -->
<script lang="ts">
  import { along, FROM } from '../bench/width/scale.ts';
  import { px } from '$core/geometry/rect.ts';
  import type { Band } from '$core/sweep/across.ts';
  import type { Swept } from './sweeper.worker.ts';

  let {
    result,
    isWhole: isMeasured,
    width,
    to,
  }: {
    result: Swept;
    /** Whether all is measured: until then bars reach over widths of which nothing is known yet. */
    isWhole: boolean;
    width: number;
    /** The Bench at a width, with an element picked. */
    to: (width: number, path: string) => string;
  } = $props();

  let length = $state(800);
  const at = $derived((value: number) => along(value, length));
  const rows = $derived.by(() => {
    const by = new Map<string, Band[]>();
    for (const band of result.bands.filter(({ grade }) => grade !== 'meant'))
      by.set(band.key, [...(by.get(band.key) ?? []), band]);
    const total = (bands: Band[]) => bands.reduce((sum, { from, to: end }) => sum + end - from + 1, 0);
    // What holds everywhere is no matter of width.
    const isWhole = (bands: Band[]) => total(bands) >= result.to - result.from;
    return [...by.values()]
      .map((bands) => ({
        bands,
        worst: bands.reduce((a, b) => (b.px > a.px ? b : a)),
        isWhole: isWhole(bands),
        isDoubtful: bands.every(({ grade }) => grade === 'doubtful'),
      }))
      .sort(
        (a, b) =>
          Number(a.isDoubtful) - Number(b.isDoubtful) ||
          Number(a.isWhole) - Number(b.isWhole) ||
          a.bands[0]!.from - b.bands[0]!.from ||
          b.worst.px - a.worst.px,
      );
  });
  /** Px that a number at the end of a bar takes. */
  const NUMBER = 28;
  /** Whether there is room for the numbers of two bars between them: both, the first alone, or none (the bars still have them). */
  const room = (bands: Band[], i: number): number => {
    const [one, next] = [bands[i], bands[i + 1]];
    return one && next ? Math.floor((at(next.from) - at(one.to)) / NUMBER) : 2;
  };
  const looked = $derived(new Set(result.widths));
  const holds = (bands: Band[]) => bands.some(({ from, to: end }) => width >= from && width <= end);
</script>

<div class="relative" bind:clientWidth={length}>
  {#each rows as { bands, worst, isDoubtful } (worst.key)}
    {@const path = result.names[worst.subject]?.path ?? ''}
    <div
      class="relative h-[34px] border-b border-base-200 {holds(bands) ? '' : 'text-neutral'}"
      data-band={worst.kind}
      data-grade={isDoubtful ? 'doubtful' : 'wrong'}
    >
      <p
        class="absolute top-0.5 truncate text-[12px] {holds(bands) ? 'font-medium' : ''}"
        style="left:{at(FROM)}px;right:26px"
        title={worst.what}
      >
        <span class="faint"
          >{isDoubtful ? 'doubtful ' : ''}{worst.kind}{worst.px > 0
            ? `, ${px(worst.px)} px at most`
            : ''}:</span
        >
        {worst.what}
      </p>
      {#each bands as { from, to: end, worst: most, grade }, i (from)}
        <a
          class="absolute top-[21px] {grade === 'doubtful'
            ? 'h-[3px] border border-accent'
            : isMeasured
              ? 'h-[5px] bg-accent'
              : 'h-[5px] bg-accent/45'}"
          style="left:{at(from)}px;width:{Math.max(2, at(end) - at(from))}px"
          href={to(most, path)}
          title="{from}–{end} px; most at {most}. Open there."
          aria-label="{worst.what}, from {from} to {end} px. Open the Bench at {most} px."
        ></a>
        {#if from > result.from && looked.has(from - 1) && room(bands, i - 1) >= 2}
          <a
            class="num absolute top-[15px] -translate-x-full bg-base-100 px-0.5 text-[11px] linkish"
            style="left:{at(from) - 1}px"
            href={to(from - 1, path)}
            title="Open at {from - 1} px, one before it begins"
            data-before={from - 1}>{from}</a
          >
        {/if}
        {#if end < result.to && looked.has(end + 1) && room(bands, i) >= 1}
          <a
            class="num absolute top-[15px] bg-base-100 px-0.5 text-[11px] linkish"
            style="left:{at(end) + 1}px"
            href={to(end, path)}
            title="Open at {end} px, the last with it"
            data-last={end}>{end}</a
          >
        {/if}
      {/each}
    </div>
  {/each}
  <div
    class="pointer-events-none absolute inset-y-0 border-l border-dashed border-accent opacity-50"
    style="left:{at(width)}px"
  ></div>
</div>
