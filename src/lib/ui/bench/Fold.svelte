<!-- The edge of a side of the Bench: folds it away, and opens it again. -->
<script lang="ts">
  import PanelLeftClose from '@lucide/svelte/icons/chevron-left';
  import PanelLeftOpen from '@lucide/svelte/icons/chevron-right';
  import type { Side } from './state/folds.svelte.ts';

  let { side, isFolded, what, toggle }: { side: Side; isFolded: boolean; what: string; toggle: () => void } =
    $props();
  const pointsLeft = $derived((side === 'left') !== isFolded);
</script>

<button
  class="flex w-3.5 shrink-0 cursor-pointer items-center justify-center border-base-300 bg-base-200 hover:bg-base-300 max-[900px]:hidden {side ===
  'left'
    ? 'border-r'
    : 'border-l'}"
  aria-expanded={!isFolded}
  aria-label="{isFolded ? 'Open' : 'Fold away'} {what}"
  title="{isFolded ? 'Open' : 'Fold away'} {what} ({side === 'left' ? '{' : '}'})"
  onclick={toggle}
  data-fold={side}
>
  {#if pointsLeft}<PanelLeftClose size={12} />{:else}<PanelLeftOpen size={12} />{/if}
</button>
