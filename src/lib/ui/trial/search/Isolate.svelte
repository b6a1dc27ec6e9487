<!-- Finds the smallest set of elements, or of declarations, that a symptom needs; the path of the search can be followed. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import { isolate, type Step } from '$core/search/isolate.ts';
  import { meets, targetWords, type Quantity, type Target } from '$core/search/measured-quantity.ts';
  import type { Change } from '$core/trials/edit.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import type { Trials } from '../trials.svelte.ts';
  import Wanted from './TargetForm.svelte';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();

  interface Needed {
    words: string;
    element: number;
    remove: Change;
  }
  interface Outcome {
    needs: Needed[];
    /** The number as it is, and without what is needed, taken out and not only hidden. */
    with: number | null;
    without: number | null;
    /** Whether it is gone then. */
    helps: boolean;
    measured: number;
    among: number;
    what: string;
  }

  let quantity = $state.raw<Quantity | null>(null);
  let target = $state.raw<Target>({ is: 'at-most', value: 0 });
  let over = $state<'elements' | 'declarations'>('elements');
  let running = $state.raw<AbortController | null>(null);
  let steps = $state.raw<Step[]>([]);
  let outcome = $state.raw<Outcome | null>(null);
  let refusal = $state('');

  async function run() {
    if (!quantity) return;
    const wanted = quantity;
    const aim = target;
    const stop = new AbortController();
    running = stop;
    steps = [];
    outcome = null;
    refusal = '';
    let lab: Awaited<ReturnType<Bench['openLab']>> | null = null;
    try {
      const words = await bench.quantityWords(wanted);
      const now = await bench.look(wanted);
      if (now === null || meets(now, aim)) {
        refusal = `There is nothing to look for. ${words} ${targetWords(aim)} already${now === null ? '' : ` (${px(now)})`}.`;
        return;
      }
      lab = await bench.openLab();
      const open = lab;
      const isThere = (number: number | null) => number !== null && !meets(number, aim);
      const options = {
        signal: stop.signal,
        progress: (step: Step) => (steps = [...steps, step]),
      };
      const file = bench.input.page;
      if (over === 'declarations') {
        const all = await bench.mutes();
        const found = await isolate(all, {
          ...options,
          name: (one) => one.words,
          isThere: async (kept) => {
            const left = new Set(kept);
            const out = all.filter((item) => !left.has(item)).map(({ edit }) => edit);
            return isThere(await open.measure(wanted, out));
          },
        });
        const edits = found.needs.map(({ edit }) => edit);
        const without = await open.measure(wanted, edits);
        outcome = {
          needs: found.needs.map((need) => ({ words: need.words, element: -1, remove: need.edit.change })),
          with: now,
          without,
          helps: !isThere(without),
          measured: found.measured,
          among: all.length,
          what: words,
        };
        return;
      }
      // From the body down: at each level what is not needed is hidden before its children are looked at.
      let needs = await bench.childrenOf([-1]);
      let measured = 0;
      let among = 0;
      let hidden: number[] = [];
      let last: typeof needs = [];
      while (needs.length > 0) {
        among += needs.length;
        const level = needs;
        const kept = hidden;
        const found = await isolate(level, {
          ...options,
          name: (one) => one.label,
          isThere: async (left) => {
            const stays = new Set(left.map(({ element }) => element));
            const hide = [
              ...kept,
              ...level.filter(({ element }) => !stays.has(element)).map(({ element }) => element),
            ];
            return isThere(await open.measure(wanted, [], hide));
          },
        });
        measured += found.measured;
        if (!found.found || found.needs.length === 0) break;
        last = found.needs;
        const stays = new Set(last.map(({ element }) => element));
        hidden = [
          ...hidden,
          ...level.filter(({ element }) => !stays.has(element)).map(({ element }) => element),
        ];
        needs = await bench.childrenOf(last.map(({ element }) => element));
      }
      const without = last.length > 0 ? await open.without(wanted, last) : now;
      outcome = {
        needs: last.map(({ label, path, element }) => ({
          words: `${label} (${path})`,
          element,
          remove: { do: 'remove', file, path },
        })),
        with: now,
        without,
        helps: !isThere(without),
        measured,
        among,
        what: words,
      };
    } catch (error) {
      if (!stop.signal.aborted) wrong(error);
    } finally {
      lab?.close();
      running = null;
    }
  }
</script>

<div class="flex flex-col gap-2 text-[13px]" data-isolate>
  <form
    class="flex flex-wrap items-baseline gap-x-3 gap-y-1"
    onsubmit={(event) => {
      event.preventDefault();
      void run();
    }}
  >
    <label
      >Which <select
        class="cursor-pointer border-b border-neutral bg-base-100"
        bind:value={over}
        data-isolate-over
      >
        <option value="elements">elements</option><option value="declarations">declarations</option>
      </select></label
    >
    <span>must go, so that</span>
    <Wanted {bench} kinds={['at-most', 'at-least', 'equal', 'changes']} bind:quantity bind:target />
    {#if running}
      <button type="button" class="btn btn-outline btn-xs" onclick={() => running?.abort()}>Stop</button>
      <span class="faint num">{steps.length} measured</span>
    {:else}
      <button class="btn btn-primary btn-xs" data-isolate-run>Isolate</button>
    {/if}
  </form>
  {#if refusal}<p role="status">{refusal}</p>{/if}
  {#if outcome}
    <p class="text-[15px] font-medium" role="status" data-isolate-answer>
      {#if outcome.needs.length === 0}
        {over === 'elements' ? 'None of the elements' : 'None of the declarations'} is to blame: without all of them
        it stays.
      {:else}
        {outcome.what}: {outcome.with === null ? '–' : px(outcome.with)}
        with {outcome.needs.length === 1 ? 'this' : `these ${outcome.needs.length}`},
        {outcome.without === null ? 'no box' : px(outcome.without)} without.
      {/if}
    </p>
    <ul>
      {#each outcome.needs as need (need.words)}
        <li class="flex items-baseline gap-3">
          {#if need.element >= 0}<button
              class="linkish code min-w-0 text-left [overflow-wrap:anywhere]"
              onclick={() => {
                bench.choose(need.element);
                void bench.reveal(need.element);
              }}>{need.words}</button
            >{:else}<span class="code min-w-0 [overflow-wrap:anywhere]">{need.words}</span>{/if}
          <button class="linkish shrink-0" onclick={() => trials.make([need.remove])}>Try without it</button>
        </li>
      {/each}
    </ul>
    {#if outcome.needs.length > 0 && !outcome.helps}
      <p>
        Hidden, {outcome.needs.length === 1 ? 'it takes' : 'they take'} it away; taken out of the document it stays,
        because other rules match what is left then.
      </p>
    {/if}
    <p class="faint">{outcome.measured} measurements among {outcome.among} {over}.</p>
  {/if}
  {#if steps.length}
    <details>
      <summary class="cursor-pointer">Path of the search</summary>
      <ol class="max-h-48 overflow-auto">
        {#each steps as { kept, there, some }, i (i)}<li class="num">
            {i + 1}. {kept} left in{some.length
              ? ` (${some.join(', ')}${kept > some.length ? ' …' : ''})`
              : ''}:
            {there ? 'it is there' : 'it is gone'}
          </li>{/each}
      </ol>
    </details>
  {/if}
</div>
