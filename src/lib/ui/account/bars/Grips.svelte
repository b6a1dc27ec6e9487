<!-- Grips on the edges of a bar's areas: dragged or stepped with the arrow keys, each gives its side another size. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { Piece } from './areas.ts';
  import type { Stretch } from './stretch.ts';

  let {
    pieces,
    axis,
    across,
    thick,
    stretch,
  }: {
    pieces: Piece[];
    axis: 'x' | 'y';
    /** Where the bar begins and how thick it is, across its axis; along it, it begins at 1. */
    across: number;
    thick: number;
    stretch: Stretch;
  } = $props();

  const LANES = { margin: 0, border: 1, padding: 2 } as const;
  let dragged: { at: number; from: number; sign: 1 | -1; key: string } | null = null;

  const grips = $derived(
    pieces.flatMap(({ segment, start, size }) => {
      const { area, side } = segment;
      if (side === null || !(area in LANES)) return [];
      const isFirst = side === 'left' || side === 'top';
      // An area grows toward the content; areas of 0 lie in one place, so each kind has a lane of its own.
      const along = 1 + (isFirst ? start + size : start);
      const lane = across + (LANES[area as keyof typeof LANES] * thick) / 3;
      const made = { area, side, used: segment.px, sign: (isFirst ? 1 : -1) as 1 | -1, key: `${area} ${side}` };
      return axis === 'x'
        ? [{ ...made, x: along - 3, y: lane, width: 6, height: thick / 3 }]
        : [{ ...made, x: lane, y: along - 3, width: thick / 3, height: 6 }];
    }),
  );
  type Grip = (typeof grips)[number];
  const limit = ({ area }: Grip, wanted: number) => {
    const next = Math.round(wanted * 100) / 100;
    return area === 'margin' ? next : Math.max(0, next);
  };

  function down(event: PointerEvent, grip: Grip) {
    event.preventDefault();
    const element = event.currentTarget as SVGElement;
    element.setPointerCapture(event.pointerId);
    element.focus();
    dragged = {
      at: axis === 'x' ? event.clientX : event.clientY,
      from: grip.used,
      sign: grip.sign,
      key: grip.key,
    };
  }
  function move(event: PointerEvent, grip: Grip) {
    if (dragged?.key !== grip.key) return;
    const by = (axis === 'x' ? event.clientX : event.clientY) - dragged.at;
    stretch(grip.area, grip.side, limit(grip, dragged.from + dragged.sign * Math.round(by)), 'drag');
  }
  function key(event: KeyboardEvent, grip: Grip) {
    const up = event.key === 'ArrowUp' || event.key === 'ArrowRight';
    if (!up && event.key !== 'ArrowDown' && event.key !== 'ArrowLeft') return;
    event.preventDefault();
    event.stopPropagation();
    const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    stretch(grip.area, grip.side, limit(grip, grip.used + (up ? size : -size)), 'step');
  }
</script>

{#each grips as grip (grip.key)}
  <rect
    x={grip.x}
    y={grip.y}
    width={grip.width}
    height={grip.height}
    class="grip {axis === 'x' ? 'cursor-ew-resize' : 'cursor-ns-resize'}"
    tabindex="0"
    role="slider"
    aria-label="{grip.area}-{grip.side}"
    aria-valuenow={grip.used}
    aria-valuetext="{px(grip.used)} px"
    onpointerdown={(event) => down(event, grip)}
    onpointermove={(event) => move(event, grip)}
    onpointerup={() => (dragged = null)}
    onpointercancel={() => (dragged = null)}
    onkeydown={(event) => key(event, grip)}
    data-grip={grip.key}
    ><title>{grip.area}-{grip.side}: {px(grip.used)} px. Drag it, or step it with the arrow keys.</title></rect
  >
{/each}

<style>
  .grip {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 1;
    opacity: 0;
    touch-action: none;
    outline: none;
  }
  :global(svg:hover) > .grip,
  :global(svg:focus-within) > .grip {
    opacity: 1;
  }
  .grip:hover,
  .grip:focus-visible {
    fill: var(--color-primary);
    stroke-width: 1.5;
  }
</style>
