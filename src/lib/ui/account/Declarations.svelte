<!-- Who has the say over the pick's properties, and over those that nobody set but the user asks about. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/cascade.ts';
  import type { Source } from '$core/css/styles.ts';
  import type { Bench } from '../bench/bench.svelte.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import { alike } from './alike.ts';
  import DeclarationList from './DeclarationList.svelte';
  import Property from './Property.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();

  let asked = $state('');
  let found = $state.raw<PropertyAccount[]>([]);

  $effect(() => {
    const { account } = bench;
    const name = asked.trim();
    if (!account || !name) {
      found = [];
      return;
    }
    bench.byName(name).then((made) => (found = made), wrong);
  });
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
  {#if bench.properties.length === 0}<p class="faint">
      No rule, style attribute or presentational attribute sets anything on this element itself.
    </p>{/if}
  <DeclarationList {bench} properties={bench.properties} {open} />
  {#each bench.pseudos as { name, properties } (name)}
    <h4 class="code mt-2 font-medium">{name}</h4>
    <DeclarationList {bench} {properties} {open} />
  {/each}
</div>
