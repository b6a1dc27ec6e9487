<!-- What the trial moved, the largest first; what only went along is folded under what it went along with. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Difference } from '$core/compare/reading-diff.ts';
  import type { Reason } from '$core/compare/explained-change.ts';
  import Against from './Against.svelte';
  import Why from './Why.svelte';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import type { Trials } from '../trials.svelte.ts';

  let { bench, trials, open }: { bench: Bench; trials: Trials; open: (source: Source) => void } = $props();

  const moved = $derived(bench.moved);
  const tops = $derived(
    (moved?.list ?? []).map((one, index) => ({ one, index })).filter(({ one }) => one.under < 0),
  );
  const along = $derived((index: number) => (moved?.list ?? []).filter((item) => item.under === index));
  let unfolded = $state<number[]>([]);
  const signed = (value: number) => `${value > 0 ? '+' : ''}${px(value)}`;

  function words({ what, dx, dy, dw, dh, lines }: Difference): string {
    const parts: string[] = [];
    if (what === 'appeared') return `appeared, ${px(dw)} × ${px(dh)}`;
    if (what === 'vanished') return `is gone, ${px(-dw)} × ${px(-dh)}`;
    if (Math.abs(dw) > 0.05) parts.push(`${signed(dw)} wide`);
    if (Math.abs(dh) > 0.05) parts.push(`${signed(dh)} tall`);
    if (lines[0] !== lines[1]) parts.push(`${lines[0]} → ${lines[1]} ${lines[1] === 1 ? 'line' : 'lines'}`);
    if (Math.abs(dx) > 0.05) parts.push(`${px(Math.abs(dx))} to the ${dx > 0 ? 'right' : 'left'}`);
    if (Math.abs(dy) > 0.05) parts.push(`${px(Math.abs(dy))} ${dy > 0 ? 'down' : 'up'}`);
    return parts.join(', ');
  }

  let why = $state.raw<{ index: number; reason: Reason | null } | null>(null);
  $effect(() => {
    void bench.moved;
    why = null;
  });
  async function ask(index: number) {
    if (why?.index === index) why = null;
    else why = { index, reason: await bench.why(index) };
  }
  let wrongs = $state.raw<{ gone: string[]; fresh: string[] } | null>(null);
  $effect(() => {
    const asked = bench.moved;
    wrongs = null;
    if (!asked || bench.finder.found === null) return;
    void bench.findingsMoved().then((found) => {
      if (asked === bench.moved) wrongs = found;
    });
  });
  const indexOf = $derived(new Map((moved?.list ?? []).map((one, index) => [one, index])));
</script>

{#snippet row(one: Difference)}
  {@const index = indexOf.get(one) ?? -1}
  <button
    class="linkish code shrink-0"
    disabled={one.after < 0}
    onclick={() => {
      bench.choose(one.after);
      void bench.reveal(one.after);
    }}
    onpointerenter={() => bench.show(one.after >= 0 ? [one.after] : [])}
    onpointerleave={() => bench.show([])}>{one.label}</button
  >
  <span>{words(one)}</span>
  {#if one.what !== 'appeared' && one.what !== 'vanished'}
    <button class="linkish faint" aria-expanded={why?.index === index} onclick={() => ask(index)} data-why
      >why</button
    >
  {/if}
  {#if why?.index === index}<Why {bench} reason={why.reason} {open} />{/if}
{/snippet}

<div class="flex flex-col gap-2 text-[13px]" data-moved>
  <Against {bench} {trials} />
  {#if bench.against.kind === 'plain' && (!trials.current || trials.edits.length === 0)}
    <p class="max-w-[70ch]">
      With an edit laid over the page, every box that it moves is listed here. Held against another trial, an
      earlier revision of the files or another width, what is different from that.
    </p>
  {:else if !moved}
    <p class="faint">measuring …</p>
  {:else if moved.list.length === 0}
    <p>Nothing moved: every box is where and as large as it is there.</p>
  {:else}
    {@const { counts, extents, largest } = moved}
    <p data-moved-sum>
      {counts.resized} resized, {counts.moved} moved, {counts.wrapped} wrapped otherwise, {counts.appeared} appeared,
      {counts.vanished} gone; the largest change is {px(largest)} px. The page is
      {extents.before[0] === extents.after[0] && extents.before[1] === extents.after[1]
        ? `still ${px(extents.after[0])} × ${px(extents.after[1])}`
        : `${px(extents.after[0])} × ${px(extents.after[1])}, it was ${px(extents.before[0])} × ${px(extents.before[1])}`}.
    </p>
    {#if wrongs && wrongs.gone.length + wrongs.fresh.length > 0}
      <ul data-findings-moved>
        {#each wrongs.gone as what (what)}<li>
            <span class="text-success">No longer wrong:</span>
            {what}.
          </li>{/each}
        {#each wrongs.fresh as what (what)}<li><span class="text-error">Newly wrong:</span> {what}.</li>{/each}
      </ul>
    {/if}
    <ul>
      {#each tops.slice(0, 200) as { one, index } (index)}
        {@const followers = along(index)}
        <li class="border-b border-base-300 py-0.5">
          <div class="flex flex-wrap items-baseline gap-x-2">
            {@render row(one)}
            {#if followers.length}
              <button
                class="linkish faint"
                aria-expanded={unfolded.includes(index)}
                onclick={() =>
                  (unfolded = unfolded.includes(index)
                    ? unfolded.filter((at) => at !== index)
                    : [...unfolded, index])}>{followers.length} went along</button
              >
            {/if}
          </div>
          {#if unfolded.includes(index)}
            <ul class="border-l-2 border-base-300 pl-3">
              {#each followers.slice(0, 200) as follower (indexOf.get(follower))}<li
                  class="flex flex-wrap gap-x-2"
                >
                  {@render row(follower)}
                </li>{/each}
            </ul>
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
</div>
