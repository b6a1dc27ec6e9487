<script lang="ts">
  import type { ShelfEntry } from './entry.ts';
  import Copy from '@lucide/svelte/icons/copy';
  import Download from '@lucide/svelte/icons/download';
  import Pencil from '@lucide/svelte/icons/pencil';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { tick } from 'svelte';
  import Drawing from '../drawing/Drawing.svelte';
  import { borrowFocus } from '../focus.ts';
  import { since } from '../since.ts';

  let {
    specimen,
    measuring,
    rename,
    duplicate,
    remove,
  }: {
    specimen: ShelfEntry;
    measuring: boolean;
    rename: (name: string) => void;
    duplicate: () => void;
    remove: () => void;
  } = $props();

  let naming = $state(false);
  let name = $state('');
  let input: HTMLInputElement | undefined = $state();

  async function begin() {
    name = specimen.name;
    naming = true;
    await tick();
    input?.select();
  }

  function finish(keep: boolean) {
    if (!naming) return;
    naming = false;
    if (keep && name.trim() && name.trim() !== specimen.name) rename(name.trim());
  }

  const facts = $derived(
    [
      specimen.pages > 1 ? `${specimen.pages} pages` : specimen.entry,
      measuring
        ? 'measuring …'
        : specimen.measuredAt
          ? `measured ${since(specimen.measuredAt)}`
          : 'not measured yet',
      specimen.readings ? `${specimen.readings} saved ${specimen.readings === 1 ? 'reading' : 'readings'}` : '',
    ].filter(Boolean),
  );
</script>

<article
  class="group flex flex-col border border-base-300 bg-base-100 focus-within:border-base-content hover:border-base-content"
  data-specimen={specimen.id}
>
  <a
    href="/bench/{specimen.id}"
    class="block h-40 overflow-hidden border-b border-base-300 bg-base-200"
    aria-hidden="true"
    tabindex="-1"
  >
    <Drawing drawing={specimen.drawing} label="The boxes of {specimen.name}" />
  </a>
  <div class="flex grow flex-col gap-1 px-3 pt-2 pb-1.5">
    {#if naming}
      <input
        bind:this={input}
        {@attach borrowFocus()}
        bind:value={name}
        maxlength="120"
        class="border-b border-base-content bg-base-100 font-medium outline-none"
        aria-label="Name"
        onblur={() => finish(true)}
        onkeydown={(event) => {
          if (event.key !== 'Enter' && event.key !== 'Escape') return;
          // The button that gets the focus back is not to be pressed by the same key.
          event.preventDefault();
          finish(event.key === 'Enter');
        }}
      />
    {:else}
      <h2 class="truncate font-medium"><a href="/bench/{specimen.id}">{specimen.name}</a></h2>
    {/if}
    <p class="faint truncate text-[12px]">{facts.join(' · ')}</p>
    <div class="mt-auto flex items-center gap-1">
      {#if specimen.demo}<span class="heading">demo</span>{/if}
      {#if specimen.origin !== null}<span class="faint truncate text-[12px]" title={specimen.origin}
          >{specimen.origin}</span
        >{/if}
      {#if specimen.missing}<span class="text-[12px] text-warning">{specimen.missing} missing</span>{/if}
      <span class="grow"></span>
      <button
        class="cursor-pointer p-1 opacity-70 hover:opacity-100"
        aria-label="Rename {specimen.name}"
        title="Rename"
        onclick={begin}><Pencil size={14} /></button
      >
      <button
        class="cursor-pointer p-1 opacity-70 hover:opacity-100"
        aria-label="Duplicate {specimen.name}"
        title="Duplicate"
        onclick={duplicate}><Copy size={14} /></button
      >
      <a
        class="p-1 opacity-70 hover:opacity-100"
        aria-label="Export {specimen.name} as a zip"
        title="Export as a zip, with readings"
        href="/api/specimens/{specimen.id}/export"
        download><Download size={14} /></a
      >
      <button
        class="cursor-pointer p-1 opacity-70 hover:opacity-100"
        aria-label="Delete {specimen.name}"
        title="Delete"
        onclick={remove}><Trash2 size={14} /></button
      >
    </div>
  </div>
</article>
