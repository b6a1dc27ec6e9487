<!-- From the box to the viewport: whether each rung has a height that a percentage can be taken of, and by which rule. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import BoxLink from './BoxLink.svelte';
  import Place from './Place.svelte';

  let { bench, box, open }: { bench: Bench; box: BoxAccount; open: (source: Source) => void } = $props();
  const rungs = $derived([...(box.ladder?.rungs ?? [])].reverse());
</script>

{#if box.ladder}
  <section class="flex flex-col gap-1" data-ladder>
    <h3 class="heading">Percentage height</h3>
    <p class="font-medium">{box.ladder.sentence}</p>
    <ol class="text-[13px]">
      {#each rungs as { element, label, definite, value, rule, source } (element)}
        <li class="grid grid-cols-[22px_1fr] gap-x-2" data-rung={definite ? 'holds' : 'breaks'}>
          <div class="relative mx-[3px] border-x border-base-content/30" aria-hidden="true">
            <div
              class="absolute -inset-x-[3px] top-[9px] border-t-2 {definite
                ? 'border-base-content'
                : 'border-dashed border-error'}"
            ></div>
          </div>
          <div class="pb-1.5">
            <BoxLink {bench} element={element < 0 ? -1 : element + box.base} {label} />
            {#if value}<span class="code">height: {value}</span>{/if}
            <span class={definite ? '' : 'text-error'}>{definite ? 'holds' : 'breaks'}: {rule}.</span>
            {#if source}<div><Place {bench} {source} {open} /></div>{/if}
          </div>
        </li>
      {/each}
    </ol>
  </section>
{/if}
