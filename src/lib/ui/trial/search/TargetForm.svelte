<!-- A number of the page and what it must be: the target of a seek, or what must go for a symptom to be gone. -->
<script lang="ts">
  import type { Quantity, Target } from '$core/search/measured-quantity.ts';
  import { pathOf } from '$core/reading/labels.ts';
  import { px } from '$core/geometry/rect.ts';
  import { untrack } from 'svelte';
  import { askedOf } from '../../bench/state/asking.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';

  let {
    bench,
    kinds,
    quantity = $bindable(),
    target = $bindable(),
  }: {
    bench: Bench;
    /** What it may have to be; none where only the number is asked for. */
    kinds: Target['is'][];
    quantity: Quantity | null;
    target: Target;
  } = $props();

  const IS_WORDS: Record<Target['is'], string> = {
    equal: 'is',
    'at-most': 'is at most',
    'at-least': 'is at least',
    changes: 'changes',
  };

  const path = $derived(bench.reading && bench.pick >= 0 ? pathOf(bench.reading, bench.pick) : null);
  const pinned = $derived(bench.pinned.at(-1) ?? null);
  const asked = $derived(askedOf(bench));
  const options = $derived.by(() => {
    const list: { words: string; quantity: Quantity }[] = [
      ...(asked ? [{ words: `number of ${asked.words}`, quantity: asked.quantity }] : []),
      { words: 'sideways scroll of the page', quantity: { of: 'overflow', axis: 'x' } },
      { words: 'height of the page', quantity: { of: 'page', axis: 'y' } },
    ];
    if (path && bench.account) {
      const { label } = bench.account;
      list.push(
        { words: `lines of ${label}`, quantity: { of: 'lines', path } },
        { words: `width of ${label}`, quantity: { of: 'size', path, axis: 'x' } },
        { words: `height of ${label}`, quantity: { of: 'size', path, axis: 'y' } },
        { words: `width less height of ${label}`, quantity: { of: 'squareness', path } },
      );
    }
    if (pinned && bench.reading) {
      const end = ({ element, side }: typeof pinned.from) => ({ path: pathOf(bench.reading!, element), side });
      list.push({
        words: 'the distance measured last',
        quantity: { of: 'distance', a: end(pinned.from), b: end(pinned.to) },
      });
    }
    return list;
  });
  let chosen = $state(0);
  // Another finding is another question; who has changed the fields meanwhile asks about the one before no more.
  const askedKey = $derived(asked?.key ?? '');
  $effect(() => {
    void askedKey;
    untrack(() => {
      chosen = 0;
      if (asked && kinds.includes(asked.target.is)) target = asked.target;
    });
  });
  let now = $state<number | null>(null);
  $effect(() => {
    const option = options[Math.min(chosen, options.length - 1)]!;
    quantity = option.quantity;
    if (bench.status === 'ready')
      bench.look(option.quantity).then(
        (number) => {
          now = number;
          if (target.is === 'changes' && number !== null) target = { ...target, value: number };
        },
        () => (now = null),
      );
  });
</script>

<span class="flex flex-wrap items-baseline gap-x-2 gap-y-1">
  <select
    class="max-w-72 cursor-pointer border-b border-neutral bg-base-100"
    bind:value={chosen}
    aria-label="Number"
    data-quantity
  >
    {#each options as { words }, i (words)}<option value={i}>{words}</option>{/each}
  </select>
  {#if kinds.length}<select
      class="cursor-pointer border-b border-neutral bg-base-100"
      value={target.is}
      onchange={(event) => {
        const is = event.currentTarget.value as Target['is'];
        target = { is, value: is === 'changes' ? (now ?? 0) : target.value };
      }}
      aria-label="What it must be"
      data-target
    >
      {#each kinds as is (is)}<option value={is}>{IS_WORDS[is]}</option>{/each}
    </select>{/if}
  {#if kinds.length && target.is !== 'changes'}
    <input
      class="num w-20 border-b border-neutral bg-transparent text-right"
      type="number"
      step="any"
      value={target.value}
      onchange={(event) => (target = { ...target, value: Number(event.currentTarget.value) || 0 })}
      aria-label="Value"
      data-target-value
    />
  {/if}
  <span class="faint">now {now === null ? '–' : px(now)}</span>
</span>
