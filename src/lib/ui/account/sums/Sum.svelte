<!-- A sum, term by term, with what it leaves unexplained and what asked for a say in it and has none. -->
<script lang="ts">
  import type { Account, Lost } from '$core/accounts/model/term.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px, same } from '$core/geometry/rect.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import BoxLink from '../BoxLink.svelte';
  import Place from '../Place.svelte';
  import { addends, ended, groupsOf } from './sums.ts';
  import TermLine from './TermLine.svelte';

  let {
    bench,
    account,
    owner,
    base,
    total,
    name,
    open,
  }: {
    bench: Bench;
    account: Account;
    /** The box whose number it is, which its own terms do not name again. */
    owner: number;
    base: number;
    total: string;
    name: string;
    open: (source: Source) => void;
  } = $props();

  const groups = $derived(groupsOf(account.terms));
  /** Whether two numbers with decimals stand in a line. */
  const isLong = $derived(groups.some(({ lines }) => lines.some(({ terms }) => addends(terms).length > 11)));
  const own = $derived(account.lost.filter(({ box }) => box + base === owner || owner < 0));
  const others = $derived(account.lost.filter((item) => !own.includes(item)));
  let unfolded = $state<string[]>([]);
</script>

<table class="w-full table-fixed border-collapse text-[13px]" data-sum={name}>
  <colgroup><col class={isLong ? 'w-31' : 'w-26'} /><col class="w-5" /><col /></colgroup>
  <tbody>
    {#each groups as { lines, name: many, px: size }, i (i)}
      {#if many}
        {@const isOpen = unfolded.includes(many)}
        <tr class="align-baseline">
          <td class="num py-0.5 pr-2 text-right text-[12.5px] whitespace-nowrap">{px(size)}</td>
          <td></td>
          <td class="py-0.5"
            ><button
              class="linkish"
              aria-expanded={isOpen}
              onclick={() =>
                (unfolded = isOpen ? unfolded.filter((item) => item !== many) : [...unfolded, many])}
              >{many}</button
            ></td
          >
        </tr>
        {#if isOpen}
          {#each lines as { terms }, n (n)}<TermLine {bench} {terms} {owner} {base} {open} />{/each}
        {/if}
      {:else}
        {#each lines as { terms }, n (n)}<TermLine {bench} {terms} {owner} {base} {open} />{/each}
      {/if}
    {/each}
    {#if !same(account.residual, 0)}
      <tr class="align-baseline text-error" data-residual>
        <td class="num py-0.5 pr-2 text-right text-[12.5px] whitespace-nowrap">{px(account.residual)}</td>
        <td></td>
        <td class="py-0.5">not explained by the terms above</td>
      </tr>
    {/if}
    <tr class="border-t border-base-content align-baseline font-medium">
      <td class="num py-0.5 pr-2 text-right text-[12.5px] whitespace-nowrap">{px(account.used)}</td>
      <td></td>
      <td class="py-0.5">{total}</td>
    </tr>
  </tbody>
</table>
{#snippet counts(list: Lost[])}
  {#each list as { property, why, source, px: size, box }, i (i)}
    <div class="border-l-2 border-warning py-0.5 pl-2 text-[12.5px]" data-lost={property}>
      <p>
        <span class="code">{property}{source && source.origin !== 'browser' ? `: ${source.value}` : ''}</span>
        {#if box + base !== owner}of <BoxLink {bench} element={box + base} />{/if}
        {Number.isFinite(size) ? `(${px(size)})` : ''} counts for nothing: {ended(why)}
      </p>
      {#if source}<Place {bench} {source} {open} />{/if}
    </div>
  {/each}
{/snippet}
{@render counts(own)}
{#if others.length > 0}
  <details class="text-[12.5px]">
    <summary class="linkish cursor-pointer"
      >{others.length}
      {others.length === 1 ? 'margin' : 'margins'} of other boxes that count for nothing here</summary
    >
    {@render counts(others)}
  </details>
{/if}
