<!-- Who has the say over the pick's properties, as the author wrote it: each winning declaration with what it gives and beat. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/cascade.ts';
  import type { Source } from '$core/css/cascade.ts';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Bench } from '../bench/bench.svelte.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import Place from './Place.svelte';
  import Property from './Property.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();

  let asked = $state('');
  let found = $state.raw<PropertyAccount[]>([]);
  let unfolded = $state<string[]>([]);

  interface Group {
    key: string;
    source: Source;
    important: boolean;
    accounts: PropertyAccount[];
  }
  /** Longhands of one declaration stand together under it. */
  const groups = $derived.by(() => {
    const out = new Map<string, Group>();
    for (const account of bench.properties) {
      const source = account.winner?.source ?? account.declared.source;
      const key = `${source.sheet}:${source.line}:${source.column}:${source.property}`;
      const known = out.get(key);
      if (known) known.accounts.push(account);
      else out.set(key, { key, source, important: account.winner?.important ?? false, accounts: [account] });
    }
    return [...out.values()];
  });

  $effect(() => {
    const { account } = bench;
    const name = asked.trim();
    if (!account || !name) {
      found = [];
      return;
    }
    bench.byName(name).then((made) => (found = made), wrong);
  });
  /** What is the same for several longhands is told once. */
  function alike(accounts: PropertyAccount[]): { names: string[]; account: PropertyAccount }[] {
    const out = new Map<string, { names: string[]; account: PropertyAccount }>();
    for (const account of accounts) {
      const { property, declared, beaten, computed, sentence, winner } = account;
      const key = JSON.stringify([declared.value, declared.note, computed, winner, beaten, sentence]);
      const known = out.get(key);
      if (known) known.names.push(property);
      else out.set(key, { names: [property], account });
    }
    return [...out.values()];
  }
  const toggle = (key: string) =>
    (unfolded = unfolded.includes(key) ? unfolded.filter((one) => one !== key) : [...unfolded, key]);
  const beaten = (accounts: PropertyAccount[]) =>
    accounts.reduce((sum, account) => sum + account.beaten.length, 0);
</script>

<div class="flex flex-col gap-1">
  <label class="flex items-center gap-2 text-[13px]">
    <span class="shrink-0">Ask about</span>
    <input
      class="code min-w-0 grow border-b border-neutral bg-transparent"
      placeholder="margin-top, border …"
      bind:value={asked}
      spellcheck="false"
      data-ask
    />
  </label>
  {#if found.length}
    <div class="border-l-2 border-accent pl-2" data-asked>
      {#each alike(found) as { names, account } (account.property)}<Property
          {bench}
          {names}
          {account}
          {open}
        />{/each}
    </div>
  {/if}
  {#if groups.length === 0}<p class="faint">
      No rule, style attribute or presentational attribute sets anything on this element itself.
    </p>{/if}
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
</div>
