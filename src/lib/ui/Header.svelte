<script lang="ts">
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import type { Snippet } from 'svelte';
  import { theme } from './theme.svelte.ts';

  let { children }: { children?: Snippet } = $props();
</script>

<header
  class="flex min-h-11 shrink-0 items-center gap-4 border-b border-base-content bg-base-100 px-4 max-[900px]:items-start max-[900px]:py-2"
>
  <a href="/" class="flex items-center gap-2 font-semibold tracking-tight" aria-label="Normetra, to the Shelf">
    <svg width="34" height="16" viewBox="0 0 34 16" aria-hidden="true">
      <path d="M1 1v14M33 1v14" stroke="var(--color-accent)" stroke-width="1.4" />
      <path d="M2 8h30" stroke="currentColor" stroke-width="1.2" />
      <path d="M1.5 8l6-2.4v4.8zM32.5 8l-6-2.4v4.8z" fill="currentColor" />
    </svg>
    Normetra
  </a>
  <div class="flex min-w-0 grow items-center gap-4 max-[900px]:flex-wrap max-[900px]:gap-y-1">
    {@render children?.()}
  </div>
  <button
    class="cursor-pointer p-1"
    onclick={() => theme.toggle()}
    aria-label={theme.name === 'day' ? 'Change to the night theme' : 'Change to the day theme'}
  >
    {#if theme.name === 'day'}<Moon size={16} />{:else}<Sun size={16} />{/if}
  </button>
</header>
