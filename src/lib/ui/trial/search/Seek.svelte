<!-- Finds the value of a declaration at which something happens; every point of its chart was measured. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import { metRuns, seek, type Point, type Sought } from '$core/search/seek.ts';
  import { meets, offTarget, targetWords, type Quantity, type Target } from '$core/search/measured-quantity.ts';
  import { editSchema } from '$core/trials/edit.ts';
  import { byDeclaration } from '../../account/alike.ts';
  import { askedOf } from '../../bench/state/asking.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import Chart from './Chart.svelte';
  import type { Trials } from '../trials.svelte.ts';

  import Wanted from './TargetForm.svelte';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();

  const UNITS = ['px', 'rem', 'em', '%', 'vw', ''];
  const isNumber = ({ origin, value }: Source) => origin !== 'browser' && /\d/.test(value);
  const placeOf = ({ sheet, line, column, property }: Source) => `${sheet}:${line}:${column}:${property}`;
  const asked = $derived(askedOf(bench));
  /** Those of the pick, and before them the one that the picked finding is traced to. */
  const declarations = $derived.by(() => {
    const own = byDeclaration(bench.properties).filter(({ source }) => isNumber(source));
    const culprit = asked?.culprit;
    if (!culprit || !isNumber(culprit)) return own;
    const key = placeOf(culprit);
    const first = own.find((declaration) => declaration.key === key) ?? {
      key,
      source: culprit,
      important: false,
      accounts: [],
    };
    return [first, ...own.filter((declaration) => declaration.key !== key)];
  });
  const askedKey = $derived(`${asked?.key} ${asked?.culprit ? placeOf(asked.culprit) : ''}`);
  $effect(() => {
    void askedKey;
    chosen = '';
  });
  let chosen = $state('');
  const declaration = $derived(declarations.find(({ key }) => key === chosen) ?? declarations[0] ?? null);

  let from = $state(0);
  let to = $state(100);
  let step = $state(1);
  let unit = $state('px');
  /** A range around the number that stands there, in the author's own unit; another reading of the same leaves what was typed. */
  const standing = $derived(`${declaration?.key ?? ''}\n${declaration?.source.value ?? ''}`);
  $effect(() => {
    const match = /\n(-?[\d.]+)([a-z%]*)/i.exec(standing);
    if (!match) return;
    const number = Number(match[1]);
    const own = UNITS.includes(match[2]!.toLowerCase()) ? match[2]!.toLowerCase() : 'px';
    const fine = own === 'px' || own === '%' || own === 'vw' ? 1 : 0.05;
    unit = own;
    step = fine;
    from = Math.min(0, Math.floor(number * 2));
    to = Math.max(fine * 20, Math.ceil(number * 2));
  });

  let quantity = $state.raw<Quantity | null>(null);
  let target = $state.raw<Target>({ is: 'changes', value: 0 });
  let points = $state.raw<Point[]>([]);
  let sought = $state.raw<Sought | null>(null);
  let posed = $state.raw<{
    words: string;
    target: Target;
    source: Source;
    unit: string;
    important: boolean;
  } | null>(null);
  let running = $state.raw<AbortController | null>(null);

  const valueOf = (number: number, of: string) => `${number}${of}`;

  async function run() {
    if (!declaration || !quantity) return;
    const { source, important } = declaration;
    const found = await bench.target(source);
    if (!found)
      return wrong('This declaration does not stand in the specimen’s files, so no other value can be tried.');
    const stop = new AbortController();
    const wanted = quantity;
    const aim = target;
    const own = unit;
    running = stop;
    points = [];
    sought = null;
    posed = { words: await bench.quantityWords(wanted), target: aim, source, unit: own, important };
    let lab: Awaited<ReturnType<Bench['openLab']>> | null = null;
    try {
      lab = await bench.openLab();
      const open = lab;
      sought = await seek(
        (value) =>
          open.measure(wanted, [
            editSchema.parse({
              id: 'seek',
              change: {
                do: 'change',
                ...found,
                was: source.value,
                property: source.property,
                value: valueOf(value, own),
                important,
              },
            }),
          ]),
        {
          from,
          to,
          step,
          meets: (number) => meets(number, aim),
          ...(aim.is === 'changes' ? {} : { off: (number: number) => offTarget(number, aim) }),
          signal: stop.signal,
          progress: (point) => (points = [...points, point].sort((a, b) => a.value - b.value)),
        },
      );
      points = sought.points;
    } catch (error) {
      if (!stop.signal.aborted) wrong(error);
    } finally {
      lab?.close();
      running = null;
    }
  }

  const value = (number: number) => valueOf(number, posed?.unit ?? '');
  const runs = $derived(sought && posed ? metRuns(sought, (number) => meets(number, posed!.target)) : []);
  const answer = $derived.by(() => {
    if (!sought || !posed) return '';
    const words = `${posed.words} ${targetWords(posed.target)}`;
    const { property } = posed.source;
    const { nearest } = sought;
    if (runs.length === 0) {
      const near = nearest
        ? ` The nearest is ${value(nearest.value)}, where it is ${px(nearest.number ?? 0)}.`
        : '';
      const between = sought.passed.map((item) => `${value(item.from)} and ${value(item.to)}`);
      return between.length > 0
        ? `No value of ${property} in these steps meets it, but it is passed between ${between.join(', and between ')}: smaller steps may meet it.${near}`
        : `There is no such value of ${property} in this range.${near}`;
    }
    const list = runs.map((run) =>
      run.from === run.to ? `at ${value(run.from)}` : `from ${value(run.from)} to ${value(run.to)}`,
    );
    return `${words} with ${property} ${list.join(' and ')}.`;
  });
  /** The value nearest to what stands there now at which the target is met. */
  const best = $derived.by(() => {
    const now = Number.parseFloat(posed?.source.value ?? '');
    const ends = runs.flatMap((run) => [run.from, run.to]);
    if (ends.length === 0) return null;
    return ends.reduce((near, one) => (Math.abs(one - now) < Math.abs(near - now) ? one : near));
  });
