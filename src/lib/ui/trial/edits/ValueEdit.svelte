<!-- A declared value that is edited where it stands: typed, or stepped with the arrow keys; every step is measured. -->
<script lang="ts">
  import { stepped } from './steps.ts';
  import type { InUse } from '$core/css/values/units-in-use.ts';
  import { optionsFor } from './values.ts';

  let {
    property,
    value,
    label,
    inUse = null,
    commit,
    cancel,
  }: {
    property: string;
    value: string;
    label: string;
    inUse?: InUse | null;
    commit: (value: string, final: boolean) => void;
    cancel: () => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let text = $state(value);
  // svelte-ignore state_referenced_locally
  const first = value;
  let input: HTMLInputElement;
  // All that fits the first value would be that value: what is offered begins with what is typed.
  const options = $derived(inUse ? optionsFor(property, text === first ? '' : text, inUse) : []);
  const listId = $props.id();

  /** Whether the browser takes a value; what holds a variable is only known once it is put in. */
  const isTaken = (one: string) =>
    property.startsWith('--') ||
    /var\(/.test(one) ||
    CSS.supports(property, one.replace(/\s*!important$/i, ''));
  const refused = $derived(text.trim() !== '' && !isTaken(text.trim()));

  function finish() {
    const made = text.trim();
    if (made === '' || made === first || !isTaken(made)) cancel();
    else commit(made, true);
  }

  function key(event: KeyboardEvent) {
    event.stopPropagation();
    if (event.key === 'Enter') {
      event.preventDefault();
      if (!refused) finish();
    } else if (event.key === 'Escape') {
      if (text !== first) commit(first, true);
      cancel();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
      const next = stepped(text, input.selectionStart ?? 0, event.key === 'ArrowUp' ? size : -size);
      if (!next) return;
      event.preventDefault();
      // A zero has no unit, and what it becomes needs one.
      const withUnit = `${next.value.slice(0, next.caret)}px${next.value.slice(next.caret)}`;
      text = !isTaken(next.value) && isTaken(withUnit) ? withUnit : next.value;
      requestAnimationFrame(() => input.setSelectionRange(next.caret, next.caret));
      if (isTaken(text)) commit(text, false);
    }
  }
</script>

<input
  bind:this={input}
  bind:value={text}
  class="code min-w-0 grow border-b-2 bg-transparent outline-none {refused
    ? 'border-error text-error'
    : 'border-primary'}"
  aria-label={label}
  spellcheck="false"
  list={options.length ? listId : undefined}
  onkeydown={key}
  onblur={finish}
  aria-invalid={refused}
  title={refused
    ? `The browser does not take “${text.trim()}” for ${property}: it would do nothing.`
    : undefined}
  {@attach (node) => {
    const own = node as HTMLInputElement;
    own.focus();
    own.select();
  }}
  data-value-edit
/>
{#if options.length}
  <datalist id={listId}
    >{#each options as { value: option, label: note } (option)}<option value={option}>{note}</option
      >{/each}</datalist
  >
{/if}
