<!-- Margins that met, drawn to one scale between the two edges: the one that counts filled, the others in outline. -->
<script lang="ts">
  import type { GapWords } from '$core/accounts/box.ts';
  import { px } from '$core/geometry/rect.ts';
  import { theme } from '../../theme.svelte.ts';
  import { fillOf } from './areas.ts';

  let { beside }: { beside: GapWords } = $props();

  const night = $derived(theme.name === 'night');
  let width = $state(316);
  const TALL = 62;
  const largest = $derived(
    Math.max(...beside.margins.map(({ px: size }) => Math.abs(size)), Math.abs(beside.gap.used), 1),
  );
  const scale = $derived(TALL / largest);
  const step = $derived(Math.min(112, (width - 66) / beside.margins.length));
</script>

<div bind:clientWidth={width} class="w-full">
  <svg
    {width}
    height={TALL + 44}
    role="img"
    aria-label={beside.margins
      .map((one) => `${one.property} ${px(one.px)} of ${one.label}${one.counts ? ', counts' : ''}`)
      .join('; ')}
    data-collapse={beside.where}
  >
    <path d="M0 12.5h{width}" stroke="currentColor" />
    <path d="M0 {12.5 + Math.abs(beside.gap.used) * scale}h{width}" stroke="currentColor" />
    {#each beside.margins as { label, px: size, counts }, i (i)}
      {@const tall = Math.max(3, Math.abs(size) * scale)}
      {@const x = 6 + i * step}
      <rect
        {x}
        y="12.5"
        width={step - 14}
        height={tall}
        fill={counts ? fillOf('margin', night) : 'none'}
        stroke="currentColor"
        stroke-width={counts ? 1 : 0.8}
        stroke-dasharray="2 2"
        stroke-opacity={counts ? 1 : 0.7}
      />
      <text
        x={x + (step - 14) / 2}
        y="9"
        text-anchor="middle"
        font-size="11"
        font-weight={counts ? 600 : 400}
        fill="currentColor"
        class="num">{px(size)}</text
      >
      <text
        x={x + (step - 14) / 2}
        y={TALL + 28}
        text-anchor="middle"
        font-size="10"
        fill="currentColor"
        class="num">{label.length > 16 ? `${label.slice(0, 15)}…` : label}</text
      >
      <text
        x={x + (step - 14) / 2}
        y={TALL + 40}
        text-anchor="middle"
        font-size="10"
        fill="currentColor"
        fill-opacity="0.75">{counts ? 'counts' : 'lost'}</text
      >
    {/each}
    <g stroke="currentColor" fill="currentColor" transform="translate({width - 24} 12.5)">
      <path d="M0 0v{Math.abs(beside.gap.used) * scale}" fill="none" />
      {#if Math.abs(beside.gap.used) * scale > 12}
        <path d="M0 0l-2.5 6h5z" stroke="none" />
        <path d="M0 {Math.abs(beside.gap.used) * scale}l-2.5 -6h5z" stroke="none" />
      {/if}
      <text
        x="-6"
        y={(Math.abs(beside.gap.used) * scale) / 2 + 4}
        text-anchor="end"
        font-size="12"
        font-weight="600"
        stroke="none"
        class="num">{px(beside.gap.used)}</text
      >
    </g>
  </svg>
</div>
