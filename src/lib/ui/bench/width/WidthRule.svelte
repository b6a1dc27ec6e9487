<!-- The width rule: a graduated scale with a jaw to drag, the author's own breakpoints as notches, and trouble bands. -->
<script lang="ts">
  import type { Grade } from '$core/evidence/model.ts';
  import { breakpointWords, type Breakpoint } from '$core/css/media/breakpoints.ts';
  import type { Snippet } from 'svelte';
  import { along, FROM, INSET, TO, widthAt } from './scale.ts';
  import { devices, sizes, type Device } from './sizes.svelte.ts';

  let {
    width,
    height,
    breakpoints,
    bands = [],
    isWhole = true,
    resize,
    aside,
    onDevice,
  }: {
    width: number;
    height: number;
    breakpoints: Breakpoint[];
    /** Runs of widths at which something is wrong. */
    bands?: { from: number; to: number; what: string; grade: Grade }[];
    /** Whether all widths are measured: until then bands reach over some of which nothing is known yet. */
    isWhole?: boolean;
    resize: (width: number, height?: number) => void;
    /** Shows the page as a device would; where it cannot be, no devices are offered. */
    onDevice?: (device: Device) => void;
    /** What stands before the bands. */
    aside?: Snippet;
  } = $props();

  /** Bands that are drawn above each other; more share the last place. */
  const LANES = 5;
  const lanes = $derived.by(() => {
    const ends: number[] = [];
    // What is wrong has the places at the top.
    const inOrder = [...bands].sort((a, b) => Number(a.grade !== 'wrong') - Number(b.grade !== 'wrong'));
    return inOrder.map((band) => {
      let lane = ends.findIndex((end) => end < band.from);
      if (lane < 0) lane = ends.length < LANES ? ends.length : LANES - 1;
      ends[lane] = Math.max(ends[lane] ?? 0, band.to);
      return { ...band, lane };
    });
  });
  const HEIGHT = 46;
  let length = $state(800);
  let rule: SVGSVGElement;
  let dragging = $state(false);
  let typed = $state('');
  let typedHeight = $state('');
  $effect(() => {
    typed = String(width);
    typedHeight = String(height);
  });

  const at = $derived((value: number) => along(value, length));
  const ticks = Array.from({ length: (TO - FROM) / 20 + 1 }, (_, i) => FROM + i * 20);
  const notches = $derived.by(() => {
    const out = new Map<number, string[]>();
    for (const one of breakpoints)
      if (one.width >= FROM && one.width <= TO)
        out.set(one.width, [...(out.get(one.width) ?? []), breakpointWords(one)]);
    return [...out].map(([value, words]) => ({ value, words: [...new Set(words)] }));
  });

  function drag(event: PointerEvent) {
    const box = rule.getBoundingClientRect();
    resize(widthAt(event.clientX - box.left, length));
  }

  function key(event: KeyboardEvent) {
    const step: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, PageDown: -50, PageUp: 50 };
    const by = step[event.key];
    if (event.key === 'Home') resize(FROM);
    else if (event.key === 'End') resize(TO);
    else if (by) resize(width + by * (event.shiftKey ? 10 : 1));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function take() {
    const [w, h] = [Number(typed), Number(typedHeight)];
    if (Number.isFinite(w) && Number.isFinite(h) && w > 0 && h > 0) resize(w, h);
    typed = String(width);
    typedHeight = String(height);
  }
</script>

