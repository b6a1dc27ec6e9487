<!-- Who has the say over the pick's properties, and over those that nobody set but the user asks about. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/property.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import { useTrials } from '../trial/context.ts';
  import { declarationsOf } from '../trial/edits/declarations.ts';
  import { declarationOptions } from '../trial/edits/values.ts';
  import { alike } from './alike.ts';
  import DeclarationList from './DeclarationList.svelte';
  import Property from './Property.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();

  const trials = useTrials();
  let added = $state('');
  let refused = $state('');
  const options = $derived(declarationOptions(added, bench.facts.inUse));

  /** Declarations as they are written in CSS, put into the element's style attribute. */
  async function addAll() {
    const { list, bad } = declarationsOf(added);
    if (list.length === 0) return;
    refused = bad
      ? `“${bad}” does nothing: the browser does not take it. Write a property, a colon and a value that it takes.`
      : '';
    if (bad) return;
    await trials.add(bench.pick, list);
    added = '';
  }

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
  <form
    class="flex items-center gap-2 text-[13px]"
    onsubmit={(event) => {
      event.preventDefault();
      void addAll();
    }}
  >
    <label class="shrink-0" for="add-declaration">Add</label>
    <input
      id="add-declaration"
      class="code min-w-0 grow border-b border-neutral bg-transparent"
      placeholder="padding: 4px 8px; width: auto"
      bind:value={added}
      spellcheck="false"
      list="declaration-options"
      data-add
    />
    <button class="btn btn-outline btn-xs">Try</button>
  </form>
  <datalist id="declaration-options"
    >{#each options as { value, label } (value)}<option {value}>{label}</option>{/each}</datalist
  >
  {#if refused}<p class="text-[12.5px] text-error" role="alert">{refused}</p>{/if}
  {#if bench.properties.length === 0}<p class="faint">
      No rule, style attribute or presentational attribute sets anything on this element itself.
    </p>{/if}
  <DeclarationList {bench} properties={bench.properties} {open} />
  {#each bench.pseudos as { name, properties } (name)}
    <h4 class="code mt-2 font-medium">{name}</h4>
    <DeclarationList {bench} {properties} {open} />
  {/each}
</div>
