<!-- The name of another box: pointing at it lights it on the page, a click picks it. -->
<script lang="ts">
  import { labelOf } from '$core/reading/labels.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';

  let { bench, element, label }: { bench: Bench; element: number; label?: string } = $props();

  const name = $derived(
    element < 0
      ? 'the viewport'
      : (label ?? (bench.reading && element < bench.reading.count ? labelOf(bench.reading, element) : '')),
  );
</script>

{#if element < 0}
  <span class="faint text-[12px]">{name}</span>
{:else}
  <button
    class="linkish code [overflow-wrap:anywhere]"
    onclick={() => bench.choose(element)}
    onpointerenter={() => bench.hover(element)}
    onpointerleave={() => bench.hover(-1)}
    onfocus={() => bench.hover(element)}
    onblur={() => bench.hover(-1)}
    data-box={element}>{name}</button
  >
{/if}
