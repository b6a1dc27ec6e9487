<!-- What is drawn over the page: nothing of it is in the specimen's own document. -->
<script lang="ts">
  import { rectOf } from '$core/boxes/tree.ts';
  import type { Areas } from '$core/boxes/areas.ts';
  import { inset, outset, type Rect } from '$core/geometry/rect.ts';
  import { outermost } from '$core/compare/reading-diff.ts';
  import Dimension from '../../drawing/Dimension.svelte';
  import type { Bench } from '../state/bench.svelte.ts';
  import { axisOf, edgePosition, areaRect, type Edge } from '../state/measuring.ts';
  import { elementsOf } from './box-filters.ts';
  import { between, cornerTicks, frameOf, onScreen, type View } from './view.ts';

  let { bench, view }: { bench: Bench; view: View } = $props();

  const size = $derived({ width: bench.width * view.zoom, height: bench.height * view.zoom });
  const screen = $derived((rect: Rect) => onScreen(view, rect));
  const boxRect = $derived((element: number) => screen(rectOf(bench.reading!, element)));
  const inView = ({ x, y, width, height }: Rect) =>
    x < size.width && y < size.height && x + width > 0 && y + height > 0;

  const outlined = $derived.by(() => {
    if (!bench.reading || bench.sort === 'none') return '';
    return elementsOf(bench.reading, bench.sort).map(boxRect).filter(inView).map(frameOf).join('');
  });
  const lit = $derived(
    bench.reading
      ? bench.lit
          .filter((element) => element < bench.reading!.count)
          .map(boxRect)
          .filter(inView)
      : [],
  );

  /** Where what the trial moved was before, the largest changes first. */
  const ghosts = $derived.by(() => {
    const { moved, reading } = bench;
    if (!moved || !reading || bench.outlines.length > 0) return [];
    return outermost(moved, reading, (bench.width * bench.height) / 2)
      .slice(0, 24)
      .map(({ from, after }) => ({
        from: screen(from),
        to: after >= 0 && after < reading.count ? boxRect(after) : null,
      }))
      .filter(({ from, to }) => inView(from) || (to !== null && inView(to)));
  });

  /** Where each of the trials that are compared puts what it moves; their letters stand in a row, so that none covers another. */
  const outlines = $derived(
    bench.outlines.map(({ rects, ...rest }) => ({ ...rest, rects: rects.map(screen).filter(inView) })),
  );

  interface Measured {
    edge: Edge;
    other: Edge;
    strong: boolean;
  }
  const measured = $derived<Measured[]>([
    ...bench.pinned.map(({ from, to }) => ({ edge: from, other: to, strong: false })),
    ...(bench.measure && bench.from && bench.toward
      ? [{ edge: bench.from, other: bench.toward, strong: true }]
      : []),
  ]);

  function dimension({ edge, other }: Measured) {
    const [a, b] = [bench.areas.get(edge.element), bench.areas.get(other.element)];
    if (!a || !b) return null;
    const axis = axisOf(edge.side);
    const [start, end] = [edgePosition(a, edge), edgePosition(b, other)];
    const offset = axis === 'x' ? view.scrollX : view.scrollY;
    const [ra, rb] = [screen(areaRect(a, edge.area)), screen(areaRect(b, other.area))];
    const middle = (one: Rect) => (axis === 'x' ? one.y + one.height / 2 : one.x + one.width / 2);
    const low = Math.max(...[ra, rb].map((item) => (axis === 'x' ? item.y : item.x)));
    const high = Math.min(
      ...[ra, rb].map((item) => (axis === 'x' ? item.y + item.height : item.x + item.width)),
    );
    const at = low < high ? (low + high) / 2 : middle(rb);
    return {
      axis,
      start: (start - offset) * view.zoom,
      end: (end - offset) * view.zoom,
      at,
      value: Math.abs(end - start),
      witness: [middle(ra), middle(rb)] as [number, number],
    };
  }

  /** The px of the picked finding, where they lie. */
  const wrong = $derived.by(() => {
    const { finder } = bench;
    const one = finder.found?.find(({ key }) => key === finder.picked);
    if (!one?.span || one.subject !== bench.pick) return null;
    const { axis, from, to, across } = one.span;
    const [along, aside] = axis === 'x' ? [view.scrollX, view.scrollY] : [view.scrollY, view.scrollX];
    const at = (across - aside) * view.zoom;
    return {
      axis,
      start: (from - along) * view.zoom,
      end: (to - along) * view.zoom,
      at: Math.min((axis === 'x' ? size.height : size.width) - 14, Math.max(14, at)),
      value: Math.round(one.px * 100) / 100,
    };
  });

  function edgeLine(edge: Edge, areas: Areas): string {
    const { x, y, width, height } = screen(areaRect(areas, edge.area));
    if (edge.side === 'left') return `M${x} ${y}v${height}`;
    if (edge.side === 'right') return `M${x + width} ${y}v${height}`;
    return edge.side === 'top' ? `M${x} ${y}h${width}` : `M${x} ${y + height}h${width}`;
  }

  const pickAreas = $derived(bench.pick >= 0 ? bench.areas.get(bench.pick) : undefined);
  /** Dimension lines lie outside of the box where there is room, else inside of it. */
  const across = (rect: Rect) =>
    rect.y > 22 ? rect.y - 12 : Math.min(rect.y + rect.height - 10, Math.max(12, rect.y + 14));
  const down = (rect: Rect) =>
    rect.x > 48 ? rect.x - 26 : Math.min(rect.x + rect.width - 28, Math.max(26, rect.x + 28));
