<script lang="ts">
  import Crosshair from '@lucide/svelte/icons/crosshair';
  import Maximize from '@lucide/svelte/icons/maximize';
  import Minus from '@lucide/svelte/icons/minus';
  import Plus from '@lucide/svelte/icons/plus';
  import Ruler from '@lucide/svelte/icons/ruler';
  import type { Bench } from '../state/bench.svelte.ts';
  import { BOX_FILTER_WORDS, type BoxFilter } from './box-filters.ts';

  let {
    bench,
    zoom,
    step,
    fit,
    found,
    leave,
  }: {
    bench: Bench;
    zoom: number;
    step: (direction: 1 | -1) => void;
    fit: () => void;
    found: (element: number) => void;
    /** Gives the focus to the page, where the arrow keys walk. */
    leave: () => void;
  } = $props();

  let selector = $state('');
  let said = $state('');
  let isLooking = $state(false);
  let input: HTMLInputElement;
  export const focus = () => input.focus();

  /** Picks the next box that the selector matches. */
  export const next = () => find();

  async function find() {
    said = '';
    if (!selector.trim()) return;
    isLooking = true;
    try {
      const all = await bench.find(selector);
      said = all.length === 0 ? 'matches nothing' : all.length === 1 ? '1 box' : `1 of ${all.length}`;
      if (all[0] === undefined) return;
      const at = all.indexOf(bench.pick);
      const next = all[(at + 1) % all.length]!;
      if (all.length > 1) said = `${all.indexOf(next) + 1} of ${all.length}`;
      bench.choose(next);
      bench.show(all);
      found(next);
      leave();
      await bench.chosen();
    } catch (error) {
      said =
        error instanceof Error && error.message.startsWith('SyntaxError')
          ? 'no valid selector'
          : String(error instanceof Error ? error.message : error);
    } finally {
      isLooking = false;
    }
  }
</script>

<div
  class="flex min-h-9 shrink-0 flex-wrap items-center gap-3 border-b border-base-300 bg-base-100 px-3 text-[13px]"
  role="toolbar"
  aria-label="Looking at the page"
>
  <form
    class="flex min-w-0 grow basis-24 items-center gap-2"
    aria-busy={isLooking}
    onsubmit={(event) => {
      event.preventDefault();
      void find();
    }}
  >
    <input
      bind:this={input}
      bind:value={selector}
      class="code w-40 min-w-20 shrink-[4] border-b border-neutral bg-transparent"
      placeholder="CSS selector"
      aria-label="Pick by CSS selector"
      spellcheck="false"
      onkeydown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        leave();
      }}
      data-selector
    />
    <span class="truncate {/no valid|nothing/.test(said) ? 'text-error' : 'faint'}" role="status">{said}</span>
  </form>
  <button
    class="flex cursor-pointer items-center gap-1 border px-1.5 py-0.5 {bench.measure
      ? 'border-accent text-accent'
      : 'border-transparent'}"
    aria-pressed={bench.measure}
    title="Measure between two edges (m)"
    onclick={() => bench.startMeasure(!bench.measure)}
    data-measure><Ruler size={14} /> Measure</button
  >
  <button
    class="flex cursor-pointer items-center gap-1 border px-1.5 py-0.5 {bench.spots.isAsking
      ? 'border-accent text-accent'
      : 'border-transparent'}"
    aria-pressed={bench.spots.isAsking}
    title="Ask about a spot of the page (q)"
    onclick={() => (bench.spots.isAsking = !bench.spots.isAsking)}
    data-ask-spot><Crosshair size={14} /> Spot</button
  >
  <button
    class="flex cursor-pointer items-center gap-1 border px-1.5 py-0.5 {bench.hatched
      ? 'border-secondary text-secondary'
      : 'border-transparent'}"
    aria-pressed={bench.hatched}
    title="Hatch the areas of the picked box (h)"
    onclick={() => (bench.hatched = !bench.hatched)}
    data-hatch
  >
    <svg width="13" height="13" aria-hidden="true"
      ><rect x="0.5" y="0.5" width="12" height="12" fill="url(#area-padding)" stroke="currentColor" /></svg
    > Hatch
  </button>
  <label class="flex items-center gap-1"
    ><span class="faint">Outline</span>
    <select
      class="w-24 cursor-pointer border-b border-neutral bg-base-100"
      value={bench.sort}
      onchange={(event) => (bench.sort = event.currentTarget.value as BoxFilter)}
      data-outline
    >
      {#each Object.entries(BOX_FILTER_WORDS) as [name, words] (name)}<option value={name}>{words}</option
        >{/each}
    </select>
  </label>
  <div class="flex items-center">
    <button class="cursor-pointer p-1" aria-label="Zoom out" title="Zoom out (−)" onclick={() => step(-1)}
      ><Minus size={14} /></button
    >
    <span class="num w-11 text-center" data-zoom>{Math.round(zoom * 100)}%</span>
    <button class="cursor-pointer p-1" aria-label="Zoom in" title="Zoom in (+)" onclick={() => step(1)}
      ><Plus size={14} /></button
    >
    <button class="cursor-pointer p-1" aria-label="Fit the viewport" title="Fit (f)" onclick={fit}
      ><Maximize size={14} /></button
    >
  </div>
</div>
