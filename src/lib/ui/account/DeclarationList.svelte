<!-- Winning declarations as the author wrote them, each to be unfolded into what it gives and what it beat. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/property.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { alike, byDeclaration } from './alike.ts';
  import Place from './Place.svelte';
  import { useTrials } from '../trial/context.ts';
  import ValueEdit from '../trial/edits/ValueEdit.svelte';
  import Property from './Property.svelte';

  let {
    bench,
    properties,
    open,
  }: { bench: Bench; properties: PropertyAccount[]; open: (source: Source) => void } = $props();

  const trials = useTrials();
  let editing = $state('');
  let unfolded = $state<string[]>([]);
  const groups = $derived(byDeclaration(properties));
  const toggle = (key: string) =>
    (unfolded = unfolded.includes(key) ? unfolded.filter((item) => item !== key) : [...unfolded, key]);
  let list: HTMLElement;
  let waiting = '';
  /** Ends an edit; the focus goes back to the value, in whatever list stands there once the page has been measured. */
  function leave(property: string) {
    // A field that is taken away loses the focus, and would be left twice.
    if (editing === '') return;
    waiting = document.activeElement?.hasAttribute('data-value-edit') ? property : '';
    editing = '';
  }
  $effect(() => {
    void [groups, editing];
    if (waiting === '' || editing !== '' || document.activeElement !== document.body) return;
    list.querySelector<HTMLElement>(`[data-edit="${CSS.escape(waiting)}"]`)?.focus();
  });
  const beaten = (accounts: PropertyAccount[]) =>
    accounts.reduce((sum, account) => sum + account.beaten.length, 0);
</script>

<ul bind:this={list}>
  {#each groups as { key, source, important, accounts } (key)}
    {@const isOpen = unfolded.includes(key)}
    <li class="border-b border-base-300 py-1" data-declaration={source.property}>
      <div class="group flex items-baseline gap-1">
        <button
          class="code flex shrink-0 cursor-pointer items-baseline gap-1 font-medium"
          aria-expanded={isOpen}
          onclick={() => toggle(key)}
        >
          <ChevronRight
            size={12}
            class="shrink-0 translate-y-0.5 {isOpen ? 'rotate-90' : ''}"
          />{source.property}:
        </button>
        {#if editing === key}
          <ValueEdit
            property={source.property}
            value={source.value}
            label="Value of {source.property}"
            inUse={bench.facts.inUse}
            commit={(value, final) => {
              if (final) leave(source.property);
              if (value !== source.value) void trials.set(source, value, important);
            }}
            cancel={() => leave(source.property)}
          />
        {:else}
          <button
            class="code min-w-0 grow cursor-text border-b border-dotted border-transparent text-left [overflow-wrap:anywhere] hover:border-neutral focus-visible:border-neutral"
            title="Edit; x mutes it"
            onclick={() => {
              trials.prepare(source);
              editing = key;
            }}
            onkeydown={(event) => {
              if (event.key !== 'x') return;
              event.stopPropagation();
              void trials.mute(source);
            }}
            data-edit={source.property}>{source.value}{important ? ' !important' : ''}</button
          >
          <button
            class="faint shrink-0 cursor-pointer text-[11px] underline-offset-2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:underline"
            onclick={() => trials.mute(source)}
            aria-label="Mute {source.property}"
            data-mute={source.property}>mute</button
          >
        {/if}
        {#if beaten(accounts)}<span class="faint shrink-0 text-[11px]">beat {beaten(accounts)}</span>{/if}
      </div>
      <div class="pl-4"><Place {bench} {source} {open} /></div>
      {#if isOpen}
        <div class="pl-4">
          {#each alike(accounts) as { names, account } (account.property)}<Property
              {bench}
              {names}
              {account}
              {open}
            />{/each}
        </div>
      {/if}
    </li>
  {/each}
</ul>
