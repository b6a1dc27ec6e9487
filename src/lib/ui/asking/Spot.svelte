<!-- A spot of the page: whose room it is, what is painted there in which order, and what was found there. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import BoxLink from '../account/BoxLink.svelte';

  let { bench, pick }: { bench: Bench; pick: (key: string, element: number) => void } = $props();

  const SPOT = /^\s*(\d+(?:\.\d+)?)[\s,]+(\d+(?:\.\d+)?)(?:[\s,]+(\d+(?:\.\d+)?)[\s,]+(\d+(?:\.\d+)?))?\s*$/;
  const { answer, rect, failure } = $derived(bench.spots);
  let text = $state('');
  let refused = $state('');
  $effect(() => {
    if (!rect) return;
    const { x, y, width, height } = rect;
    text = (width > 1 || height > 1 ? [x, y, width, height] : [x, y])
      .map((value) => Math.round(value))
      .join(', ');
    refused = '';
  });

  function ask() {
    const parts = SPOT.exec(text);
    refused = parts ? '' : 'Write X, Y or X, Y, W, H in CSS px of the page, like 300, 120, 40, 20.';
    if (!parts) return;
    const [x, y, width = 0, height = 0] = parts.slice(1).map((part) => (part === undefined ? 0 : Number(part)));
    void bench.spots.ask({ x: x!, y: y!, width, height });
  }

  const GRADES = { wrong: 'text-error', doubtful: '', meant: 'faint' };
</script>

{#if bench.spots.isAsking}
  <section class="flex flex-col gap-1.5 border-b border-base-content px-4 py-3" data-spot>
    <div class="flex items-baseline gap-2">
      <form
        class="flex min-w-0 grow items-baseline gap-2"
        onsubmit={(event) => {
          event.preventDefault();
          ask();
        }}
      >
        <label class="heading shrink-0" for="spot">Spot</label>
        <input
          id="spot"
          class="num min-w-0 grow border-b border-neutral bg-transparent"
          placeholder="x, y, wide, tall"
          autocomplete="off"
          bind:value={text}
        />
        <button class="btn btn-outline btn-xs">Ask</button>
      </form>
      <button
        class="cursor-pointer"
        aria-label="Ask about no spot"
        onclick={() => (bench.spots.isAsking = false)}><X size={13} /></button
      >
    </div>
    {#if refused || failure}<p class="text-[13px] text-error" role="alert">{refused || `${failure}.`}</p>{/if}
    {#if answer}
      <div class="flex flex-col gap-1.5 text-[13px]" role="status" data-spot-answer>
        {#each answer.rooms as { says, element, label }, i (i)}
          <p>{says} <BoxLink {bench} {element} {label} /></p>
        {/each}
        <h3 class="heading">Painted there, the uppermost first</h3>
        {#if answer.layers.length}
          <ol class="flex flex-col">
            {#each answer.layers as { element, label, paints, over }, i (i)}
              <li class="border-l-2 border-neutral py-0.5 pl-2">
                <BoxLink {bench} {element} {label} />
                {paints.join(', ')}
                {#if over}<p class="faint text-[12.5px]">Over the next: {over}.</p>{/if}
              </li>
            {/each}
          </ol>
        {:else}<p>Nothing is painted there: the page’s canvas shows.</p>{/if}
        <h3 class="heading">Found there</h3>
        {#each answer.findings as { grade, says, key, element, rule }, i (i)}
          <button class="cursor-pointer text-left" onclick={() => pick(key, element)} title={rule}>
            <span class={GRADES[grade]}>{grade}:</span>
            {says}
          </button>
        {:else}<p>Nothing odd was found there.</p>{/each}
      </div>
    {:else if !rect && !failure}
      <p class="text-[13px]">
        Drag over a spot of the page, or click one. Here stands whose room it is, what is painted there, and
        what was found.
      </p>
    {/if}
  </section>
{/if}
