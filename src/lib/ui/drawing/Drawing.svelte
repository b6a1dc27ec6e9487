<!-- A page's boxes as a small drawing, from a reading. -->
<script lang="ts">
  import type { Drawing } from '$core/reports/drawing.ts';

  let { drawing, label }: { drawing: Drawing | null; label: string } = $props();
</script>

{#if drawing}
  <svg
    viewBox="0 0 {drawing.width} {Math.max(drawing.height, 1)}"
    preserveAspectRatio="xMidYMin slice"
    class="h-full w-full"
    role="img"
    aria-label={label}
  >
    {#each drawing.marks as [x, y, width, height, kind], i (i)}
      {#if kind === 1}
        <rect
          {x}
          {y}
          {width}
          {height}
          fill="currentColor"
          fill-opacity="0.13"
          stroke="currentColor"
          stroke-opacity="0.35"
          stroke-width="1.5"
        />
      {:else if kind === 2}
        <rect {x} {y} {width} {height} fill="none" stroke="var(--color-secondary)" stroke-width="2.5" />
        <path
          d="M{x} {y}l{width} {height}M{x + width} {y}l{-width} {height}"
          stroke="var(--color-secondary)"
          stroke-opacity="0.55"
          stroke-width="2"
        />
      {:else if kind === 3}
        <rect {x} {y} {width} {height} fill="none" stroke="var(--color-secondary)" stroke-width="3.5" />
      {:else}
        <rect
          {x}
          {y}
          {width}
          {height}
          fill="none"
          stroke="currentColor"
          stroke-opacity="0.55"
          stroke-width="2"
        />
      {/if}
    {/each}
  </svg>
{:else}
  <div class="grid h-full w-full place-items-center faint">not measured yet</div>
{/if}