<section class="shrink-0" aria-label="Width of the viewport">
  <div class="flex h-12 items-stretch border-b border-base-content bg-base-100">
    <form
      class="flex w-62 shrink-0 items-center gap-1.5 border-r border-base-300 px-3"
      onsubmit={(event) => {
        event.preventDefault();
        take();
      }}
    >
      <input
        class="num w-13 border-b border-neutral bg-transparent text-right"
        inputmode="numeric"
        aria-label="Viewport width"
        bind:value={typed}
        onblur={take}
      />
      <span class="faint">×</span>
      <input
        class="num w-13 border-b border-neutral bg-transparent text-right"
        inputmode="numeric"
        aria-label="Viewport height"
        bind:value={typedHeight}
        onblur={take}
      />
      <select
        class="ml-1 w-24 cursor-pointer border-b border-neutral bg-base-100"
        aria-label="Common sizes"
        onchange={(event) => {
          const { value } = event.currentTarget;
          event.currentTarget.selectedIndex = 0;
          if (value === 'keep') sizes.keep(width, height);
          else if (value.startsWith('drop ')) sizes.drop(value.slice(5));
          else if (value.startsWith('device ')) onDevice?.(devices.all[Number(value.slice(7))]!);
          else if (value) {
            const [w, h] = value.split('x').map(Number);
            resize(w!, h!);
          }
        }}
      >
        <option value="">Sizes</option>
        {#if onDevice}
          <optgroup label="Devices, by the viewport meta element">
            {#each devices.all as { width: w, height: h, name }, i (name)}<option value="device {i}"
                >{name} {w} × {h}</option
              >{/each}
          </optgroup>
        {/if}
        <optgroup label="Viewports">
          {#each sizes.common as { width: w, height: h, name } (name)}<option value="{w}x{h}"
              >{w} × {h} {name}</option
            >{/each}
        </optgroup>
        {#if sizes.own.length}
          <optgroup label="Own">
            {#each sizes.own as item (item)}<option value={item}>{item.replace('x', ' × ')}</option>{/each}
          </optgroup>
          <optgroup label="Take out of own">
            {#each sizes.own as item (item)}<option value="drop {item}">{item.replace('x', ' × ')}</option
              >{/each}
          </optgroup>
        {/if}
        <option value="keep">Keep {width} × {height}</option>
      </select>
      <button class="sr-only">Set</button>
    </form>
    <div class="relative min-w-0 grow" bind:clientWidth={length}>
      <svg bind:this={rule} width={length} height={HEIGHT} class="block touch-none" aria-hidden="true">
        <path d="M{INSET} {HEIGHT - 14.5}H{length - INSET}" stroke="currentColor" stroke-width="1" />
        {#each ticks as value (value)}
          {@const size = value % 200 === 0 ? 13 : value % 100 === 0 ? 9 : 5}
          <path
            d="M{at(value)} {HEIGHT - 14.5}v{-size}"
            stroke="currentColor"
            stroke-opacity={value % 100 === 0 ? 0.9 : 0.45}
            stroke-width="1"
          />
          {#if value % 200 === 0}<text
              x={at(value)}
              y="11"
              text-anchor="middle"
              font-size="10"
              fill="currentColor"
              class="num">{value}</text
            >{/if}
        {/each}
        {#each notches as { value } (value)}
          <path
            d="M{at(value) - 4.5} {HEIGHT - 1}L{at(value)} {HEIGHT - 13}L{at(value) + 4.5} {HEIGHT - 1}Z"
            fill="var(--color-secondary)"
          />
        {/each}
        <!-- svelte-ignore a11y_no_static_element_interactions -->
        <rect
          width={length}
          height={HEIGHT}
          fill="transparent"
          class="cursor-ew-resize"
          data-rule
          onpointerdown={(event) => {
            dragging = true;
            event.currentTarget.setPointerCapture(event.pointerId);
            drag(event);
          }}
          onpointermove={(event) => dragging && drag(event)}
          onpointerup={() => (dragging = false)}
        />
        <g pointer-events="none">
          <path d="M{at(width)} 1v{HEIGHT - 15}" stroke="var(--color-accent)" stroke-width="1.6" />
          <path d="M{at(width)} {HEIGHT - 14}l-6 -7v-7h6z" fill="var(--color-accent)" />
        </g>
      </svg>
      {#each notches as { value, words } (value)}
        <button
          class="absolute bottom-0 h-3.5 w-3 -translate-x-1/2 cursor-pointer"
          style="left:{at(value)}px"
          title={words.join('\n')}
          aria-label="Breakpoint {words.join('; ')}. Go to {value} px."
          data-notch={value}
          onclick={() => resize(value)}
        ></button>
      {/each}
      <div
        class="absolute top-0 h-8 w-5 -translate-x-1/2"
        style="left:{at(width)}px;pointer-events:none"
        role="slider"
        tabindex="0"
        aria-label="Viewport width"
        aria-valuemin={FROM}
        aria-valuemax={TO}
        aria-valuenow={width}
        aria-valuetext="{width} px"
        onkeydown={key}
        data-jaw
      ></div>
    </div>
  </div>
  <div class="flex h-[19px] shrink-0 border-b border-base-300 bg-base-100 text-[11px]" data-bands>
    <div
      class="flex w-62 shrink-0 items-center gap-2 overflow-hidden border-r border-base-300 px-3 whitespace-nowrap"
    >
      {@render aside?.()}
    </div>
    <svg width={length} height="18" class="min-w-0 grow" role="img" aria-label="{bands.length} trouble bands">
      {#each lanes as { from, to, what, lane, grade }, i (i)}
        <rect
          x={at(from)}
          y={2 + lane * 3}
          width={Math.max(1.5, at(to) - at(from))}
          height="2"
          fill="var(--color-accent)"
          fill-opacity={grade === 'wrong' && isWhole ? 1 : 0.45}
          ><title>{from}–{to} px{grade === 'wrong' ? '' : `, ${grade}`}: {what}</title></rect
        >
      {/each}
      <path d="M{at(width)} 0v18" stroke="var(--color-accent)" stroke-width="0.8" stroke-dasharray="2 2" />
    </svg>
  </div>
</section>
