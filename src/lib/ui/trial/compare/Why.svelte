<!-- Why a number is another one: the terms of its sum that changed, each with its declaration and its box. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import type { Change, Reason } from '$core/compare/explained-change.ts';
  import BoxLink from '../../account/BoxLink.svelte';
  import Place from '../../account/Place.svelte';
  import type { Bench } from '../../bench/state/bench.svelte.ts';

  let { bench, reason, open }: { bench: Bench; reason: Reason | null; open: (source: Source) => void } =
    $props();

  const NUMBERS = { width: 'Its width', height: 'Its height', x: 'Its left edge', y: 'Its upper edge' };
  const signed = (value: number) => `${value > 0 ? '+' : ''}${px(value)}`;
  const declared = ({ was, is }: Change): string => {
    if (is && was && is.value !== was.value) return `${is.property}: ${was.value} → ${is.value}`;
    const one = is ?? was;
    return one ? `${one.property}: ${one.value}${is ? '' : ', gone'}` : '';
  };
</script>

<div class="order-last basis-full border-l-2 border-accent pl-2" data-reason>
  {#if !reason}
    <p>It is not in both, so there are no two sums to hold against each other.</p>
  {:else}
    <p>
      {NUMBERS[reason.number]} is {px(reason.to)}, it was {px(reason.from)}{reason.changes.length
        ? ', because of'
        : '; its sum has the same terms'}
    </p>
    <ul>
      {#each reason.changes as change, i (i)}
        <li class="flex flex-wrap items-baseline gap-x-2">
          <span class="num w-14 shrink-0 text-right">{signed(change.after - change.before)}</span>
          <span>{change.what}</span>
          <span class="num faint">{px(change.before)} → {px(change.after)}</span>
          {#if change.box >= 0}<BoxLink {bench} element={change.box} label={change.label} />
          {:else if change.label}<span class="code faint">{change.label}</span>{/if}
          {#if declared(change)}<span class="code">{declared(change)}</span>{/if}
          {#if change.is ?? change.was}<Place {bench} source={(change.is ?? change.was)!} {open} />{/if}
        </li>
      {/each}
    </ul>
    {#if Math.abs(reason.residual) > 0.05}<p class="faint">
        {signed(reason.residual)} px are not explained.
      </p>{/if}
  {/if}
</div>
