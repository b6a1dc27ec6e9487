<!-- The trial as a sheet from the bottom: its edits, what they moved, and what is taken home. Over the page, never over the account. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import X from '@lucide/svelte/icons/x';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { borrowFocus } from '../focus.ts';
  import Compare from './compare/Compare.svelte';
  import Edits from './edits/Edits.svelte';
  import Isolate from './search/Isolate.svelte';
  import MovedList from './compare/MovedList.svelte';
  import Seek from './search/Seek.svelte';
  import TakeHome from './TrialExport.svelte';
  import type { Origin } from '../bench/state/origin.svelte.ts';
  import type { Trials } from './trials.svelte.ts';

  let {
    bench,
    trials,
    folder,
    open,
    close,
  }: {
    bench: Bench;
    trials: Trials;
    folder: Origin | null;
    open: (source: Source) => void;
    close: () => void;
  } = $props();

  const PARTS = {
    edits: 'Edits',
    moved: 'Moved',
    seek: 'Seek',
    isolate: 'Isolate',
    compare: 'Compare',
    home: 'Take home',
  } as const;
  type Part = keyof typeof PARTS;
  let part = $state<Part>('edits');
  let name = $state('');
  let naming = $state(false);
</script>

<section
  class="flex h-[42%] min-h-56 shrink-0 flex-col overflow-hidden border-t-2 border-base-content bg-base-100"
  aria-label="Trial"
  data-trial-sheet
>
  <div class="flex items-center gap-3 px-3 pt-1 text-[13px]">
    {#if naming}
      <form
        onsubmit={(event) => {
          event.preventDefault();
          naming = false;
          void trials.rename(name);
        }}
      >
        <input
          class="w-44 border-b border-base-content bg-transparent"
          bind:value={name}
          aria-label="Name of the trial"
          onkeydown={(event) => event.key === 'Escape' && (naming = false)}
          {@attach borrowFocus()}
        />
      </form>
    {:else}
      <select
        class="max-w-48 cursor-pointer border-b border-neutral bg-base-100 font-medium"
        aria-label="Trial laid over the page"
        value={trials.current?.id ?? ''}
        onchange={(event) => {
          const id = event.currentTarget.value;
          trials.choose(trials.all.find((item) => item.id === id) ?? null);
        }}
        data-trials
      >
        <option value="">no trial: the page as it is</option>
        {#each trials.all as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
      </select>
    {/if}
    {#if trials.current}
      <button
        class="linkish"
        onclick={() => {
          name = trials.current!.name;
          naming = true;
        }}>Rename</button
      >
      <button class="linkish" onclick={() => trials.fork()}>Fork</button>
      <button class="linkish" disabled={trials.edits.length === 0} onclick={() => trials.reset()}>Reset</button>
      <button class="linkish" onclick={() => trials.discard()}>Delete</button>
    {/if}
    <span class="grow"></span>
    <button class="linkish" disabled={!trials.canUndo} onclick={() => trials.undo()} title="u">Undo</button>
    <button class="linkish" disabled={!trials.canRedo} onclick={() => trials.redo()} title="Shift u"
      >Redo</button
    >
    <button class="cursor-pointer p-0.5" aria-label="Close the trial" onclick={close}><X size={15} /></button>
  </div>
  <div class="rule-b flex gap-3 px-3 text-[13px]" role="tablist" aria-label="Parts of the trial">
    {#each Object.entries(PARTS) as [key, words] (key)}
      <button
        role="tab"
        class="cursor-pointer border-b-2 py-0.5 whitespace-nowrap {part === key
          ? 'border-base-content font-medium'
          : 'border-transparent'}"
        aria-selected={part === key}
        onclick={() => (part = key as Part)}
        data-part={key}
        >{words}{key === 'moved' && bench.moved?.list.length ? ` (${bench.moved.list.length})` : ''}</button
      >
    {/each}
  </div>
  <div class="min-h-0 grow overflow-auto px-3 py-2">
    {#if part === 'edits'}<Edits {bench} {trials} />
    {:else if part === 'moved'}<MovedList {bench} {trials} {open} />
    {:else if part === 'seek'}<Seek {bench} {trials} />
    {:else if part === 'isolate'}<Isolate {bench} {trials} />
    {:else if part === 'compare'}<Compare {bench} {trials} />
    {:else}<TakeHome {bench} {trials} {folder} />{/if}
  </div>
</section>
