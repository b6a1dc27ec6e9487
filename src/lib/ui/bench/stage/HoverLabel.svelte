<script lang="ts">
  import { contrastOf } from '$core/visibility/contrast.ts';
  import { KIND_WORDS, kindOf } from '$core/boxes/kinds.ts';
  import { labelOf } from '$core/reading/labels.ts';
  import type { RawReading } from '$core/reading/reading.ts';
  import { rectOf, usedPx, usedText } from '$core/boxes/tree.ts';
  import { px } from '$core/geometry/rect.ts';

  let {
    reading,
    element,
    x,
    y,
    room,
  }: { reading: RawReading; element: number; x: number; y: number; room: { width: number; height: number } } =
    $props();

  const rect = $derived(rectOf(reading, element));
  const contrast = $derived(contrastOf(reading, element));
  const family = $derived(usedText(reading, 'font-family', element).split(',')[0]?.replace(/["']/g, '') ?? '');
  let own = $state({ width: 0, height: 0 });
  const left = $derived(Math.max(4, Math.min(x + 16, room.width - own.width - 4)));
  const top = $derived(y + 20 + own.height > room.height ? y - own.height - 12 : y + 18);
</script>

<div
  class="pointer-events-none absolute z-10 max-w-124 border border-base-content bg-base-100 px-2 py-1 text-[12px] leading-snug text-base-content"
  style="left:{left}px;top:{Math.max(2, top)}px"
  bind:offsetWidth={own.width}
  bind:offsetHeight={own.height}
  data-hover-label
>
  <div class="flex items-baseline gap-2">
    <span class="code truncate font-medium">{labelOf(reading, element)}</span>
    <span class="num whitespace-nowrap">{px(rect.width)} × {px(rect.height)}</span>
    <span class="faint whitespace-nowrap">{KIND_WORDS[kindOf(reading, element)]}</span>
  </div>
  <div class="flex items-center gap-1.5 whitespace-nowrap">
    <span class="num">{px(usedPx(reading, 'font-size', element))}px</span>
    <span class="truncate">{family}</span>
    <span class="inline-block size-2.5 shrink-0 border border-base-content" style="background:{contrast.color}"
    ></span>
    <span class="code">{contrast.color}</span>
    <span class="faint">on</span>
    <span
      class="inline-block size-2.5 shrink-0 border border-base-content"
      style="background:{contrast.background}"
    ></span>
    <span class="code">{contrast.background}</span>
    {#if contrast.ratio !== null}
      <span class="num">{contrast.ratio.toFixed(2)}:1</span>
      <span class={contrast.passes ? 'text-success' : 'text-error'}
        >{contrast.passes ? 'passes' : 'fails'} WCAG AA ({contrast.needed})</span
      >
    {/if}
  </div>
</div>
