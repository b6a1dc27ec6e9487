<!-- The defaults that a page rests on: what no rule of it pins down, and the styles under it give otherwise. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';

  let { bench }: { bench: Bench } = $props();

  /** So many lines stand there before anyone asks for more. */
  const FEW = 6;
  let isWhole = $state(false);
  const rests = $derived(bench.finder.rests ?? []);
  const shown = $derived(isWhole ? rests : rests.slice(0, FEW));
  function pick(elements: number[]): void {
    bench.choose(elements[0]!);
    bench.show(elements);
    void bench.reveal(elements[0]!);
  }
</script>

{#if bench.finder.rests}
  <section class="flex flex-col gap-1" data-rests>
    <h2 class="heading">Rests on defaults</h2>
    {#if rests.length === 0}
      <p>Its own rules pin down all that these defaults give otherwise.</p>
    {:else}
      <p class="faint text-[12px]">What no rule pins down: as rendered, then under these.</p>
      <ul>
        {#each shown as item (`${item.selector} ${item.property}`)}
          <li class="border-b border-base-300">
            <button
              class="flex w-full cursor-pointer items-baseline gap-2 py-1 text-left"
              onclick={() => pick(item.elements)}
              onpointerenter={() => bench.show(item.elements)}
              onpointerleave={() => bench.show([])}
            >
              <span class="num w-11 shrink-0 text-right font-medium"
                >{item.px >= 0.5 ? px(Math.round(item.px * 10) / 10) : '–'}</span
              >
              <span class="min-w-0 grow [overflow-wrap:anywhere]">
                <span class="code text-[12px]">{item.selector}</span>{item.elements.length > 1
                  ? ` × ${item.elements.length}`
                  : ''}<br />
                <span class="faint text-[12px]">{item.property}: {item.value}, then {item.other}</span>
              </span>
            </button>
          </li>
        {/each}
      </ul>
      {#if rests.length > FEW}
        <button
          class="linkish faint self-start text-[12px]"
          aria-expanded={isWhole}
          onclick={() => (isWhole = !isWhole)}>{isWhole ? 'fewer' : `${rests.length - FEW} more`}</button
        >
      {/if}
    {/if}
  </section>
{/if}
