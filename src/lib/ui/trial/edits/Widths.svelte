<!-- The widths at which an edit is laid over the page. -->
<script lang="ts">
  import type { Edit } from '$core/trials/edit.ts';

  let { edit, set }: { edit: Edit; set: (widths: Edit['widths']) => void } = $props();

  let open = $state(false);
  let from = $state(0);
  let to = $state(600);

  function show() {
    from = edit.widths?.from ?? 0;
    to = edit.widths?.to ?? 600;
    open = true;
  }
</script>

{#if open}
  <form
    class="flex shrink-0 items-baseline gap-1"
    onsubmit={(event) => {
      event.preventDefault();
      open = false;
      set(to >= from ? { from, to } : null);
    }}
  >
    <input
      class="num w-14 border-b border-neutral bg-transparent text-right"
      type="number"
      min="0"
      bind:value={from}
      aria-label="From width"
    />
    to
    <input
      class="num w-14 border-b border-neutral bg-transparent text-right"
      type="number"
      min="0"
      bind:value={to}
      aria-label="To width"
    />
    <button class="linkish">Set</button>
    <button
      type="button"
      class="linkish"
      onclick={() => {
        open = false;
        set(null);
      }}>All</button
    >
  </form>
{:else}
  <button class="linkish shrink-0" onclick={show} title="Widths at which it is laid over the page"
    >{edit.widths ? `${edit.widths.from}–${edit.widths.to} px` : 'all widths'}</button
  >
{/if}
