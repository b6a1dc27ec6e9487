<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { dismiss, notices } from './notices.svelte.ts';
</script>

<div class="fixed right-3 bottom-3 z-50 flex w-96 max-w-[90vw] flex-col gap-2" role="status" aria-live="polite">
  {#each notices as { id, kind, text, action } (id)}
    <div
      class="flex items-start gap-3 border bg-base-100 px-3 py-2 {kind === 'wrong'
        ? 'border-error'
        : 'border-base-content'}"
      data-notice={kind}
    >
      <p class="grow {kind === 'wrong' ? 'text-error' : ''}">{text}</p>
      {#if action}
        <button
          class="linkish font-medium"
          onclick={() => {
            action.run();
            dismiss(id);
          }}>{action.label}</button
        >
      {/if}
      <button class="cursor-pointer" aria-label="Dismiss" onclick={() => dismiss(id)}><X size={15} /></button>
    </div>
  {/each}
</div>
