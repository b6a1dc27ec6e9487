<!-- The page as a device shows it: the device's width and that of the layout side by side, and why they differ. -->
<script lang="ts">
  import { beyondWords, layoutViewport, shownOn, viewportWords } from '$core/css/media/viewport-meta.ts';
  import type { RawReading } from '$core/reading/reading.ts';
  import { borrowFocus } from '../../focus.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import { devices, type Device } from './sizes.svelte.ts';

  let {
    device,
    contents,
    reading,
    turn,
    leave,
  }: {
    device: Device;
    contents: readonly string[];
    reading: RawReading | null;
    turn: (device: Device) => void;
    leave: () => void;
  } = $props();

  const layout = $derived(layoutViewport(contents, device));
  const wide = $derived(Math.round(layout.width));
  const isOwnWidth = $derived(Math.abs(layout.width - device.width) < 1);
  /** What the page reaches to, as far as it was measured at this width. */
  const reach = $derived(
    reading && Math.abs(reading.viewport.width - wide) < 1 ? Math.round(reading.document.scrollWidth) : 0,
  );
  const beyond = $derived(beyondWords(contents, device, reach));
  const most = $derived(Math.round(shownOn(layout, device, reach).most));
  const hasFixed = $derived(
    reading !== null &&
      (reading.used['position']?.some((value) => reading.strings[value] === 'fixed') ?? false),
  );
  const ROOM = 110;
  const unit = $derived(ROOM / Math.max(device.width, wide, beyond ? reach : 0));
  let editing = $state(false);
  let made = $state({ width: 0, height: 0, ratio: 1, name: '' });

  function edit() {
    made = { ...device };
    editing = true;
  }
  function keep() {
    try {
      const next = { ...made, name: made.name.trim() };
      devices.keep(next);
      editing = false;
      turn(next);
    } catch (error) {
      wrong(error);
    }
  }
</script>

{#snippet dimension(length: number, words: string, colour: string)}
  {@const end = length * unit}
  <g stroke={colour} fill={colour}>
    <path d="M0.5 1v12M{end + 0.5} 1v12M1 7H{end}" fill="none" />
    <path d="M1 7l6-2.4v4.8zM{end} 7l-6-2.4v4.8z" stroke="none" />
  </g>
  <text x={ROOM + 8} y="11" font-size="11" fill="currentColor">{words}</text>
{/snippet}

<section
  class="flex items-center gap-5 border-b border-base-300 bg-base-100 px-4 py-1.5"
  aria-label="Device"
  data-device={device.name}
>
  <svg
    width={ROOM + 120}
    height={beyond ? 55 : 36}
    class="num shrink-0"
    role="img"
    aria-label="The device is {device.width} px wide, the layout {wide} px{beyond
      ? `, the page ${reach} px`
      : ''}"
  >
    <g>{@render dimension(device.width, `device ${device.width} px`, 'currentColor')}</g>
    <g transform="translate(0 19)"
      >{@render dimension(wide, `layout ${wide} px`, isOwnWidth ? 'currentColor' : 'var(--color-accent)')}</g
    >
    {#if beyond}<g transform="translate(0 38)"
        >{@render dimension(reach, `page ${reach} px`, 'var(--color-error)')}</g
      >{/if}
  </svg>
  <div class="min-w-0 grow text-[12.5px]">
    <p>
      <span class="font-medium"
        >{device.name}, {device.width} × {device.height}, {device.ratio} pixels a px.</span
      >
      {viewportWords(contents, device, reach)}.
      {#if beyond}<span class="text-error" data-zoomed-out>{beyond}.</span>{/if}
      {#if hasFixed && Math.abs(most - wide) > 1}What is fixed is laid out {most} px wide there, and {wide} here.{/if}
      {#if !layout.userZoom}<span class="text-accent">It forbids to zoom.</span>{/if}
    </p>
    <span class="flex items-center gap-3">
      <button class="linkish" onclick={() => turn({ ...device, width: device.height, height: device.width })}
        >Turn</button
      >
      <button class="linkish" onclick={edit}>Own …</button>
      {#if devices.isOwn(device)}<button class="linkish" onclick={() => (devices.drop(device), leave())}
          >Drop</button
        >{/if}
      <button class="linkish" onclick={leave}>Leave</button>
    </span>
    {#if editing}
      <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
      <form
        class="mt-1 flex items-center gap-2"
        {@attach borrowFocus()}
        onkeydown={(event) => event.key === 'Escape' && (editing = false)}
        onsubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <input
          class="w-36 border-b border-neutral bg-transparent"
          aria-label="Name of the device"
          bind:value={made.name}
        />
        <input
          class="num w-14 border-b border-neutral bg-transparent"
          type="number"
          aria-label="Width of the device"
          bind:value={made.width}
        />
        ×
        <input
          class="num w-14 border-b border-neutral bg-transparent"
          type="number"
          aria-label="Height of the device"
          bind:value={made.height}
        />
        <input
          class="num w-14 border-b border-neutral bg-transparent"
          type="number"
          step="any"
          aria-label="Pixel ratio"
          bind:value={made.ratio}
        />
        <button class="btn btn-outline btn-xs">Keep as own device</button>
        <button type="button" class="linkish" onclick={() => (editing = false)}>Cancel</button>
      </form>
    {/if}
  </div>
</section>
