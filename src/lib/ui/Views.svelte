<!-- The views of one specimen. -->
<script lang="ts">
  let { here, bench, sweep }: { here: 'bench' | 'sweep'; bench: string; sweep: string } = $props();
  const views = $derived([
    { name: 'Bench', key: 'bench', href: bench },
    { name: 'Sweep', key: 'sweep', href: sweep },
  ] as const);
</script>

<nav class="flex items-center gap-3" aria-label="Views">
  {#each views as { name, key, href } (key)}
    {#if key === here}<span class="border-b-2 border-base-content font-medium" aria-current="page">{name}</span>
    {:else}<a class="linkish" {href}>{name}</a>{/if}
  {/each}
</nav>
