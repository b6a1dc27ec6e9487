<!-- A change that was proved to help: a button that tries it, what it changes, and what else it moves. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { ProvedRemedy } from '$core/proof/prover.ts';
  import type { Trials } from '../trial/trials.svelte.ts';

  let { trials, remedy }: { trials: Trials; remedy: ProvedRemedy } = $props();

  const listed = (widths: number[]) => widths.join(', ').replace(/, (\d+)$/, ' and $1');
  const { widths, short, sideEffects, proved } = $derived(remedy);
  const isHereAlone = $derived(widths.length === 1 && short.length === 0 && widths[0] === sideEffects.width);
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
    {proved
      ? `Proved at ${listed(widths)} px${short.length ? `, not enough at ${listed(short)} px` : ''}${isHereAlone ? ':' : `; at ${sideEffects.width} px`}`
      : widths.length > 0
        ? 'Not measured on a device:'
        : `Measured at ${sideEffects.width} px:`}
    {sideEffects.moved} moved, {sideEffects.resized} resized, at most {px(sideEffects.largest)} px
  </p>
</div>
