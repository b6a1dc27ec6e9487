<!-- The hatchings that tell the areas of a box apart wherever one is drawn. -->
<script lang="ts">
  const INKS = [
    { suffix: '', teal: '#0f6666', crimson: '#b3173a' },
    { suffix: '-night', teal: '#5fc0b8', crimson: '#f0738c' },
  ];
</script>

<svg width="0" height="0" class="absolute" aria-hidden="true">
  <defs>
    {#each INKS as { suffix, teal, crimson } (suffix)}
      <pattern
        id="area-padding{suffix}"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="5" stroke={teal} stroke-width="1.1" />
      </pattern>
      <pattern id="area-margin{suffix}" width="5" height="5" patternUnits="userSpaceOnUse">
        <circle cx="1.25" cy="1.25" r="0.85" fill={crimson} />
        <circle cx="3.75" cy="3.75" r="0.85" fill={crimson} />
      </pattern>
    {/each}
    <pattern id="area-scrollbar" width="4" height="4" patternUnits="userSpaceOnUse">
      <path d="M0 2h4M2 0v4" stroke="#7d786b" stroke-width="0.7" />
    </pattern>
  </defs>
</svg>
