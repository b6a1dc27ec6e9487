<!-- A change that was proved to help: a button that tries it, what it changes, and what else it moves. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { ProvedRemedy } from '$core/proof/prover.ts';
  import type { Trials } from '../trial/trials.svelte.ts';
  import type { Bench } from './state/bench.svelte.ts';

  let { bench, trials, remedy }: { bench: Bench; trials: Trials; remedy: ProvedRemedy } = $props();

  const listed = (widths: number[]) => widths.join(', ').replace(/, (\d+)$/, ' and $1');
  const isHereAlone = $derived(
    remedy.widths.length === 1 && remedy.short.length === 0 && remedy.widths[0] === bench.width,
  );
</script>

<div class="border-t border-base-300 pt-1" data-remedy>
  <button
    class="btn btn-outline btn-xs"
    onclick={() => trials.make(remedy.edits.map(({ change }) => change))}
    data-apply>Try</button
  >
  {remedy.words}
  <div class="code text-[11.5px] [overflow-wrap:anywhere]">
    {#each remedy.shown as { selector, property, value, was }, n (n)}<div>
        {`${selector} { ${value === '' ? `${property}: ${was} taken out` : `${property}: ${value}`} }`}
      </div>{/each}
  </div>
  <p class="faint">
    {remedy.proved
      ? `Proved at ${listed(remedy.widths)} px${remedy.short.length ? `, not enough at ${listed(remedy.short)} px` : ''}${isHereAlone ? ':' : `; at ${bench.width} px`}`
      : remedy.widths.length > 0
        ? 'Not measured on a device:'
        : `Measured at ${bench.width} px:`}
    {remedy.sideEffects.moved} moved, {remedy.sideEffects.resized} resized, at most {px(
      remedy.sideEffects.largest,
    )} px
  </p>
</div>
