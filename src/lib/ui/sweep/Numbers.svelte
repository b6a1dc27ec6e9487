<!-- How numbers of the page run over the widths: every point was measured. -->
<script lang="ts">
  import type { Point } from '$core/search/seek.ts';
  import type { Quantity } from '$core/search/measured-quantity.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import Course from './Course.svelte';
  import type { Sweep } from './sweeps.svelte.ts';
  import type { Swept } from './sweeper.worker.ts';

  let {
    sweep,
    result,
    pick,
    width,
    name,
  }: { sweep: Sweep; result: Swept; pick: string; width: number; name: string } = $props();

  interface Line {
    id: string;
    quantity: Quantity;
    words: string;
    points: Point[];
  }

  const OF = {
    overflow: 'sideways scroll of the page',
    tall: 'height of the page',
    width: 'width of',
    height: 'height of',
    lines: 'lines of',
  } as const;
  type Of = keyof typeof OF;
  let of = $state<Of>('width');
  let selector = $state('');
  let wanted = $state.raw<Quantity[]>([{ of: 'overflow', axis: 'x' }]);
  let lines = $state.raw<Line[]>([]);
  const needsBox = $derived(of === 'width' || of === 'height' || of === 'lines');

  // svelte-ignore state_referenced_locally
  if (pick) wanted = [{ of: 'size', path: pick, axis: 'x' }, ...wanted];

  $effect(() => {
    void result;
    const list = wanted;
    Promise.all(
      list.map(async (quantity) => ({
        id: JSON.stringify(quantity),
        quantity,
        ...(await sweep.numbers(quantity)),
      })),
    ).then((made) => {
      if (list === wanted) lines = made;
    }, wrong);
  });

  function quantityOf(path: string): Quantity {
    if (of === 'overflow') return { of: 'overflow', axis: 'x' };
    if (of === 'tall') return { of: 'page', axis: 'y' };
    if (of === 'lines') return { of: 'lines', path };
    return { of: 'size', path, axis: of === 'width' ? 'x' : 'y' };
  }

  async function add() {
    try {
      const path = needsBox ? await sweep.find(selector) : '';
      if (path === null) return wrong(`Nothing on the page matches ${selector}. Check the selector.`);
      const quantity = quantityOf(path);
      if (!wanted.some((item) => JSON.stringify(item) === JSON.stringify(quantity)))
        wanted = [...wanted, quantity];
      selector = '';
    } catch {
      wrong(`${selector} is not a selector. Write one as in a style sheet.`);
    }
  }

  /** The numbers as comma-separated values (RFC 4180), one row for each width. */
  function table(): string {
    const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
    const head = ['viewport width', ...lines.map(({ words }) => words)].map(cell).join(',');
    const rows = result.widths.map((at, i) =>
      [at, ...lines.map(({ points }) => points[i]?.number ?? '')].join(','),
    );
    return [head, ...rows].join('\r\n') + '\r\n';
  }

  function save() {
    const url = URL.createObjectURL(new Blob([table()], { type: 'text/csv' }));
    const link = document.createElement('a');
    link.href = url;
    link.download = `${name}-widths.csv`;
    link.click();
    URL.revokeObjectURL(url);
  }
</script>

<div class="flex items-baseline gap-4 px-4 pt-3 pb-1">
  <h2 class="font-medium">Numbers over the widths</h2>
  <span class="grow"></span>
  <button class="linkish text-[12px]" onclick={save} disabled={lines.length === 0}>Save as CSV</button>
</div>
<form
  class="flex items-center gap-2 px-4 pb-1"
  onsubmit={(event) => {
    event.preventDefault();
    void add();
  }}
>
  <select class="border-b border-neutral bg-base-100" bind:value={of} aria-label="Number">
    {#each Object.entries(OF) as [key, words] (key)}<option value={key}>{words}</option>{/each}
  </select>
  <input
    class="code min-w-0 grow border-b border-neutral bg-transparent disabled:opacity-40"
    placeholder={needsBox ? 'CSS selector' : ''}
    aria-label="Selector of the box"
    bind:value={selector}
    disabled={!needsBox}
  />
  <button class="btn btn-outline btn-xs" disabled={needsBox && selector.trim() === ''}>Add</button>
</form>
<ul class="flex flex-wrap gap-x-4 px-4 text-[12px]">
  {#each lines as { id, words, points }, i (id)}
    {@const here = points.findLast(({ value }) => value <= width)}
    <li class="flex items-baseline gap-1.5">
      <svg width="18" height="6" aria-hidden="true"
        ><path
          d="M0 3h18"
          stroke="var(--color-{['base-content', 'secondary', 'accent', 'info'][i % 4]})"
          stroke-width="1.6"
          stroke-dasharray={['', '5 3', '2 2', '8 2 2 2'][i % 4]}
        /></svg
      >
      {words}
      <span class="num faint"
        >{here?.number == null ? '' : `${Math.round(here.number * 100) / 100} at ${here.value}`}</span
      >
      <button
        class="linkish"
        aria-label="Take {words} out"
        onclick={() => (wanted = wanted.filter((item) => JSON.stringify(item) !== id))}>×</button
      >
    </li>
  {/each}
</ul>
<Course
  {lines}
  flips={[...new Set(result.flips.map((flip) => flip.width))]}
  breakpoints={result.breakpoints.map((breakpoint) => breakpoint.width)}
/>