</script>

<div class="flex flex-col gap-2 text-[13px]" data-seek>
  {#if declarations.length === 0}
    <p class="max-w-[70ch]">
      Pick a box that declares a number: at which value of it something happens is found here, such as where its
      text begins to wrap, two edges meet, or the page no longer scrolls sideways.
    </p>
  {:else}
    <form
      class="flex flex-wrap items-baseline gap-x-3 gap-y-1"
      onsubmit={(event) => {
        event.preventDefault();
        void run();
      }}
    >
      <label
        >At which
        <select
          class="code max-w-64 cursor-pointer border-b border-neutral bg-base-100"
          value={declaration?.key}
          onchange={(event) => (chosen = event.currentTarget.value)}
          data-seek-declaration
        >
          {#each declarations as { key, source } (key)}<option value={key}
              >{source.property}: {source.value}</option
            >{/each}
        </select></label
      >
      <span class="flex items-baseline gap-1"
        >from <input
          class="num w-16 border-b border-neutral bg-transparent text-right"
          type="number"
          step="any"
          bind:value={from}
          aria-label="From"
        />
        to
        <input
          class="num w-16 border-b border-neutral bg-transparent text-right"
          type="number"
          step="any"
          bind:value={to}
          aria-label="To"
          data-seek-to
        />
        <select
          class="code cursor-pointer border-b border-neutral bg-base-100"
          bind:value={unit}
          aria-label="Unit"
        >
          {#each UNITS as item (item)}<option value={item}>{item || 'number'}</option>{/each}
        </select>
        in steps of
        <input
          class="num w-14 border-b border-neutral bg-transparent text-right"
          type="number"
          step="any"
          min="0"
          bind:value={step}
          aria-label="Step"
        /></span
      >
      <Wanted {bench} kinds={['changes', 'equal', 'at-most', 'at-least']} bind:quantity bind:target />
      {#if running}
        <button type="button" class="btn btn-outline btn-xs" onclick={() => running?.abort()}>Stop</button>
        <span class="faint num">{points.length} measured</span>
      {:else}
        <button class="btn btn-primary btn-xs" data-seek-run>Seek</button>
      {/if}
    </form>
    {#if answer}
      <p class="text-[15px] font-medium" role="status" data-seek-answer>{answer}</p>
      {#if best !== null && posed}
        <p>
          <button
            class="linkish"
            onclick={() => trials.set(posed!.source, valueOf(best, posed!.unit), posed!.important)}
            >Try {posed.source.property}: {valueOf(best, posed.unit)}</button
          ><span class="faint ml-3">{sought!.measured} measurements</span>
        </p>
      {/if}
    {/if}
    {#if points.length > 1 && posed}
      <Chart
        {points}
        flips={sought?.flips.map(({ to: at }) => at) ?? []}
        across={`${posed.source.property} (${posed.unit || 'number'})`}
        up={posed.words}
      />
    {/if}
  {/if}
</div>
