<!-- Winning declarations as the author wrote them, each to be unfolded into what it gives and what it beat. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/cascade.ts';
  import type { Source } from '$core/css/styles.ts';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Bench } from '../bench/bench.svelte.ts';
  import { alike, byDeclaration } from './alike.ts';
  import Place from './Place.svelte';
  import Property from './Property.svelte';

  let {
    bench,
    properties,
    open,
  }: { bench: Bench; properties: PropertyAccount[]; open: (source: Source) => void } = $props();

  let unfolded = $state<string[]>([]);
  const groups = $derived(byDeclaration(properties));
  const toggle = (key: string) =>
    (unfolded = unfolded.includes(key) ? unfolded.filter((one) => one !== key) : [...unfolded, key]);
  const beaten = (accounts: PropertyAccount[]) =>
    accounts.reduce((sum, account) => sum + account.beaten.length, 0);
</script>

<ul>
  {#each groups as { key, source, important, accounts } (key)}
    {@const isOpen = unfolded.includes(key)}
    <li class="border-b border-base-300 py-1" data-declaration={source.property}>
      <button
        class="flex w-full cursor-pointer items-baseline gap-1 text-left"
        aria-expanded={isOpen}
        onclick={() => toggle(key)}
      >
        <ChevronRight size={12} class="shrink-0 translate-y-0.5 {isOpen ? 'rotate-90' : ''}" />
        <span class="code min-w-0 grow [overflow-wrap:anywhere]"
          ><span class="font-medium">{source.property}</span>: {source.value}{important
            ? ' !important'
            : ''}</span
        >
        {#if beaten(accounts)}<span class="faint shrink-0 text-[11px]">beat {beaten(accounts)}</span>{/if}
      </button>
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
