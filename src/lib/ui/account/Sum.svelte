<!-- A sum, term by term: terms of one cause on one line, and what they leave unexplained. -->
<script lang="ts">
  import type { AxisAccount } from '$core/accounts/box.ts';
  import type { Term } from '$core/accounts/term.ts';
  import type { Source } from '$core/css/styles.ts';
  import { px, same } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/bench.svelte.ts';
  import { theme } from '../theme.svelte.ts';
  import { fillOf, type Area } from './areas.ts';
  import Place from './Place.svelte';

  let { bench, account, open }: { bench: Bench; account: AxisAccount; open: (source: Source) => void } =
    $props();

  interface Line {
    area: Area;
    terms: Term[];
  }
  const areaOf = (what: string): Area => what.split('-')[0] as Area;
  const sameCause = (a: Term, b: Term) =>
    areaOf(a.what) === areaOf(b.what) &&
    a.source?.line === b.source?.line &&
    a.source?.sheet === b.source?.sheet &&
    a.source?.property === b.source?.property &&
    a.note === b.note;
  const lines = $derived.by(() => {
    const out: Line[] = [];
    for (const term of account.terms) {
      const known = out.find(({ terms: [first] }) => first && sameCause(first, term));
      if (known) known.terms.push(term);
      else out.push({ area: areaOf(term.what), terms: [term] });
    }
    const rank: Area[] = ['content', 'padding', 'border', 'scrollbar', 'margin'];
    return out.sort((a, b) => rank.indexOf(a.area) - rank.indexOf(b.area));
  });
  const night = $derived(theme.name === 'night');
</script>

<table class="w-full table-fixed border-collapse text-[13px]" data-sum={account.axis}>
  <colgroup><col class={account.axis === 'x' ? 'w-23' : 'w-20'} /><col class="w-5" /><col /></colgroup>
  <tbody>
    {#each lines as { area, terms }, i (i)}
      {@const first = terms[0]!}
      <tr class="align-baseline">
        <td class="num py-0.5 pr-2 text-right text-[12.5px] whitespace-nowrap"
          >{terms.map((term) => px(term.px)).join(' + ')}</td
        >
        <td class="py-0.5"
          ><svg width="12" height="12" class="inline-block align-[-1px]" aria-hidden="true"
            ><rect
              width="12"
              height="12"
              fill={fillOf(area, night)}
              stroke="currentColor"
              stroke-width="1"
            /></svg
          ></td
        >
        <td class="py-0.5">
          <span>{area}</span>
          {#if first.source && first.source.origin !== 'browser'}<span class="code [overflow-wrap:anywhere]"
              >{first.source.property}: {first.source.value}</span
            >{/if}
          {#if first.note}<div class="faint text-[12px]">{first.note}</div>{/if}
          {#if first.source}<div class="min-w-0"><Place {bench} source={first.source} {open} /></div>{/if}
        </td>
      </tr>
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
      <td class="py-0.5">{account.axis === 'x' ? 'wide' : 'tall'}, border box</td>
    </tr>
  </tbody>
</table>
