<!-- One line of a sum: px, the filling of its area, what it is, and where it comes from: a box or a declaration. -->
<script lang="ts">
  import type { Term } from '$core/accounts/model/term.ts';
  import { labelOf } from '$core/reading/labels.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { theme } from '../../theme.svelte.ts';
  import { fillOf } from '../bars/areas.ts';
  import BoxLink from '../BoxLink.svelte';
  import Place from '../Place.svelte';
  import { addends, areaOf, termName } from './sums.ts';

  let {
    bench,
    terms,
    owner,
    base,
    open,
  }: { bench: Bench; terms: Term[]; owner: number; base: number; open: (source: Source) => void } = $props();

  const first = $derived(terms[0]!);
  const area = $derived(areaOf(first));
  const lost = $derived(first.rule === 'margin-collapsed' && first.px === 0);
  const other = $derived(first.box >= 0 && first.box + base !== owner);
  const boxName = $derived(
    other && bench.reading && first.box + base < bench.reading.count
      ? labelOf(bench.reading, first.box + base)
      : '',
  );
  const night = $derived(theme.name === 'night');
</script>

<tr class="align-baseline {lost ? 'faint' : ''}" data-term={first.rule}>
  <td class="num py-0.5 pr-2 text-right text-[12.5px] whitespace-nowrap">{addends(terms)}</td>
  <td class="py-0.5">
    <svg width="12" height="12" class="inline-block align-[-1px]" aria-hidden="true">
      {#if area}
        <rect
          width="12"
          height="12"
          fill={lost ? 'none' : fillOf(area, night)}
          stroke="currentColor"
          stroke-width="1"
          stroke-dasharray={area === 'margin' ? '2 2' : undefined}
        />
      {:else}
        <path d="M1 6h10M1 3v6M11 3v6" fill="none" stroke="currentColor" stroke-width="1" />
      {/if}
    </svg>
  </td>
  <td class="py-0.5">
    <span>{termName(first)}</span>
    {#if other}<BoxLink {bench} element={first.box + base} />{/if}
    {#if first.source && first.source.origin !== 'browser'}<span class="code [overflow-wrap:anywhere]"
        >{first.source.property}: {first.source.value}</span
      >{/if}
    {#if first.note && !(other && first.note === boxName)}<div class="faint text-[12px]">{first.note}</div>{/if}
    {#if first.source}<div class="min-w-0"><Place {bench} source={first.source} {open} /></div>{/if}
  </td>
</tr>
