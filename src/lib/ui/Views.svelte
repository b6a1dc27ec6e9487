<!-- The views of one specimen. -->
<script lang="ts">
  interface Props {
    here: 'bench' | 'sweep' | 'matrix';
    bench: string;
    sweep: string;
    matrix: string;
  }
  let { here, bench, sweep, matrix }: Props = $props();
  const views = $derived([
    { name: 'Bench', key: 'bench', href: bench },
    { name: 'Sweep', key: 'sweep', href: sweep },
    { name: 'Matrix', key: 'matrix', href: matrix },
  ] as const);
</script>

<nav class="flex items-center gap-3" aria-label="Views">
  {#each views as { name, key, href } (key)}
    {#if key === here}<span class="border-b-2 border-base-content font-medium" aria-current="page">{name}</span>
    {:else}<a class="linkish" {href}>{name}</a>{/if}
  {/each}
</nav>
