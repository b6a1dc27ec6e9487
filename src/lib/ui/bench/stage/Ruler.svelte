<!-- A graduated ruler along the stage, in document px, with the extent of the pick. -->
<script lang="ts">
  let {
    axis,
    length,
    zoom,
    origin,
    offset,
    extent,
  }: {
    axis: 'x' | 'y';
    /** On the screen. */
    length: number;
    zoom: number;
    /** Document px at the page's edge: the scroll offset. */
    origin: number;
    /** Screen px from the ruler's start to the page's edge. */
    offset: number;
    extent: [number, number] | null;
  } = $props();

  const steps = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000];
  const major = $derived(steps.find((step) => step * zoom >= 56) ?? 2000);
  const minor = $derived(major / (major === 1 ? 1 : major % 5 === 0 && major !== 5 ? 10 : 5));
  const first = $derived(Math.floor((origin - offset / zoom) / minor) * minor);
  const ticks = $derived(
    Array.from(
      { length: Math.min(2000, Math.ceil(length / zoom / minor) + 2) },
      (_, i) => Math.round((first + i * minor) * 100) / 100,
    ).map((value) => ({
      value,
      at: (value - origin) * zoom + offset,
      major: Math.abs(value / major - Math.round(value / major)) < 1e-6,
    })),
  );
  const place = $derived((value: number) => (value - origin) * zoom + offset);
</script>

{#if axis === 'x'}
  <svg width={length} height="20" class="block bg-base-200" aria-hidden="true">
    {#each ticks as { value, at, major: isMajor } (value)}
      <path
        d="M{at} 20v{isMajor ? -9 : -4}"
        stroke="currentColor"
        stroke-opacity={isMajor ? 0.8 : 0.4}
        stroke-width="1"
      />
      {#if isMajor}<text x={at + 3} y="10" font-size="9.5" fill="currentColor" class="num">{value}</text>{/if}
    {/each}
    {#if extent}<rect
        x={place(extent[0])}
        y="17"
        width={Math.max(1, (extent[1] - extent[0]) * zoom)}
        height="3"
        fill="var(--color-accent)"
      />{/if}
  </svg>
{:else}
  <svg width="30" height={length} class="block bg-base-200" aria-hidden="true">
    {#each ticks as { value, at, major: isMajor } (value)}
      <path
        d="M30 {at}h{isMajor ? -9 : -4}"
        stroke="currentColor"
        stroke-opacity={isMajor ? 0.8 : 0.4}
        stroke-width="1"
      />
      {#if isMajor}<text x="2" y={at + 10} font-size="9.5" fill="currentColor" class="num">{value}</text>{/if}
    {/each}
    {#if extent}<rect
        x="27"
        y={place(extent[0])}
        width="3"
        height={Math.max(1, (extent[1] - extent[0]) * zoom)}
        fill="var(--color-accent)"
      />{/if}
  </svg>
{/if}
