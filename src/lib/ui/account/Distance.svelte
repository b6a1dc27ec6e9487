<!-- A pinned measurement explained: everything that lies between its two edges, as a sum. -->
<script lang="ts">
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import { labelOf, pathOf } from '$core/reading/labels.ts';
  import { relationWords, type Relation } from '$core/wishes/model.ts';
  import X from '@lucide/svelte/icons/x';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Sum from './sums/Sum.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();
  const made = $derived(bench.explained);

  /** The distance as a relation of the second box to the first; null: its edges are not those of borders. */
  const relation = $derived.by((): Extract<Relation, { is: 'distance' }> | null => {
    if (!made || !bench.reading || made.base !== 0) return null;
    const { from, to } = made;
    if (from.area !== 'border' || to.area !== 'border' || from.element === to.element) return null;
    const other = pathOf(bench.reading, from.element);
    const sides = {
      'right left': 'right',
      'left right': 'left',
      'bottom top': 'below',
      'top bottom': 'above',
    } as const;
    const side = sides[`${from.side} ${to.side}` as keyof typeof sides];
    return side ? { is: 'distance', side, bound: 'equal', px: 0, other } : null;
  });
  let wanted = $state('');

  async function ask() {
    if (!made || !relation) return;
    const { to } = made;
    bench.choose(to.element);
    await bench.chosen();
    const asked = { ...relation, px: Number(wanted) };
    await bench.wishes.ask(
      to.element,
      relationWords(asked, () => labelOf(bench.reading!, made.from.element)),
      asked,
    );
  }
</script>

{#if made}
  <section class="flex flex-col gap-1.5 border-b border-base-content px-4 py-3" data-distance>
    <div class="flex items-start gap-2">
      <h2 class="heading grow">
        Distance {made.account.axis === 'x' ? 'across' : 'down'}: {px(Math.abs(made.account.used))}
      </h2>
      <button class="cursor-pointer" aria-label="Close the explanation" onclick={() => bench.explain(null)}
        ><X size={13} /></button
      >
    </div>
    <p class="font-medium" data-distance-sentence>{made.account.sentence}</p>
    {#if relation}
      <form
        class="flex items-baseline gap-2 text-[13px]"
        onsubmit={(event) => {
          event.preventDefault();
          void ask();
        }}
      >
        <label class="heading" for="distance-should-be">Should be</label>
        <input
          id="distance-should-be"
          class="num w-16 border-b border-neutral bg-transparent"
          type="number"
          step="any"
          required
          bind:value={wanted}
        />
        <button class="btn btn-outline btn-xs">Ask</button>
      </form>
    {/if}
    <Sum
      {bench}
      account={made.account}
      owner={-2}
      base={made.base}
      total="from edge to edge"
      name="distance"
      {open}
    />
  </section>
{/if}
