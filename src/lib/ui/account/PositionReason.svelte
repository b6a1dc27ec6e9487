<!-- Why the pick lies where it does: its containing block and formatting context, then from there down to its corner. -->
<script lang="ts">
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { PositionAccount, Step } from '$core/accounts/position.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import BoxLink from './BoxLink.svelte';
  import Sum from './sums/Sum.svelte';

  let { bench, box, open }: { bench: Bench; box: BoxAccount; open: (source: Source) => void } = $props();

  const axes = $derived([
    { name: 'x', words: 'from the left', place: box.place.x, whole: box.areas.rect.x },
    { name: 'y', words: 'from the top', place: box.place.y, whole: box.areas.rect.y },
  ]);
  const last = (place: PositionAccount): Step | undefined => place.steps.at(-1);
  const block = $derived(box.containingBlock);
  /** Whose sums are shown, by axis. */
  let opened = $state<Record<string, boolean>>({});
</script>

<div class="flex flex-col gap-1.5 text-[13px]">
  <p>
    {box.context.containing.replace(/\.$/, '')}.
    {#if block}<button
        class="linkish"
        aria-pressed={bench.shown === 'block'}
        onclick={() => (bench.shown = bench.shown === 'block' ? null : 'block')}
        data-show-block>{bench.shown === 'block' ? 'Hide it on the page' : 'Show it on the page'}</button
      >{/if}
  </p>
  <p>
    What is in it: {box.context.layout}{box.context.own
      ? `, in a formatting context of its own, since ${box.context.own}`
      : ', in the formatting context of what it lies in'}.
  </p>
  {#each axes as { name, words, place, whole } (name)}
    {@const step = last(place)}
    {#if step}
      <div data-place={name}>
        <p class="flex items-baseline gap-1">
          <button
            class="shrink-0 cursor-pointer"
            aria-expanded={opened[name] ?? false}
            aria-label="{px(step.used)} {words}: the sum"
            onclick={() => (opened[name] = !opened[name])}
            ><ChevronRight size={12} class="translate-y-px {opened[name] ? 'rotate-90' : ''}" /></button
          >
          <span
            ><span class="num font-medium">{px(step.used)}</span>
            {words} of
            {#if step.holder < 0}the page{:else}<BoxLink
                {bench}
                element={step.holder + box.base}
              />{/if}{step.holder >= 0 ? `; ${px(whole)} in the page` : ''}</span
          >
        </p>
        {#if opened[name]}<Sum
            {bench}
            account={{ used: step.used, terms: step.terms, residual: step.residual, lost: [] }}
            owner={box.element}
            base={box.base}
            total={words}
            name="place-{name}"
            {open}
          />{/if}
      </div>
    {/if}
  {/each}
</div>
