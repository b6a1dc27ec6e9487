<!-- A dimension line between two positions on one axis, with small filled arrowheads, witness lines and its number. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';

  let {
    axis,
    start,
    end,
    at,
    value,
    witness = null,
    strong = false,
    color = '#b3173a',
    limit = Infinity,
  }: {
    axis: 'x' | 'y';
    /** Along the axis, in screen px. */
    start: number;
    end: number;
    /** Across the axis: where the line lies. */
    at: number;
    value: number;
    /** Across the axis: where the witness lines come from. */
    witness?: [number, number] | null;
    strong?: boolean;
    color?: string;
    /** Along the axis: beyond it nothing can be read. */
    limit?: number;
  } = $props();

  const low = $derived(Math.min(start, end));
  const high = $derived(Math.max(start, end));
  const length = $derived(high - low);
  const text = $derived(px(value));
  const room = $derived(text.length * 6.6 + 8);
  const outside = $derived(axis === 'x' && length < room + 14);
  const arrow = $derived(Math.min(6, length / 2));
  const place = (along: number, across: number) => (axis === 'x' ? `${along} ${across}` : `${across} ${along}`);
</script>

<g stroke={color} fill={color} stroke-width={strong ? 1.5 : 1} pointer-events="none">
  {#if witness}
    {#each [[start, witness[0]], [end, witness[1]]] as [along, from], i (i)}
      <path
        d="M{place(along!, from!)}L{place(along!, at + Math.sign(at - from!) * 4)}"
        stroke-opacity="0.75"
        stroke-width="0.8"
        fill="none"
      />
    {/each}
  {/if}
  <path d="M{place(low, at)}L{place(high, at)}" fill="none" />
  <path d="M{place(low, at)}L{place(low + arrow, at - 2.4)}L{place(low + arrow, at + 2.4)}Z" stroke="none" />
  <path d="M{place(high, at)}L{place(high - arrow, at - 2.4)}L{place(high - arrow, at + 2.4)}Z" stroke="none" />
  {#if axis === 'x'}
    {@const middle = outside ? high + room / 2 + 3 : (low + high) / 2}
    {@const x = middle + room / 2 > limit ? Math.min(low, limit) - room / 2 - 6 : middle}
    <rect
      x={x - room / 2}
      y={at - 8}
      width={room}
      height="16"
      fill="#fffdf5"
      stroke={color}
      stroke-width="0.6"
    />
    <text {x} y={at + 4} text-anchor="middle" stroke="none" class="num" font-size="11" font-weight="500"
      >{text}</text
    >
  {:else}
    {@const y = (low + high) / 2 + 8 > limit ? Math.min(low, limit) - 14 : (low + high) / 2}
    <rect
      x={at - room / 2}
      y={y - 8}
      width={room}
      height="16"
      fill="#fffdf5"
      stroke={color}
      stroke-width="0.6"
    />
    <text x={at} y={y + 4} text-anchor="middle" stroke="none" class="num" font-size="11" font-weight="500"
      >{text}</text
    >
  {/if}
</g>
