<script lang="ts">
  import { goto } from '$app/navigation';
  import { wrong } from '../notices/notices.svelte.ts';
  import { send } from '../send.ts';
  import { z } from 'zod';
  import { bringFiles, bringPasted, fromInput, type Brought } from './bring.ts';

  let { busy = $bindable(false), canWatch }: { busy?: boolean; canWatch: boolean } = $props();

  const WAYS = $derived([
    ['files', 'Files'] as const,
    ...(canWatch ? [['live', 'Live page'] as const] : []),
    ['paste', 'Paste'] as const,
  ]);

  let way = $state<'files' | 'live' | 'paste'>('files');
  let place = $state('');
  let html = $state('');
  let css = $state('');
  let refused = $state('');
  let count = $state(0);
  let stop: AbortController | null = null;
  let filesInput = $state<HTMLInputElement>();
  let folderInput = $state<HTMLInputElement>();

  const openedSchema = z.object({ id: z.string(), page: z.string().nullable() });

  async function run<T extends { id: string }>(
    work: (signal: AbortSignal) => Promise<T>,
    address: (result: T) => string = ({ id }) => `/bench/${id}`,
  ) {
    refused = '';
    busy = true;
    stop = new AbortController();
    try {
      await goto(address(await work(stop.signal)));
    } catch (error) {
      refused = error instanceof Error ? error.message : String(error);
      wrong(error);
    } finally {
      busy = false;
      stop = null;
    }
  }

  /** The server is asked for the page that was named: the folder may have several. */
  function open() {
    count = 0;
    return run(
      (signal) => send('POST', '/api/open', openedSchema, { place: place.trim() }, signal),
      ({ id, page }) => `/bench/${id}${page === null ? '' : `?page=${encodeURIComponent(page)}`}`,
    );
  }

  export function take(brought: Brought[]) {
    count = brought.length;
    return run((signal) => bringFiles(brought, signal));
  }

  function chosen(event: Event & { currentTarget: HTMLInputElement }) {
    const { files } = event.currentTarget;
    if (files?.length) void take(fromInput(files));
    event.currentTarget.value = '';
  }
</script>

<section aria-labelledby="bring" class="flex flex-col gap-3">
  <h2 id="bring" class="heading">Bring a page in</h2>
  <div class="flex gap-4" role="tablist" aria-label="Ways of bringing a page in">
    {#each WAYS as [name, label] (name)}
      <button
        role="tab"
        aria-selected={way === name}
        class="cursor-pointer border-b-2 pb-0.5 {way === name
          ? 'border-base-content font-medium'
          : 'border-transparent faint'}"
        onclick={() => (way = name)}>{label}</button
      >
    {/each}
  </div>

  {#if way === 'files'}
    <div class="flex flex-col gap-3 border border-dashed border-neutral p-4">
      <p>
        Drop it anywhere on this page: an HTML file, several files, a whole folder, or a <span class="code"
          >.zip</span
        >.
      </p>
      <div class="flex gap-2">
        <button class="btn btn-primary btn-sm" disabled={busy} onclick={() => filesInput?.click()}
          >Choose files</button
        >
        <button class="btn btn-outline btn-sm" disabled={busy} onclick={() => folderInput?.click()}
          >Choose a folder</button
        >
      </div>
      <input
        bind:this={filesInput}
        type="file"
        multiple
        class="hidden"
        onchange={chosen}
        aria-label="Files"
        data-bring="files"
      />
      <input
        bind:this={folderInput}
        type="file"
        webkitdirectory
        class="hidden"
        onchange={chosen}
        aria-label="Folder"
        data-bring="folder"
      />
      <p class="faint">
        Style sheets, images and fonts come with it, in their folders. What is missing is listed, and the page
        opens all the same.
      </p>
    </div>
  {:else if way === 'live'}
    <form
      class="flex flex-col gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        void open();
      }}
    >
      <label class="flex flex-col gap-1"
        ><span>Folder, page or address</span>
        <input
          bind:value={place}
          spellcheck="false"
          class="code border border-neutral bg-base-100 p-2"
          placeholder="/home/me/site or http://localhost:5173/"
          data-place
        /></label
      >
      <button class="btn btn-primary btn-sm self-start" disabled={busy || place.trim() === ''}>Open it</button>
      <p class="faint">
        A folder of this machine: what you save in your editor is measured at once, and what you try here can be
        written into the files.
      </p>
      <p class="faint">
        An address, your dev server’s for example: the page is taken as its scripts have made it, and again when
        it changes.
      </p>
      <p class="faint">The same from a terminal: <span class="code">normetra open .</span></p>
    </form>
  {:else}
    <form
      class="flex flex-col gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        void run(() => bringPasted(html, css));
      }}
    >
      <label class="flex flex-col gap-1"
        ><span>HTML</span>
        <textarea
          bind:value={html}
          rows="7"
          spellcheck="false"
          class="code border border-neutral bg-base-100 p-2"
          placeholder="&lt;div class=&quot;card&quot;&gt;…&lt;/div&gt;"></textarea>
      </label>
      <label class="flex flex-col gap-1"
        ><span>CSS <span class="faint">(goes behind the page’s own sheets)</span></span>
        <textarea
          bind:value={css}
          rows="6"
          spellcheck="false"
          class="code border border-neutral bg-base-100 p-2"
          placeholder=".card &lbrace; width: 300px &rbrace;"></textarea>
      </label>
      <button class="btn btn-primary btn-sm self-start" disabled={busy}>Measure it</button>
    </form>
  {/if}

  {#if busy}
    <p class="flex items-center gap-3">
      <span class="loading loading-bars loading-xs" aria-hidden="true"></span> Bringing in {count === 1
        ? 'one file'
        : count > 1
          ? `${count} files`
          : 'the page'} …
      <button class="linkish" onclick={() => stop?.abort()}>Stop</button>
    </p>
  {/if}
  {#if refused}<p class="border-l-2 border-error pl-2 text-error" data-refused>{refused}</p>{/if}
</section>
