<!-- What the page is taken from, a folder or a live page: what its last change did, why it cannot be taken, the way back from a write. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import X from '@lucide/svelte/icons/x';
  import { since as ago } from '../since.ts';
  import type { Bench } from './state/bench.svelte.ts';
  import type { Origin } from './state/origin.svelte.ts';

  let { bench, origin }: { bench: Bench; origin: Origin } = $props();

  const shortPlace = $derived(
    origin.kind === 'folder'
      ? origin.place.replace(/^.*[\\/](?=.)/, '')
      : origin.place.replace(/^https?:\/\//, ''),
  );
  const boxes = (count: number, what: string) => (count === 0 ? [] : [`${count} ${what}`]);
  const moved = $derived.by(() => {
    if (!bench.since) return '';
    const { counts, largest } = bench.since;
    const parts = [
      ...boxes(counts.resized, 'resized'),
      ...boxes(counts.moved, 'moved'),
      ...boxes(counts.appeared, 'new'),
      ...boxes(counts.vanished, 'gone'),
      ...boxes(counts.wrapped, 'wrapped otherwise'),
    ];
    if (parts.length === 0) return 'no box is anywhere else';
    return `boxes: ${parts.join(', ')}${largest > 0 ? `; at most ${px(largest)} px` : ''}`;
  });
</script>

<section class="flex flex-col gap-1.5" data-origin={origin.kind}>
  <p class="flex items-baseline gap-2">
    {#if origin.kind === 'folder'}<span class="faint shrink-0">Folder</span>{/if}
    <span class="code min-w-0 truncate" title={origin.place}>{shortPlace}</span>
    <span class="grow"></span>
    <span class="faint shrink-0 text-[12px]" data-origin-revision>revision {bench.input.revision}</span>
  </p>
  {#if origin.kind === 'address'}
    <p class="faint" data-frozen>
      Frozen as its scripts have made it; at other widths they may do otherwise.
      <button class="linkish" disabled={origin.isBusy} onclick={() => origin.takeAgain()} data-take-again
        >{origin.isBusy ? 'Taking it …' : 'Take it again'}</button
      >
    </p>
    {#if origin.left.length > 0}
      <details class="text-[12px]" data-left>
        <summary class="cursor-pointer text-warning"
          >{origin.left.length} {origin.left.length === 1 ? 'thing is' : 'things are'} not in it</summary
        >
        <ul class="max-h-32 overflow-y-auto">
          {#each origin.left as sentence, i (i)}<li class="[overflow-wrap:anywhere]">{sentence}</li>{/each}
        </ul>
      </details>
    {/if}
  {/if}
  {#if origin.problem}
    <p class="border-l-2 border-error pl-2 text-error" role="alert" data-origin-problem>
      {origin.problem} Until then revision {bench.input.revision} is shown.
    </p>
  {/if}
  {#if bench.since}
    <div class="border-l-2 border-base-content pl-2" role="status" data-since>
      <p class="flex items-start gap-2">
        <span class="grow">Since revision {bench.since.revision}: {moved}.</span>
        <button
          class="cursor-pointer"
          aria-label="Close what changed since revision {bench.since.revision}"
          onclick={() => bench.forgetSince()}><X size={13} /></button
        >
      </p>
      {#each bench.since.gone as what, i (i)}<p data-gone>
          <span class="text-success">Gone:</span>
          {what}
        </p>{/each}
      {#each bench.since.fresh as what, i (i)}<p data-fresh>
          <span class="text-error">New:</span>
          {what}
        </p>{/each}
    </div>
  {/if}
  {#if origin.write}
    <p data-last-write>
      Written into <span class="code">{origin.write.paths.join(', ')}</span>
      {ago(origin.write.writtenAt)}.
      <button class="linkish" disabled={origin.isBusy} onclick={() => origin.takeBack()} data-take-back
        >Take it back</button
      >
    </p>
  {/if}
</section>
