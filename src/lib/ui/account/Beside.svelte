<!-- The space before and after the pick in its parent: a sentence, the margins that met, the sum. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Collapse from './bars/Collapse.svelte';
  import Sum from './sums/Sum.svelte';

  let { bench, box, open }: { bench: Bench; box: BoxAccount; open: (source: Source) => void } = $props();
</script>

{#each box.gaps as beside (beside.where)}
  <div class="flex flex-col gap-1" data-gap={beside.where}>
    <p class="font-medium" data-gap-sentence>{beside.sentence}</p>
    {#if beside.margins.length > 1}<Collapse {beside} />{/if}
    {#if beside.gap.edge}<p class="faint text-[12.5px]">At the edge of its parent: {beside.gap.edge}.</p>{/if}
    <details class="text-[13px]">
      <summary class="linkish cursor-pointer">The sum of these {px(beside.gap.used)}</summary>
      <Sum
        {bench}
        account={beside.gap}
        owner={-2}
        base={box.base}
        total="to {beside.other}"
        name={beside.where}
        {open}
      />
    </details>
  </div>
{:else}
  <p class="faint text-[13px]">
    {box.kind === 'flex-item' || box.kind === 'grid-item'
      ? 'Items of a flex or grid container keep their margins to themselves; what lies before it is told under “Where it lies”.'
      : 'It is not in the flow of a block container, so nothing collapses around it.'}
  </p>
{/each}
