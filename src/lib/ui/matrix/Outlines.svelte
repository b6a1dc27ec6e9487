<!--
  The boxes that differ, as both engines have laid them out, over one another: the first in ink, the other in crimson. A slider
  shows the one on its left and the other on its right; a key shows one and the other in turn.
-->
<script lang="ts">
  import type { MatrixDocument } from '$core/reports/matrix.ts';

  interface Props {
    comparison: MatrixDocument['comparisons'][number];
    first: string;
    /** Paths of the boxes of the cause that is chosen; null: all are drawn alike. */
    marked: ReadonlySet<string> | null;
    picked: string;
    shows: 'both' | 'first' | 'second';
    pick: (path: string) => void;
    show: (what: 'both' | 'first' | 'second') => void;
  }
  let { comparison, first, marked, picked, shows, pick, show }: Props = $props();

  const PAD = 12;
  const extent = $derived([
    Math.max(comparison.extents.first[0], comparison.extents.second[0]),
    Math.max(comparison.extents.first[1], comparison.extents.second[1]),
  ] as const);
  /** Where the slider stands, in px of the page; the whole width: it is not used. */
  let split = $state(1);
  const at = $derived(split * extent[0]);
  const parts = $derived(
    shows === 'both' && split < 1
      ? ([
          ['first', 0, at],
          ['second', at, extent[0] - at],
        ] as const)
      : ((shows === 'both' ? ['first', 'second'] : [shows]).map((side) => [side, 0, extent[0]]) as [
          'first' | 'second',
          number,
          number,
        ][]),
  );
  const COLORS = { first: 'var(--ink)', second: 'var(--crimson)' };
  const isOn = (path: string): boolean => picked === path || (marked?.has(path) ?? true);
</script>

<div class="flex h-full min-h-0 flex-col" data-outlines>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-base-300 px-4 py-1.5 text-[12px]">
    <span class="flex items-center gap-1"
      ><svg width="14" height="10" aria-hidden="true"
        ><rect x="1" y="1" width="12" height="8" fill="none" stroke="currentColor" /></svg
      >{first}</span
    >
    <span class="flex items-center gap-1"
      ><svg width="14" height="10" aria-hidden="true"
        ><rect
          x="1"
          y="1"
          width="12"
          height="8"
          fill="none"
          stroke="var(--color-accent)"
          stroke-dasharray="3 2"
        /></svg
      >{comparison.column}</span
    >
    <span class="grow"></span>
    {#each [['both', 'both'], ['first', first], ['second', comparison.column]] as const as [key, words] (key)}
      <button
        class="linkish {shows === key ? 'font-medium' : 'faint'}"
        aria-pressed={shows === key}
        onclick={() => show(key)}>{words}</button
      >
    {/each}
    <label class="flex items-center gap-2"
      ><span class="faint">split</span>
      <input
        type="range"
        min="0"
        max="1"
        step="0.01"
        bind:value={split}
        class="range w-28 range-xs"
        aria-label="How far from the left {first} is shown alone, and {comparison.column} beyond"
      /></label
    >
    <span class="faint"><kbd class="code">b</kbd> one and the other</span>
  </div>
  <div class="min-h-0 grow overflow-auto bg-base-200 p-3">
    <svg
      viewBox="{-PAD} {-PAD} {extent[0] + 2 * PAD} {extent[1] + 2 * PAD}"
      class="block w-full"
      role="group"
      aria-label="Boxes that differ"
    >
      <rect width={extent[0]} height={extent[1]} fill="#ffffff" stroke="var(--color-base-300)" />
      {#each parts as [side, from, width] (side)}
        <clipPath id="part-{side}"
          ><rect x={from - PAD} y={-PAD} width={width + 2 * PAD} height={extent[1] + 2 * PAD} /></clipPath
        >
        <g clip-path="url(#part-{side})" data-side={side}>
          {#each comparison.outlines as outline, n (n)}
            {@const [x, y, wide, tall] = outline[side]}
            <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
            <rect
              {x}
              {y}
              width={Math.max(wide, 0.5)}
              height={Math.max(tall, 0.5)}
              fill={picked === outline.path ? COLORS[side] : 'transparent'}
              fill-opacity="0.12"
              stroke={COLORS[side]}
              stroke-width={picked === outline.path ? 2.4 : isOn(outline.path) ? 1.2 : 0.6}
              stroke-opacity={isOn(outline.path) ? 1 : 0.22}
              stroke-dasharray={side === 'second' ? '5 3' : undefined}
              vector-effect="non-scaling-stroke"
              class="cursor-pointer"
              onclick={() => pick(outline.path)}><title>{outline.path}</title></rect
            >
          {/each}
        </g>
      {/each}
      {#if split < 1 && shows === 'both'}
        <path
          d="M{at} {-PAD}V{extent[1] + PAD}"
          stroke="var(--teal)"
          stroke-width="1.5"
          vector-effect="non-scaling-stroke"
        />
      {/if}
    </svg>
  </div>
</div>
