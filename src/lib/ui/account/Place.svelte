<!-- Where a declaration stands: pointing at it lights every box its selector affects, a click opens the source. -->
<script lang="ts">
  import { placeOf } from '$core/accounts/sizing/declared.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';

  let { bench, source, open }: { bench: Bench; source: Source; open: (source: Source) => void } = $props();

  let count = $state<number | null>(null);
  const file = $derived(source.sheet.split('/').pop() ?? '');
  /** In a minified sheet the line says nothing without the column. */
  const column = $derived(source.column > 200 ? `:${source.column}` : '');
  const where = $derived(source.line > 0 ? `${file}:${source.line}${column}` : `${file}, by script`);

  async function light() {
    await bench.light(source);
    count = bench.lit.length;
  }
  function dark() {
    count = null;
    bench.show([]);
  }
</script>

{#if source.origin === 'browser'}
  <span class="faint text-[12px]">browser default</span>
{:else}
  <button
    class="linkish code inline-flex max-w-full flex-wrap items-baseline gap-x-1.5"
    title="{source.selector} in {placeOf(source)}"
    onpointerenter={light}
    onpointerleave={dark}
    onfocus={light}
    onblur={dark}
    onclick={() => open(source)}
    data-source="{source.sheet}:{source.line}"
  >
    <span class="[overflow-wrap:anywhere]"
      >{source.origin === 'inline' ? 'style attribute' : source.selector}</span
    >
    <span class="faint [overflow-wrap:anywhere]">{where}</span>
    {#if count !== null && source.origin === 'author'}<span class="shrink-0 text-secondary" data-reach
        >{count} {count === 1 ? 'box' : 'boxes'}</span
      >{/if}
  </button>
{/if}
