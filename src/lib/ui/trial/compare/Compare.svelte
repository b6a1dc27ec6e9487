<!-- Up to four trials side by side: a number under each, and what else each of them moves, at the width at hand and at common ones; over the page, where each puts its boxes. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { Quantity, Target } from '$core/search/measured-quantity.ts';
  import type { Compared } from '../../bench/analyst/beside.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import type { Trial, Trials } from '../trials.svelte.ts';
  import Wanted from '../search/TargetForm.svelte';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();

  const COMMON = [360, 768, 1280];
  let chosen = $state.raw<string[]>([]);
  let quantity = $state.raw<Quantity | null>(null);
  let target = $state.raw<Target>({ is: 'at-most', value: 0 });
  let running = $state.raw<AbortController | null>(null);
  let rows = $state.raw<{ trial: Trial; width: number; made: Compared }[]>([]);
  let words = $state('');

  const list = $derived(trials.all.filter((item) => item.edits.length > 0));
  const widths = $derived([...new Set([bench.width, ...COMMON])].sort((a, b) => a - b));
  const toggle = (id: string) =>
    (chosen = chosen.includes(id) ? chosen.filter((item) => item !== id) : [...chosen, id].slice(-4));

  async function run() {
    if (!quantity) return;
    const stop = new AbortController();
    const wanted = quantity;
    running = stop;
    rows = [];
    try {
      words = await bench.quantityWords(wanted);
      const picked = list.filter(({ id }) => chosen.includes(id));
      for (const width of [bench.width, ...widths.filter((width) => width !== bench.width)])
        for (const trial of picked) {
          if (stop.signal.aborted) return;
          const made = await bench.compareAt(
            trial.edits.filter(({ on }) => on),
            width,
            wanted,
          );
          rows = [...rows, { trial, width, made }];
        }
    } catch (error) {
      if (!stop.signal.aborted) wrong(error);
    } finally {
      running = null;
    }
  }
  const total = $derived(chosen.length * widths.length);
  const shown = (number: number | null) => (number === null ? 'no box' : px(number));

  /** Told apart by letter and line, over the page as in the table. */
  const LETTERS = ['A', 'B', 'C', 'D'];
  const DASHES = ['none', '7 3', '2 3', '9 3 2 3'];
  const compared = $derived([...new Set(rows.map(({ trial }) => trial))]);
  /** The width at hand first: it is what is seen. */
  const groups = $derived(
    [...new Set(rows.map(({ width }) => width))].map((width) => ({
      width,
      rows: rows.filter((row) => row.width === width),
    })),
  );
  /** Whether a trial still is what was measured. */
  const isAsMeasured = (trial: Trial) => list.some(({ id, edits }) => id === trial.id && edits === trial.edits);
  $effect(() => {
    bench.outlines = rows
      .filter(({ width, trial }) => width === bench.width && isAsMeasured(trial))
      .map(({ trial, made }) => {
        const at = compared.indexOf(trial);
        return { letter: LETTERS[at]!, dash: DASHES[at]!, rects: made.outlines };
      });
    return () => (bench.outlines = []);
  });
</script>

<div class="flex flex-col gap-2 text-[13px]" data-compare>
  {#if list.length < 2}
    <p class="max-w-[70ch]">
      With two trials or more that hold edits, they are weighed here against each other: what each does to a
      number of the page, and what else it moves. Fork the trial at hand to try another way.
    </p>
  {:else}
    <form
      class="flex flex-wrap items-baseline gap-x-4 gap-y-1"
      onsubmit={(event) => {
        event.preventDefault();
        void run();
      }}
    >
      {#each list as trial (trial.id)}
        <label class="flex cursor-pointer items-baseline gap-1"
          ><input
            type="checkbox"
            class="translate-y-0.5 accent-current"
            checked={chosen.includes(trial.id)}
            onchange={() => toggle(trial.id)}
          />{trial.name}</label
        >
      {/each}
      <span>by the</span>
      <Wanted {bench} kinds={[]} bind:quantity bind:target />
      {#if running}
        <button type="button" class="btn btn-outline btn-xs" onclick={() => running?.abort()}>Stop</button>
        <span class="faint num">{rows.length} of {total}</span>
      {:else}
        <button class="btn btn-primary btn-xs" disabled={chosen.length === 0} data-compare-run>Compare</button>
      {/if}
    </form>
    {#if rows.length}
      <table class="w-full" data-compared>
        <thead>
          <tr class="border-b border-base-content text-left">
            <th class="py-0.5 pr-3 font-medium">Trial</th>
            <th class="pr-3 text-right font-medium">{words}</th>
            <th class="pr-3 text-right font-medium">without it</th>
            <th class="pr-3 text-right font-medium">moved</th>
            <th class="pr-3 text-right font-medium">resized</th>
            <th class="pr-3 text-right font-medium">largest</th>
            <th class="text-right font-medium">reaches</th>
          </tr>
        </thead>
        {#each groups as group (group.width)}
          <tbody>
            <tr class="border-b border-base-300">
              <th scope="rowgroup" colspan="7" class="num pt-2 text-left font-medium"
                >{group.width} px wide{#if group.width === bench.width}<span class="faint font-normal"
                    >, outlined over the page</span
                  >{/if}</th
              >
            </tr>
            {#each group.rows as { trial, made } (trial.id)}
              {@const at = compared.indexOf(trial)}
              <tr class="border-b border-base-300" data-compared-row={group.width}>
                <td class="py-0.5 pr-3 whitespace-nowrap">
                  <svg width="22" height="8" class="mr-1 inline" aria-hidden="true"
                    ><path
                      d="M0 4H22"
                      stroke="currentColor"
                      stroke-width="1.5"
                      stroke-dasharray={DASHES[at]}
                    /></svg
                  ><span class="mr-1.5 font-medium">{LETTERS[at]}</span><button
                    class="linkish"
                    title="Lay this one over the page"
                    onclick={() => trials.choose(trial)}>{trial.name}</button
                  >{#if !isAsMeasured(trial)}<span class="faint"> edited since</span>{/if}</td
                >
                <td class="num pr-3 text-right">{shown(made.number)}</td>
                <td class="num pr-3 text-right">{shown(made.plain)}</td>
                <td class="num pr-3 text-right">{made.counts.moved}</td>
                <td class="num pr-3 text-right">{made.counts.resized + made.counts.wrapped}</td>
                <td class="num pr-3 text-right">{px(made.largest)}</td>
                <td class="num text-right">{made.reach}</td>
              </tr>
            {/each}
          </tbody>
        {/each}
      </table>
    {/if}
  {/if}
</div>
