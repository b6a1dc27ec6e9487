<!-- From the box to the viewport: whether each rung has a height that a percentage can be taken of, and by which rule. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Source } from '$core/css/styles.ts';
  import type { Bench } from '../bench/bench.svelte.ts';
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
        <li class="grid grid-cols-[22px_1fr]" data-rung={definite ? 'holds' : 'breaks'}>
          <svg width="22" height="100%" class="overflow-visible" aria-hidden="true">
            <path d="M4 0v200M16 0v200" stroke="currentColor" stroke-opacity="0.25" clip-path="inset(0)" />
            <path
              d="M2 10h16"
              stroke={definite ? 'currentColor' : 'var(--color-error)'}
              stroke-width="2.2"
              stroke-dasharray={definite ? undefined : '5 4'}
            />
          </svg>
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
