<!-- Rows of one height, of which only those in sight are in the document. -->
<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';

  let {
    items,
    rowHeight,
    maxHeight,
    row,
  }: { items: T[]; rowHeight: number; maxHeight: number; row: Snippet<[T, number]> } = $props();

  let top = $state(0);
  const height = $derived(Math.min(maxHeight, items.length * rowHeight));
  const first = $derived(Math.max(0, Math.floor(top / rowHeight) - 4));
  const last = $derived(Math.min(items.length, Math.ceil((top + height) / rowHeight) + 4));
</script>

<div
  class="overflow-y-auto"
  style="height:{height}px"
  onscroll={(event) => (top = event.currentTarget.scrollTop)}
>
  <div class="relative" style="height:{items.length * rowHeight}px">
    {#each items.slice(first, last) as item, i (first + i)}
      <div class="absolute inset-x-0" style="top:{(first + i) * rowHeight}px;height:{rowHeight}px">
        {@render row(item, first + i)}
      </div>
    {/each}
  </div>
</div>
