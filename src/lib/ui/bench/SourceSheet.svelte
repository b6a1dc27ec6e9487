<!-- A source file at the line of a declaration, as a sheet from the bottom: over the page, never over the account. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import X from '@lucide/svelte/icons/x';
  import { borrowFocus } from '../focus.ts';

  let { source, text, close }: { source: Source; text: string; close: () => void } = $props();

  const AROUND = 400;
  const lines = $derived(text.split(/\r\n|[\n\r\f]/));
  const from = $derived(Math.max(0, source.line - AROUND));
  const shown = $derived(lines.slice(from, source.line + AROUND));
  /** Minified sheets have lines of thousands: the part around the column is shown. */
  const cut = (line: string, number: number) => {
    if (line.length <= 400) return line;
    const at = number === source.line ? Math.max(0, source.column - 1 - 80) : 0;
    return `${at ? '… ' : ''}${line.slice(at, at + 320)} …`;
  };
  let marked: HTMLElement | undefined = $state();
  $effect(() => {
    if (source) marked?.scrollIntoView({ block: 'center' });
  });
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
  class="absolute inset-x-0 bottom-0 z-20 flex h-[45%] flex-col border-t-2 border-base-content bg-base-100"
  aria-label="Source"
  onkeydown={(event) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    close();
  }}
  data-source-sheet
  {@attach borrowFocus('[data-stage]')}
>
  <div class="rule-b flex items-center gap-3 px-3 py-1">
    <span class="code font-medium">{source.sheet}</span>
    <span class="faint">line {source.line}, column {source.column}</span><span class="grow"></span>
    <button class="cursor-pointer p-0.5" aria-label="Close the source" onclick={close}><X size={15} /></button>
  </div>
  <div class="code grow overflow-auto py-1">
    {#each shown as line, i (from + i)}
      {@const number = from + i + 1}
      {#if number === source.line}
        <div bind:this={marked} class="flex bg-base-300" data-marked>
          <span class="num faint w-14 shrink-0 pr-3 text-right">{number}</span><span class="whitespace-pre"
            >{cut(line, number)}</span
          >
        </div>
      {:else}
        <div class="flex">
          <span class="num faint w-14 shrink-0 pr-3 text-right">{number}</span><span class="whitespace-pre"
            >{cut(line, number)}</span
          >
        </div>
      {/if}
    {/each}
  </div>
</section>
