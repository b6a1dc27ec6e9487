<!-- The folder that the page is taken from: what its last change did, why it cannot be taken in, and the way back from a write. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import X from '@lucide/svelte/icons/x';
  import { since as ago } from '../since.ts';
  import type { Bench } from './state/bench.svelte.ts';
  import type { Folder } from './state/folder.svelte.ts';

  let { bench, folder }: { bench: Bench; folder: Folder } = $props();

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

<section class="flex flex-col gap-1.5" data-folder>
  <p class="flex items-baseline gap-2">
    <span class="faint shrink-0">Folder</span>
    <span class="code min-w-0 truncate" title={folder.place}>{folder.place.replace(/^.*[\\/](?=.)/, '')}</span>
    <span class="grow"></span>
    <span class="faint shrink-0 text-[12px]" data-folder-revision>revision {bench.input.revision}</span>
  </p>
  {#if folder.problem}
    <p class="border-l-2 border-error pl-2 text-error" role="alert" data-folder-problem>
      {folder.problem} Until then revision {bench.input.revision} is shown.
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
  {#if folder.write}
    <p data-last-write>
      Written into <span class="code">{folder.write.paths.join(', ')}</span>
      {ago(folder.write.writtenAt)}.
      <button class="linkish" disabled={folder.isBusy} onclick={() => folder.takeBack()} data-take-back
        >Take it back</button
      >
    </p>
  {/if}
</section>
