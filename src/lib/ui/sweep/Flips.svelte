<!-- What changes, width by width going up, and because of which declaration or condition. -->
<script lang="ts">
  import type { Swept } from './sweeper.worker.ts';

  interface Props {
    result: Swept;
    /** Whether the sweep came to its end: until then nothing is said of what is not there. */
    isWhole: boolean;
    width: number;
    to: (width: number, path: string) => string;
  }
  let { result, isWhole, width, to }: Props = $props();

  let only = $state<'all' | 'finding' | 'shape'>('all');
  const rows = $derived(
    result.flips.filter(({ part }) => only === 'all' || (only === 'finding') === (part === 'finding')),
  );
  const idle = $derived(result.breakpoints.filter(({ isIdle }) => isIdle));
  const path = (element: number | null) => (element === null ? '' : (result.names[element]?.path ?? ''));
</script>

<div class="flex items-baseline gap-4 px-4 pt-3 pb-1">
  <h2 class="font-medium">What changes, going up</h2>
  <span class="grow"></span>
  {#each [['all', 'all'], ['finding', 'what is wrong'], ['shape', 'the layout']] as const as [key, words] (key)}
    <button
      class="linkish text-[12px] {only === key ? 'font-medium' : 'faint'}"
      aria-pressed={only === key}
      onclick={() => (only = key)}>{words}</button
    >
  {/each}
</div>
<table class="w-full border-collapse text-[13px]" data-flips>
  <tbody>
    {#each rows as { width: at, what, places, condition, source, element }, i (i)}
      <tr
        class="border-b border-base-200 align-baseline {at === width || at === width + 1 ? 'bg-base-200' : ''}"
        data-flip={at}
      >
        <td class="num py-1 pr-2 pl-4 whitespace-nowrap">
          <a class="linkish" href={to(at - 1, path(element))} title="Open at {at - 1} px, one before"
            >{at - 1}</a
          >
          <span class="faint">|</span>
          <a class="linkish" href={to(at, path(element))} title="Open at {at} px, the first with it">{at}</a>
        </td>
        <td class="py-1 pr-4">
          {what}{places > 1 ? `, and ${places - 1} more like it` : ''}
          {#if condition || (source && source.line > 0)}
            <span class="code faint block text-[11.5px] break-words">
              {condition ?? ''}
              {#if source && source.line > 0}{`${source.selector} { ${source.property}: ${source.value} } ${source.sheet}:${source.line}`}{/if}
            </span>
          {/if}
        </td>
      </tr>
    {:else}
      <tr
        ><td class="faint px-4 py-2"
          >{result.flips.length > 0
            ? 'None of that sort.'
            : isWhole
              ? 'Nothing changes over these widths but sizes and places.'
              : 'No change is known to 1 px yet.'}</td
        ></tr
      >
    {/each}
  </tbody>
</table>
{#if isWhole && idle.length > 0}
  <h3 class="px-4 pt-4 pb-1 font-medium">Breakpoints at which nothing of the layout changes</h3>
  <ul class="code px-4 pb-2 text-[11.5px]">
    {#each idle as { width: at, text, file } (text + file + at)}<li>
        <span class="num">{at}</span>
        {text}, {file}
      </li>{/each}
  </ul>
{/if}
{#if isWhole && result.never.length > 0}
  <h3 class="px-4 pt-3 pb-1 font-medium">Conditions that hold at none of these widths</h3>
  <ul class="code px-4 pb-3 text-[11.5px]">
    {#each result.never as text (text)}<li>{text}</li>{/each}
  </ul>
{/if}
