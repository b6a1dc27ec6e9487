<!-- Measuring without a pointer: an edge of the pick is kept, then an edge of the next pick ends the line. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Side } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { axisOf, type AreaName } from '../bench/state/measuring.ts';

  let { bench, box }: { bench: Bench; box: BoxAccount } = $props();

  const AREAS: AreaName[] = ['margin', 'border', 'padding', 'content'];
  const SIDES: Side[] = ['left', 'right', 'top', 'bottom'];
  let area = $state<AreaName>('border');
  let side = $state<Side>('left');
  const fits = $derived(!bench.from || axisOf(bench.from.side) === axisOf(side));
</script>

<div class="flex flex-wrap items-center gap-2 text-[13px]">
  <select class="border-b border-neutral bg-base-100" aria-label="Area" bind:value={area}>
    {#each AREAS as item (item)}<option value={item}>{item}</option>{/each}
  </select>
  <select class="border-b border-neutral bg-base-100" aria-label="Side" bind:value={side}>
    {#each SIDES as item (item)}<option value={item}>{item}</option>{/each}
  </select>
  <button
    class="btn btn-outline btn-xs"
    disabled={!fits}
    onclick={() => {
      if (!bench.measure) bench.startMeasure(true);
      bench.takeEdge({ element: box.element, area, side });
    }}
    data-take-edge>{bench.from ? 'Measure to this edge' : 'Measure from this edge'}</button
  >
  {#if bench.from && !fits}<span class="faint"
      >The first edge is {axisOf(bench.from.side) === 'x' ? 'left or right' : 'top or bottom'}: choose one of
      the same axis.</span
    >{/if}
</div>
