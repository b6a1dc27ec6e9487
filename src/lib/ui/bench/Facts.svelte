<!-- What the page is and what was measured of it; until findings stand here, this is what comes first. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import { labelOf } from '$core/reading/labels.ts';
  import type { Reference } from '$core/css/syntax/references.ts';
  import { px } from '$core/geometry/rect.ts';
  import X from '@lucide/svelte/icons/x';
  import { since } from '../since.ts';
  import type { Bench } from './state/bench.svelte.ts';
  import { edgePosition, type Edge } from './state/measuring.ts';

  export interface ReadingHead {
    id: string;
    takenAt: string;
    width: number;
    height: number;
    engine: string;
    engineVersion: string;
    note: string;
    page: string;
    boxes: number;
    revision: number;
  }

  let {
    bench,
    revision,
    missing,
    readings,
    forget,
    replaceFiles,
    above,
    isTaken,
  }: {
    bench: Bench;
    revision: number;
    missing: Reference[];
    readings: ReadingHead[];
    forget: (id: string) => void;
    replaceFiles: (files: FileList) => void;
    above: Snippet;
    /** Whether its files are taken from a folder or a live page again and again. */
    isTaken: boolean;
  } = $props();

  const reading = $derived(bench.reading);
  const own = $derived(readings.filter(({ page }) => page === bench.input.page));
  const beyond = $derived(reading ? reading.document.scrollWidth - reading.document.clientWidth : 0);
  const closed = $derived.by(() => {
    const out: { element: number; why: string }[] = [];
    if (reading)
      for (let i = 0; i + 1 < reading.closed.length; i += 2)
        out.push({ element: reading.closed[i]!, why: reading.strings[reading.closed[i + 1]!] ?? '' });
    return out;
  });
  const edgeWords = (edge: Edge) =>
    `${reading && edge.element < reading.count ? labelOf(reading, edge.element) : 'a box that is gone'} ${edge.area} ${edge.side}`;
  function distance(from: Edge, to: Edge): string {
    const [a, b] = [bench.areas.get(from.element), bench.areas.get(to.element)];
    return a && b ? px(Math.abs(edgePosition(b, to) - edgePosition(a, from))) : '…';
  }
  let filesInput = $state<HTMLInputElement>();
</script>

