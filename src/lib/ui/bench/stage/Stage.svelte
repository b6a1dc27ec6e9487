<!-- The page under its rulers: the frame with what is drawn over it, zoomed and panned by the stage. -->
<script lang="ts">
  import type { Areas } from '$core/boxes/areas.ts';
  import { rectOf, usedText } from '$core/boxes/tree.ts';
  import type { Rect } from '$core/geometry/rect.ts';
  import { onMount, tick } from 'svelte';
  import type { Bench } from '../state/bench.svelte.ts';
  import HoverLabel from './HoverLabel.svelte';
  import { axisOf, snap } from '../state/measuring.ts';
  import Overlay from './Overlay.svelte';
  import Ruler from './Ruler.svelte';
  import { nextZoom } from './view.ts';

  let {
    bench,
    zoom = $bindable(0),
    frameHolder = $bindable(),
    onScale,
  }: {
    bench: Bench;
    zoom?: number;
    frameHolder?: HTMLElement | undefined;
    /** Hears at which scale the page is shown, whenever it is another. */
    onScale: (scale: number) => void;
  } = $props();

  const PAD = 16;
  let room = $state({ width: 600, height: 500 });
  let pan = $state({ x: 0, y: 0 });
  let pointer = $state({ x: 0, y: 0, inside: false });
  let scroller: HTMLElement;
  let sheet: HTMLElement;

  /** 0 asks for the zoom at which the whole viewport fits. */
  const fit = $derived(
    Math.min(1, (room.width - 2 * PAD) / bench.width, (room.height - 2 * PAD) / bench.height),
  );
  const scale = $derived(zoom === 0 ? Math.max(0.05, fit) : zoom);
  $effect(() => onScale(scale));
  const view = $derived({ zoom: scale, scrollX: bench.scroll.x, scrollY: bench.scroll.y });
  const size = $derived({ width: bench.width * scale, height: bench.height * scale });
  const left = $derived(Math.max(PAD, (room.width - size.width) / 2));
  const top = $derived(Math.max(PAD, Math.min(40, (room.height - size.height) / 2)));
  const extent = $derived.by(() => {
    if (!bench.reading || bench.pick < 0 || bench.pick >= bench.reading.count) return null;
    const { x, y, width, height } = rectOf(bench.reading, bench.pick);
    return { x: [x, x + width] as [number, number], y: [y, y + height] as [number, number] };
  });

  function documentPoint(event: PointerEvent | MouseEvent): { x: number; y: number } {
    const at = sheet.getBoundingClientRect();
    return {
      x: (event.clientX - at.left) / scale + bench.scroll.x,
      y: (event.clientY - at.top) / scale + bench.scroll.y,
    };
  }

  /** Engines tell of a click in whole px, which are several of a page that is shown small: what is pointed at is taken. */
  function clickedPoint(event: MouseEvent): { x: number; y: number } {
    const told = documentPoint(event);
    const isSame = Math.hypot(told.x - aimed.x, told.y - aimed.y) * scale < 2;
    return pointer.inside && isSame ? aimed : told;
  }

  function moved(event: PointerEvent) {
    const at = scroller.getBoundingClientRect();
    pointer = { x: event.clientX - at.left, y: event.clientY - at.top, inside: true };
    aimed = documentPoint(event);
    bench.hover(bench.point(aimed.x, aimed.y));
    const rect = spotTo(event);
    if (rect) bench.spots.drag(rect);
  }

  let aimed = $state.raw({ x: 0, y: 0 });
  /** The areas of a box come from the worker a moment after the pointer is over it. */
  $effect(() => {
    if (bench.measure && pointer.inside) aim(aimed.x, aimed.y);
  });

  /** The edge that a click would take: the nearest of the box under the pointer and of those around it. */
  function aim(x: number, y: number) {
    const axis = bench.from ? axisOf(bench.from.side) : null;
    const boxes = bench.around(bench.hovered).flatMap((element): [number, Areas][] => {
      const areas = bench.areas.get(element);
      return areas ? [[element, areas]] : [];
    });
    bench.toward = snap(boxes, x, y, axis);
  }

  /** Where a spot that is dragged over began. */
  let spotFrom: { x: number; y: number } | null = null;

  function pressed(event: PointerEvent) {
    if (!bench.spots.isAsking || event.button !== 0) return;
    spotFrom = documentPoint(event);
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }

  function spotTo(event: PointerEvent | MouseEvent): Rect | null {
    if (!spotFrom) return null;
    const to = documentPoint(event);
    return {
      x: Math.max(0, Math.min(spotFrom.x, to.x)),
      y: Math.max(0, Math.min(spotFrom.y, to.y)),
      width: Math.abs(to.x - spotFrom.x),
      height: Math.abs(to.y - spotFrom.y),
    };
  }

  function released(event: PointerEvent) {
    const rect = spotTo(event);
    spotFrom = null;
    if (rect) void bench.spots.ask(rect);
  }

  function clicked(event: MouseEvent) {
    scroller.focus({ preventScroll: true });
    if (bench.spots.isAsking) return;
    if (bench.measure) {
      // What is drawn as aimed at is what is taken.
      if (bench.toward) bench.takeEdge(bench.toward);
      return;
    }
    const { x, y } = clickedPoint(event);
    bench.choose(bench.point(x, y));
  }

  /** The nearest scroll container around a box that can move this way; −1: the viewport. */
  function scrollerAt(element: number): number {
    const { reading } = bench;
    for (let at = element; reading && at > 0; at = reading.parent[at]!)
      if (/auto|scroll/.test(usedText(reading, 'overflow', at))) return at;
    return -1;
  }

  let rolling = false;
  async function rolled(event: WheelEvent) {
    if (event.ctrlKey || event.metaKey) {
      event.preventDefault();
      changeZoom(nextZoom(scale, event.deltaY < 0 ? 1 : -1), event);
      return;
    }
    const pans = size.height + 2 * PAD > room.height + 1 || size.width + 2 * PAD > room.width + 1;
    if (pans && !event.altKey) return;
    event.preventDefault();
    if (rolling) return;
    rolling = true;
    const [x, y] = event.shiftKey ? [event.deltaY, 0] : [event.deltaX, event.deltaY];
    const { x: docX, y: docY } = documentPoint(event);
    const inner = scrollerAt(bench.point(docX, docY));
    if (inner < 0 || !(await bench.scrollBy(inner, x, y))) await bench.scrollBy(-1, x, y);
    rolling = false;
  }

  /** Zooms so that what lies under the pointer, or in the middle, stays where it is; without a pointer the pick comes to the middle. */
  export function changeZoom(next: number, around?: MouseEvent) {
    const at = scroller.getBoundingClientRect();
    const [sx, sy] = around
      ? [around.clientX - at.left, around.clientY - at.top]
      : [room.width / 2, room.height / 2];
    const before = { x: (scroller.scrollLeft + sx - left) / scale, y: (scroller.scrollTop + sy - top) / scale };
    zoom = next;
    if (!around && bench.pick >= 0) {
      void tick().then(() => show(bench.pick));
      return;
    }
    queueMicrotask(() => {
      scroller.scrollLeft = before.x * scale + left - sx;
      scroller.scrollTop = before.y * scale + top - sy;
    });
  }

  export const step = (direction: 1 | -1) => changeZoom(nextZoom(scale, direction));
  export const focus = () => scroller.focus();

  /** Puts the pick in sight: scrolls the page first, then pans the stage. */
  export async function show(element: number) {
    await bench.reveal(element);
    if (!bench.reading || zoom === 0) return;
    const { x, y, width, height } = rectOf(bench.reading, element);
    scroller.scrollTo({
      left: (x - bench.scroll.x + Math.min(width, room.width / scale) / 2) * scale + left - room.width / 2,
      top: (y - bench.scroll.y + Math.min(height, room.height / scale) / 2) * scale + top - room.height / 2,
    });
  }

  onMount(() => {
    const wheel = (event: WheelEvent) => void rolled(event);
    scroller.addEventListener('wheel', wheel, { passive: false });
    return () => scroller.removeEventListener('wheel', wheel);
  });
