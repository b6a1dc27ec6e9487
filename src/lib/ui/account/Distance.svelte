<!-- A pinned measurement explained: everything that lies between its two edges, as a sum. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import X from '@lucide/svelte/icons/x';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Sum from './sums/Sum.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();
  const made = $derived(bench.explained);
</script>

{#if made}
  <section class="flex flex-col gap-1.5 border-b border-base-content px-4 py-3" data-distance>
    <div class="flex items-start gap-2">
      <h2 class="heading grow">
        Distance {made.account.axis === 'x' ? 'across' : 'down'}: {px(Math.abs(made.account.used))}
      </h2>
      <button class="cursor-pointer" aria-label="Close the explanation" onclick={() => bench.explain(null)}
        ><X size={13} /></button
      >
    </div>
    <p class="font-medium" data-distance-sentence>{made.account.sentence}</p>
    <Sum
      {bench}
      account={made.account}
      owner={-2}
      base={made.base}
      total="from edge to edge"
      name="distance"
      {open}
    />
  </section>
{/if}