<div class="flex flex-col gap-5 px-4 py-3 text-[13px]">
  {@render above()}
  <section class="flex flex-col gap-1" data-facts>
    <h2 class="heading">Measured</h2>
    {#if reading}
      <p class="text-[15px] font-medium"><span class="num">{reading.count}</span> boxes</p>
      <p>
        Page <span class="num">{px(reading.document.scrollWidth)} × {px(reading.document.scrollHeight)}</span>
        in a viewport of
        <span class="num">{px(reading.viewport.width)} × {px(reading.viewport.height)}</span>{reading.viewport
          .width > reading.document.clientWidth
          ? `, of which a scrollbar takes ${px(reading.viewport.width - reading.document.clientWidth)}`
          : ''}.
      </p>
      {#if beyond > 0.5}<p class="text-error" data-beyond>
          It is <span class="num">{px(beyond)}</span> px wider than its viewport and scrolls sideways.
        </p>{/if}
      <p class="faint">
        {reading.engine.name}
        {reading.engine.version}, {reading.document.mode} mode, {bench.input.isUnder
          ? 'other defaults'
          : 'defaults as rendered'}{bench.scripts === 'hold' ? ', scripts held' : ', scripts running'}
      </p>
      {#if reading.unread}<p class="text-warning">
          {reading.unread} more elements were not read: the page has more than {reading.count}.
        </p>{/if}
      {#if bench.waited.length}<p class="text-warning">
          Measured without waiting longer for {bench.waited.join(' and ')}.
        </p>{/if}
      {#each closed.slice(0, 5) as { element, why } (element)}
        <p>
          Not looked into: <button class="linkish code" onclick={() => bench.choose(element)}
            >{labelOf(reading, element)}</button
          >, {why}.
        </p>
      {/each}
    {:else if bench.status === 'failed'}
      <p>
        Nothing: the page could not be measured. <button class="linkish" onclick={() => bench.remeasure()}
          >Open it again</button
        >
      </p>
    {:else}
      <p class="faint">Opening the page …</p>
    {/if}
  </section>

  {#if missing.length}
    <section data-missing>
      <h2 class="heading mb-1 text-warning!">{missing.length} missing from the upload</h2>
      <ul class="flex max-h-40 flex-col gap-1 overflow-y-auto">
        {#each missing as { address, from, line, what } (address)}
          <li>
            <span class="code break-all">{address}</span><br /><span class="faint"
              >{what}, asked for in {from}:{line}</span
            >
          </li>
        {/each}
      </ul>
    </section>
  {/if}

  <section class={bench.status === 'failed' ? 'hidden' : ''}>
    <h2 class="heading mb-1">Style sheets</h2>
    {#if reading && bench.facts.sheets.length === 0}<p class="faint">
        None: the page is as the browser sets it.
      </p>{/if}
    <ul class="flex max-h-36 flex-col gap-0.5 overflow-y-auto">
      {#each bench.facts.sheets as { file, form, rules, declarations }, i (i)}
        <li class="flex items-baseline gap-2">
          <span class="code truncate" title={file}>{form === 'element' ? `style in ${file}` : file}</span><span
            class="grow"
          ></span>
          <span class="faint num shrink-0 text-[12px]" title="{rules} rules, {declarations} declarations"
            >{rules} rules</span
          >
        </li>
      {/each}
    </ul>
  </section>

  <section data-pinned>
    <h2 class="heading mb-1">Measurements</h2>
    {#each bench.pinned as { id, from, to } (id)}
      <div class="flex items-start gap-2 py-0.5">
        <span class="num min-w-12 text-right font-medium">{distance(from, to)}</span>
        <span class="grow"
          ><span class="code">{edgeWords(from)}</span> to <span class="code">{edgeWords(to)}</span><br /><button
            class="linkish"
            onclick={() => bench.explain({ from, to })}
            data-explain>Explain this distance</button
          ></span
        >
        <button class="cursor-pointer" aria-label="Remove this measurement" onclick={() => bench.unpin(id)}
          ><X size={13} /></button
        >
      </div>
    {:else}
      <p class="faint">
        Press <kbd class="code">m</kbd>, then click two edges on the page: the distance stays here, and follows
        the width.
      </p>
    {/each}
  </section>

  <section data-readings>
    <h2 class="heading mb-1">Saved readings</h2>
    {#each own as item (item.id)}
      <div
        class="flex items-start gap-2 py-0.5 {bench.saved?.id === item.id
          ? 'border-l-2 border-accent pl-1'
          : ''}"
      >
        <button class="grow cursor-pointer text-left" onclick={() => bench.openSaved(item.id)}>
          <span class="num font-medium">{item.width} × {item.height}</span>
          <span class="faint"
            >{since(item.takenAt)}{item.revision === revision ? '' : `, revision ${item.revision}`}</span
          >
          {#if item.note}<br />{item.note}{/if}
        </button>
        <button
          class="cursor-pointer"
          aria-label="Delete the reading of {item.width} × {item.height}"
          onclick={() => forget(item.id)}><X size={13} /></button
        >
      </div>
    {:else}
      <p class="faint">
        Press <kbd class="code">s</kbd> to keep what is measured now. It will be here tomorrow.
      </p>
    {/each}
  </section>

  <section class="flex flex-col gap-1">
    <h2 class="heading">Files</h2>
    {#if !isTaken}
      <p>
        Revision {revision}. <button class="linkish" onclick={() => filesInput?.click()}>Replace files</button> when
        you have changed them; saved readings keep theirs.
      </p>
      <input
        bind:this={filesInput}
        type="file"
        multiple
        class="hidden"
        aria-label="Changed files"
        data-replace
        onchange={(event) => event.currentTarget.files?.length && replaceFiles(event.currentTarget.files)}
      />
    {/if}
    <p>
      The page’s own scripts are {bench.scripts === 'hold' ? 'held' : 'running'}.
      <button
        class="linkish"
        data-scripts
        onclick={() => bench.setScripts(bench.scripts === 'hold' ? 'run' : 'hold')}
        >{bench.scripts === 'hold' ? 'Let them run' : 'Hold them'}</button
      >
    </p>
    <p class="faint text-[12px]" data-scripts-words>
      {bench.scripts === 'hold'
        ? 'Let run, they change the page as they like, and reach nothing else: no server, window or storage. In browsers other than Chromium connections between peers (WebRTC) cannot be closed in documents that a script writes into frames: let only scripts run that you trust.'
        : 'They reach no server, window or storage. In browsers other than Chromium they could reach another computer by WebRTC, from documents that they write into frames.'}
    </p>
    {#if bench.scriptFailures.length}
      <div data-script-failures>
        <h3 class="heading mt-2 mb-1 text-warning!">
          {bench.scriptFailures.length}
          {bench.scriptFailures.length === 1 ? 'failure' : 'failures'} of scripts
        </h3>
        <ul>
          {#each bench.scriptFailures as { address, line, why }, i (i)}<li class="[overflow-wrap:anywhere]">
              <span class="code">{address.replace(/^https?:\/\/[^/]+\//, '')}{line > 0 ? `:${line}` : ''}</span>
              {why}
            </li>{/each}
        </ul>
      </div>
    {/if}
  </section>
</div>
