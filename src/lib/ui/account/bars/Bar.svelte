<!-- One axis of a box as a bar: each area with its px on one side and its declared value on the other. -->
<script lang="ts">
  import type { Segment } from '$core/accounts/box.ts';
  import { px } from '$core/geometry/rect.ts';
  import { theme } from '../../theme.svelte.ts';
  import { fillOf, layOut, segmentTitle, shortValue } from './areas.ts';
  import Grips from './Grips.svelte';
  import type { Stretch } from './stretch.ts';

  let {
    segments,
    axis,
    stretch = null,
  }: { segments: Segment[]; axis: 'x' | 'y'; stretch?: Stretch | null } = $props();

  let width = $state(360);
  const night = $derived(theme.name === 'night');
  const THICK = 26;
  /** Down, a box with fewer areas takes less room. */
  const tall = $derived(Math.min(176, 52 + 22 * segments.filter(({ px: size }) => size !== 0).length));
  const length = $derived(axis === 'x' ? width - 2 : tall);
  const laid = $derived(layOut(segments, length, axis === 'x' ? 24 : 14));
  const shown = $derived(laid.pieces.filter(({ segment }) => segment.px !== 0));
  const zeros = $derived(laid.pieces.filter(({ segment }) => segment.px === 0 && segment.area !== 'content'));
  /** Where a text is centred so that all of it is seen; its letters are about as wide as .6 of their size. */
  const inSight = (centre: number, text: string, size: number): number => {
    const half = text.length * size * 0.3;
    return Math.max(half, Math.min(width - half, centre));
  };
  const zigzag = $derived((piece: { start: number; size: number }) => {
    const middle = piece.start + piece.size / 2;
    return [-3, 3].map((shift) => {
      const along = middle + shift;
      const half = THICK / 2;
      return axis === 'x'
        ? `M${along - 2} ${half + 16}L${along + 2} ${half + 5}L${along - 2} ${half - 4}L${along + 2} ${half - 14}`
        : `M${half - 16} ${along - 2}L${half - 5} ${along + 2}L${half + 4} ${along - 2}L${half + 16} ${along + 2}`;
    });
  });
</script>

{#if axis === 'x'}
  <div bind:clientWidth={width} class="w-full" data-bar="x">
    <svg
      {width}
      height="76"
      class="block"
      role={stretch ? 'group' : 'img'}
      aria-label="Across: {shown.map(({ segment }) => `${segment.area} ${px(segment.px)}`).join(', ')}"
    >
      {#each shown as { segment, start, size }, i (segment.area + segment.side)}
        <g>
          <title>{segmentTitle(segment)}</title>
          <text
            x={inSight(start + size / 2 + 1, px(segment.px), 11)}
            y="11"
            text-anchor="middle"
            font-size="11"
            font-weight="500"
            fill="currentColor"
            class="num">{px(segment.px)}</text
          >
          <rect
            x={start + 1}
            y="17"
            width={size}
            height={THICK}
            fill={fillOf('content', night)}
            stroke="none"
          />
          <rect
            x={start + 1}
            y="17"
            width={size}
            height={THICK}
            fill={fillOf(segment.area, night)}
            stroke="currentColor"
            stroke-width={segment.area === 'margin' ? 0.5 : 1}
            stroke-dasharray={segment.area === 'margin' ? '2 2' : undefined}
          />
          <text
            x={inSight(start + size / 2 + 1, shortValue(segment.declared), 10)}
            y={i % 2 === 1 ? 70 : 57}
            text-anchor="middle"
            font-size="10"
            fill="currentColor"
            fill-opacity="0.8"
            class="num">{shortValue(segment.declared)}</text
          >
          {#if i % 2 === 1 && shortValue(segment.declared)}<path
              d="M{start + size / 2 + 1} 46v14"
              stroke="currentColor"
              stroke-opacity="0.4"
              stroke-width="0.7"
            />{/if}
        </g>
      {/each}
      {#each zeros as { segment, start } (segment.area + segment.side)}
        <path d="M{start + 1} 13v{THICK + 6}" stroke="currentColor" stroke-opacity="0.55" stroke-width="1"
          ><title>{segmentTitle(segment)}</title></path
        >
      {/each}
      {#if laid.broken}
        {@const content = laid.pieces.find(({ segment }) => segment.area === 'content')!}
        <g transform="translate(1 17)"
          ><path d={zigzag(content).join('')} fill="none" stroke="currentColor" stroke-width="1" /></g
        >
      {/if}
      {#if stretch}<Grips pieces={laid.pieces} {axis} across={17} thick={THICK} {stretch} />{/if}
    </svg>
  </div>
{:else}
  <svg
    width="130"
    height={tall + 2}
    class="block shrink-0"
    role={stretch ? 'group' : 'img'}
    aria-label="Down: {shown.map(({ segment }) => `${segment.area} ${px(segment.px)}`).join(', ')}"
    data-bar="y"
  >
    {#each shown as { segment, start, size } (segment.area + segment.side)}
      <g>
        <title>{segmentTitle(segment)}</title>
        <text
          x="48"
          y={start + size / 2 + 5}
          text-anchor="end"
          font-size="11"
          font-weight="500"
          fill="currentColor"
          class="num">{px(segment.px)}</text
        >
        <rect x="54" y={start + 1} width={THICK} height={size} fill={fillOf('content', night)} />
        <rect
          x="54"
          y={start + 1}
          width={THICK}
          height={size}
          fill={fillOf(segment.area, night)}
          stroke="currentColor"
          stroke-width={segment.area === 'margin' ? 0.5 : 1}
          stroke-dasharray={segment.area === 'margin' ? '2 2' : undefined}
        />
        <text
          x="85"
          y={start + size / 2 + 4.5}
          font-size="10"
          fill="currentColor"
          fill-opacity="0.8"
          class="num">{shortValue(segment.declared)}</text
        >
      </g>
    {/each}
    {#each zeros as { segment, start } (segment.area + segment.side)}
      <path d="M50 {start + 1}h{THICK + 8}" stroke="currentColor" stroke-opacity="0.55" stroke-width="1"
        ><title>{segmentTitle(segment)}</title></path
      >
    {/each}
    {#if laid.broken}
      {@const content = laid.pieces.find(({ segment }) => segment.area === 'content')!}
      <g transform="translate(54 1)"
        ><path d={zigzag(content).join('')} fill="none" stroke="currentColor" stroke-width="1" /></g
      >
    {/if}
    {#if stretch}<Grips pieces={laid.pieces} {axis} across={54} thick={THICK} {stretch} />{/if}
  </svg>
{/if}