</script>

<svg
  width={size.width}
  height={size.height}
  class="pointer-events-none absolute inset-0 overflow-visible"
  data-overlay
  aria-hidden="true"
>
  <clipPath id="sheet"><rect width={size.width} height={size.height} /></clipPath>
  <!-- Dimension lines may lie in the margin of the stage as well. -->
  <clipPath id="sheet-margin"
    ><rect x="-24" y="-24" width={size.width + 48} height={size.height + 48} /></clipPath
  >
  <g clip-path="url(#sheet)">
    {#if view.zoom >= 4 && bench.reading}
      {@const step = view.zoom / bench.reading.viewport.ratio}
      <pattern id="device-grid" width={step} height={step} patternUnits="userSpaceOnUse"
        ><path
          d="M{step} 0H0V{step}"
          fill="none"
          stroke="#1d2226"
          stroke-opacity="0.28"
          stroke-width="0.6"
        /></pattern
      >
      <rect width={size.width} height={size.height} fill="url(#device-grid)" data-grid />
    {/if}
    {#each ghosts as { from, to }, i (i)}
      <path d={frameOf(from)} fill="none" stroke="#ffffff" stroke-opacity="0.85" stroke-width="2.5" />
      <path d={frameOf(from)} fill="none" stroke="#875a00" stroke-width="1" stroke-dasharray="4 3" data-ghost />
      {#if to && Math.hypot(to.x - from.x, to.y - from.y) > 6}
        {@const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI}
        <path d="M{from.x} {from.y}L{to.x} {to.y}" stroke="#875a00" stroke-width="1" fill="none" />
        <path d="M0 0L-9 -3V3Z" fill="#875a00" transform="translate({to.x} {to.y}) rotate({angle})" />
      {/if}
    {/each}
    {#each outlines as { letter, dash, rects }, row (letter)}
      {#each rects as rect, i (i)}
        <path d={frameOf(rect)} fill="none" stroke="#ffffff" stroke-opacity="0.85" stroke-width="3" />
        <path
          d={frameOf(rect)}
          fill="none"
          stroke="#1f4e79"
          stroke-width="1.3"
          stroke-dasharray={dash}
          data-compared-outline={letter}
        />
        {#if rect.width > 40 && rect.height > 14}
          <text
            x={rect.x + rect.width - 5 - 11 * row}
            y={rect.y + rect.height - 4}
            text-anchor="end"
            font-size="11"
            font-weight="600"
            fill="#1f4e79"
            stroke="#ffffff"
            stroke-width="3"
            paint-order="stroke">{letter}</text
          >
        {/if}
      {/each}
    {/each}
    {#if outlined}
      <path d={outlined} fill="none" stroke="#ffffff" stroke-opacity="0.8" stroke-width="2.5" />
      <path d={outlined} fill="none" stroke="#1f4e79" stroke-width="1" data-outlined={bench.sort} />
    {/if}
    {#if bench.reading}
      {#if bench.hatched && pickAreas}
        {@const { margin, border, padding, scrollbar, rect, content } = pickAreas}
        {@const paddingBox = inset(rect, border)}
        {@const positive = {
          top: Math.max(0, margin.top),
          right: Math.max(0, margin.right),
          bottom: Math.max(0, margin.bottom),
          left: Math.max(0, margin.left),
        }}
        <g fill-rule="evenodd" data-hatched>
          <path d={between(screen(outset(rect, positive)), screen(rect))} fill="url(#area-margin)" />
          <path d={between(screen(rect), screen(paddingBox))} fill="#1d2226" fill-opacity="0.85" />
          <path
            d={between(screen(paddingBox), screen(inset(paddingBox, scrollbar)))}
            fill="url(#area-scrollbar)"
          />
          <path d={between(screen(inset(paddingBox, scrollbar)), screen(content))} fill="url(#area-padding)" />
          <path
            d={frameOf(screen(inset(inset(paddingBox, scrollbar), padding)))}
            fill="none"
            stroke="#0f6666"
            stroke-width="0.7"
            stroke-dasharray="2 2"
          />
        </g>
      {/if}
      {#each lit as rect, i (i)}
        <path d={cornerTicks(rect, 8)} fill="none" stroke="#ffffff" stroke-width="4" />
        <path d={cornerTicks(rect, 8)} fill="none" stroke="#0f6666" stroke-width="2" data-lit />
      {/each}
      {#if bench.shown === 'block' && bench.account?.containingBlock}
        {@const block = bench.account.containingBlock.element}
        {@const rect = boxRect(block)}
        <path d={frameOf(rect)} fill="none" stroke="#ffffff" stroke-opacity="0.9" stroke-width="4" />
        <path
          d={frameOf(rect)}
          fill="none"
          stroke="#1f4e79"
          stroke-width="2"
          stroke-dasharray="10 3 2 3"
          data-containing={block}
        />
        <text
          x={Math.max(4, rect.x + 6)}
          y={rect.y + rect.height + 18 < size.height ? rect.y + rect.height + 15 : rect.y + 16}
          font-size="12"
          fill="#1f4e79"
          stroke="#ffffff"
          stroke-width="3"
          paint-order="stroke">containing block: {bench.account.containingBlock.label}</text
        >
      {/if}
      {#if bench.hovered >= 0 && bench.hovered !== bench.pick && bench.hovered < bench.reading.count}
        {@const rect = boxRect(bench.hovered)}
        <path d={frameOf(rect)} fill="none" stroke="#ffffff" stroke-opacity="0.9" stroke-width="2.5" />
        <path
          d={frameOf(rect)}
          fill="none"
          stroke="#1d2226"
          stroke-width="1"
          stroke-dasharray="3 3"
          data-hover={bench.hovered}
        />
      {/if}
      {#if bench.pick >= 0 && bench.pick < bench.reading.count}
        {@const rect = boxRect(bench.pick)}
        <path d={cornerTicks(rect, 12)} fill="none" stroke="#ffffff" stroke-width="5" />
        <path
          d={cornerTicks(rect, 12)}
          fill="none"
          stroke="#b3173a"
          stroke-width="2.2"
          data-pick={bench.pick}
        />
      {/if}
      {#if bench.spots.rect}
        {@const rect = screen(bench.spots.rect)}
        {@const [x, y] = [rect.x + rect.width / 2, rect.y + rect.height / 2]}
        <g data-spot-drawn>
          <path d={frameOf(rect)} fill="#1f4e79" fill-opacity="0.12" stroke="#ffffff" stroke-width="3" />
          <path d={frameOf(rect)} fill="none" stroke="#1f4e79" stroke-width="1.3" />
          <path
            d="M{x - 9} {y}h18M{x} {y - 9}v18"
            fill="none"
            stroke="#ffffff"
            stroke-opacity="0.9"
            stroke-width="3"
          />
          <path d="M{x - 9} {y}h18M{x} {y - 9}v18" fill="none" stroke="#1f4e79" stroke-width="1.3" />
        </g>
      {/if}
      {#if bench.measure}
        {#each [bench.from, bench.toward] as edge, i (i)}
          {@const own = edge ? bench.areas.get(edge.element) : undefined}
          {#if edge && own}<path
              d={edgeLine(edge, own)}
              fill="none"
              stroke="#b3173a"
              stroke-width="2.5"
              data-edge="{edge.area} {edge.side}"
            />{/if}
        {/each}
      {/if}
    {/if}
  </g>
  {#if bench.reading}
    <g clip-path="url(#sheet-margin)">
      {#if !bench.measure && !wrong && bench.pick >= 0 && bench.pick < bench.reading.count && inView(boxRect(bench.pick))}
        {@const rect = boxRect(bench.pick)}
        {@const own = rectOf(bench.reading, bench.pick)}
        <Dimension
          axis="x"
          start={rect.x}
          end={rect.x + rect.width}
          at={across(rect)}
          value={own.width}
          witness={[rect.y, rect.y]}
        />
        <Dimension
          axis="y"
          start={rect.y}
          end={rect.y + rect.height}
          at={down(rect)}
          value={own.height}
          witness={[rect.x, rect.x]}
        />
      {/if}
      {#if wrong}
        {@const { axis, start, end, at } = wrong}
        <g data-wrong={wrong.value}>
          <path
            d={axis === 'x'
              ? `M${start} ${at - 26}v52M${end} ${at - 26}v52`
              : `M${at - 26} ${start}h52M${at - 26} ${end}h52`}
            stroke="#b3173a"
            stroke-width="1.5"
            stroke-dasharray="5 2"
          />
          <Dimension {...wrong} strong limit={axis === 'x' ? size.width : size.height} />
        </g>
      {/if}
      {#each measured as item, i (i)}
        {@const line = dimension(item)}
        {#if line}<g data-measured={line.value}
            ><Dimension {...line} strong={item.strong} color={item.strong ? '#b3173a' : '#1d2226'} /></g
          >{/if}
      {/each}
    </g>
  {/if}
</svg>
