<!-- What the pick lies in and what lies in it, with sizes: layout reasons run along these. -->
<script lang="ts">
  import type { BoxAccount, Relative } from '$core/accounts/box.ts';
  import { px } from '$core/geometry/rect.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import VirtualList from '../VirtualList.svelte';

  let { bench, box }: { bench: Bench; box: BoxAccount } = $props();

  const ROW = 21;
  const above = $derived([...box.ancestors].reverse());
</script>

{#snippet one(relative: Relative, indent: number)}
  <button
    class="flex w-full cursor-pointer items-baseline gap-2 text-left text-[13px] hover:bg-base-200"
    style="padding-left:{Math.min(indent, 10) * 9}px;height:{ROW}px"
    onclick={() => bench.choose(relative.element)}
    onpointerenter={() => bench.hover(relative.element)}
    onpointerleave={() => bench.hover(-1)}
    onfocus={() => bench.hover(relative.element)}
    onblur={() => bench.hover(-1)}
    data-relative={relative.element}
  >
    <span class="code truncate">{relative.label}</span>
    <span class="faint shrink-0 text-[11px]"
      >{relative.kind}{box.containingBlock?.element === relative.element ? ', containing block' : ''}</span
    >
    <span class="grow"></span>
    <span class="num shrink-0 text-[12px]">{px(relative.width)} × {px(relative.height)}</span>
  </button>
{/snippet}

<div>
  <VirtualList items={above} rowHeight={ROW} maxHeight={210}>
    {#snippet row(relative: Relative, i: number)}{@render one(relative, i)}{/snippet}
  </VirtualList>
  <div
    class="flex items-baseline gap-2 border-l-2 border-accent pl-1 text-[13px] font-medium"
    style="margin-left:{Math.min(above.length, 10) * 9}px"
  >
    <span class="code truncate">{box.label}</span><span class="grow"></span>
    <span class="num shrink-0 text-[12px]">{px(box.areas.rect.width)} × {px(box.areas.rect.height)}</span>
  </div>
  <VirtualList items={box.children} rowHeight={ROW} maxHeight={189}>
    {#snippet row(relative: Relative)}{@render one(relative, above.length + 1)}{/snippet}
  </VirtualList>
</div>