</script>

<div class="grid min-h-0 min-w-0 grow" style="grid-template: 20px minmax(0, 1fr) / 30px minmax(0, 1fr)">
  <div class="border-r border-b border-base-300 bg-base-200"></div>
  <div class="overflow-hidden border-b border-base-300">
    <Ruler
      axis="x"
      length={room.width}
      zoom={scale}
      origin={bench.scroll.x}
      offset={left - pan.x}
      extent={extent?.x ?? null}
    />
  </div>
  <div class="overflow-hidden border-r border-base-300">
    <Ruler
      axis="y"
      length={room.height}
      zoom={scale}
      origin={bench.scroll.y}
      offset={top - pan.y}
      extent={extent?.y ?? null}
    />
  </div>
  <div class="relative min-h-0 min-w-0">
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      bind:this={scroller}
      bind:clientWidth={room.width}
      bind:clientHeight={room.height}
      class="stage absolute inset-0 overflow-auto"
      tabindex="0"
      role="application"
      aria-label="The page. Arrow keys walk from box to box: up to the parent, down to the first child, left and right among siblings."
      onscroll={() => (pan = { x: scroller.scrollLeft, y: scroller.scrollTop })}
      data-stage
    >
      <div style="width:{left + size.width + PAD}px;height:{top + size.height + PAD}px" class="relative">
        <div
          bind:this={sheet}
          class="sheet absolute bg-white"
          style="left:{left}px;top:{top}px;width:{size.width}px;height:{size.height}px"
        >
          <div class="absolute inset-0 overflow-hidden">
            <div
              bind:this={frameHolder}
              style="transform:scale({scale});transform-origin:0 0;width:{bench.width}px;height:{bench.height}px"
              inert
            ></div>
          </div>
          <Overlay {bench} {view} />
          <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
          <div
            class="absolute inset-0 {bench.measure || bench.spots.isAsking
              ? 'cursor-crosshair'
              : 'cursor-default'}"
            data-glass
            onpointermove={moved}
            onpointerleave={() => {
              pointer.inside = false;
              bench.hover(-1);
            }}
            onpointerdown={pressed}
            onpointerup={released}
            onclick={clicked}
          ></div>
        </div>
      </div>
    </div>
    {#if pointer.inside && bench.reading && bench.hovered >= 0 && bench.hovered < bench.reading.count}
      <HoverLabel reading={bench.reading} element={bench.hovered} x={pointer.x} y={pointer.y} {room} />
    {/if}
  </div>
</div>

<style>
  .stage {
    background: color-mix(in srgb, var(--color-base-200) 60%, var(--color-base-300));
  }
  .sheet {
    outline: 1px solid color-mix(in srgb, var(--color-base-content) 55%, transparent);
  }
</style>
