<!-- Small drawings of the page, one for each stretch of widths within which its layout has one shape. -->
<script lang="ts">
  import type { Drawing as Drawn } from '$core/reports/drawing.ts';
  import { along } from '../bench/width/scale.ts';
  import Drawing from '../drawing/Drawing.svelte';
  import type { Sweep } from './sweeps.svelte.ts';
  import type { Swept } from './sweeper.worker.ts';

  let {
    sweep,
    result,
    width,
    choose,
  }: { sweep: Sweep; result: Swept; width: number; choose: (width: number) => void } = $props();

  const SIZE = 84;
  const GAP = 6;
  let length = $state(800);
  let drawings = $state.raw<Map<number, Drawn>>(new Map());

  /** The longest stretches that can stand beside each other, each as near to its own widths as the others let it. */
  const shown = $derived.by(() => {
    const most = Math.max(1, Math.floor((length - 40) / (SIZE + GAP)));
    const longest = [...result.stretches].sort((a, b) => b.to - b.from - (a.to - a.from)).slice(0, most);
    const list = longest
      .sort((a, b) => a.from - b.from)
      .map((stretch) => {
        const middle = (stretch.from + stretch.to) / 2;
        const at = result.widths
          .filter((one) => one >= stretch.from && one <= stretch.to)
          .reduce((a, b) => (Math.abs(b - middle) < Math.abs(a - middle) ? b : a), stretch.from);
        return { ...stretch, at, x: along(middle, length) - SIZE / 2 };
      });
    list.forEach((one, i) => (one.x = Math.max(one.x, i === 0 ? 4 : list[i - 1]!.x + SIZE + GAP)));
    for (let i = list.length - 1; i >= 0; i--)
      list[i]!.x = Math.min(
        list[i]!.x,
        (list[i + 1]?.x ?? length - 4) - SIZE - (i === list.length - 1 ? 0 : GAP),
      );
    return list;
  });
  $effect(() => {
    const wanted = shown.map(({ at }) => at).filter((at) => !drawings.has(at));
    if (wanted.length === 0) return;
    void Promise.all(wanted.map(async (at) => [at, await sweep.drawing(at)] as const)).then((made) => {
      drawings = new Map([...drawings, ...made.flatMap(([at, one]) => (one ? [[at, one] as const] : []))]);
    });
  });
</script>

<div class="relative h-[112px]" bind:clientWidth={length} data-strip>
  <svg width={length} height="18" class="absolute bottom-0 block" aria-hidden="true">
    {#each shown as { from, to, x } (from)}
      <path
        d="M{along(from, length) + 1} 17.5H{along(to, length) - 1}"
        stroke="currentColor"
        stroke-width="1.4"
      />
      <path
        d="M{x + SIZE / 2} 0L{along((from + to) / 2, length)} 16"
        stroke="currentColor"
        stroke-opacity="0.5"
        stroke-width="0.8"
      />
    {/each}
  </svg>
  {#each shown as { from, to, at, x } (from)}
    {@const isHere = width >= from && width <= to}
    <button
      class="absolute top-1.5 cursor-pointer text-left"
      style="left:{x}px;width:{SIZE}px"
      title="{from}–{to} px: drawn at {at}"
      onclick={() => choose(at)}
    >
      <span
        class="block h-[70px] overflow-hidden border {isHere ? 'border-accent border-2' : 'border-base-300'}"
      >
        <Drawing drawing={drawings.get(at) ?? null} label="The page at {at} px" />
      </span>
      <span class="num block text-center text-[11px] {isHere ? 'text-accent' : 'faint'}">{from}–{to}</span>
    </button>
  {/each}
</div>
