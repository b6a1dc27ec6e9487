<!-- A declared value that is edited where it stands: typed, or stepped with the arrow keys; every step is measured. -->
<script lang="ts">
  import { stepped } from './steps.ts';

  let {
    value,
    label,
    options = [],
    commit,
    cancel,
  }: {
    value: string;
    label: string;
    options?: string[];
    commit: (value: string, final: boolean) => void;
    cancel: () => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let text = $state(value);
  // svelte-ignore state_referenced_locally
  const first = value;
  let input: HTMLInputElement;
  const listId = $props.id();

  function key(event: KeyboardEvent) {
    event.stopPropagation();
    if (event.key === 'Enter') {
      event.preventDefault();
      commit(text.trim(), true);
    } else if (event.key === 'Escape') {
      if (text !== first) commit(first, true);
      cancel();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
      const next = stepped(text, input.selectionStart ?? 0, event.key === 'ArrowUp' ? size : -size);
      if (!next) return;
      event.preventDefault();
      text = next.value;
      requestAnimationFrame(() => input.setSelectionRange(next.caret, next.caret));
      commit(text, false);
    }
  }
</script>

<input
  bind:this={input}
  bind:value={text}
  class="code min-w-0 grow border-b-2 border-primary bg-transparent outline-none"
  aria-label={label}
  spellcheck="false"
  list={options.length ? listId : undefined}
  onkeydown={key}
  onblur={() => (text.trim() && text !== first ? commit(text.trim(), true) : cancel())}
  {@attach (node) => {
    const own = node as HTMLInputElement;
    own.focus();
    own.select();
  }}
  data-value-edit
/>
{#if options.length}
  <datalist id={listId}
    >{#each options as option (option)}<option value={option}></option>{/each}</datalist
  >
{/if}
