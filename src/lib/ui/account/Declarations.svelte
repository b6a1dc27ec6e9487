<!-- Who has the say over each property of the pick: the winner, what it beat and by which criterion, or the default. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/cascade.ts';
  import type { Source } from '$core/css/cascade.ts';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Bench } from '../bench/bench.svelte.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import Place from './Place.svelte';

  let { bench, open }: { bench: Bench; open: (source: Source) => void } = $props();

  let asked = $state('');
  let found = $state.raw<PropertyAccount[]>([]);
  let unfolded = $state<string[]>([]);

  async function ask() {
    if (!asked.trim() || bench.pick < 0) return;
    try {
      found = await bench.byName(asked);
      unfolded = [...unfolded, ...found.map(({ property }) => `asked ${property}`)];
    } catch (error) {
      wrong(error);
    }
  }
  $effect(() => {
    if (bench.account && asked.trim()) void ask();
    if (!asked.trim()) found = [];
  });
  const toggle = (key: string) =>
    (unfolded = unfolded.includes(key) ? unfolded.filter((one) => one !== key) : [...unfolded, key]);
</script>

{#snippet row(account: PropertyAccount, key: string)}
  {@const { property, declared, beaten, winner, computed, sentence, variables } = account}
  {@const isOpen = unfolded.includes(key)}
  <li class="border-b border-base-300 py-1" data-property={property}>
    <div class="flex items-baseline gap-1">
      <button
        class="flex min-w-0 grow cursor-pointer items-baseline gap-1 text-left"
        aria-expanded={isOpen}
        onclick={() => toggle(key)}
      >
        <ChevronRight size={12} class="shrink-0 translate-y-0.5 {isOpen ? 'rotate-90' : ''}" />
        <span class="code truncate"
          ><span class="font-medium">{property}</span>: {declared.written ?? declared.value}{winner?.important
            ? ' !important'
            : ''}</span
        >
        {#if beaten.length}<span class="faint shrink-0 text-[11px]">beat {beaten.length}</span>{/if}
      </button>
      <span class="max-w-[52%] min-w-0 shrink"><Place {bench} source={declared.source} {open} /></span>
    </div>
    {#if isOpen}
      <div class="ml-4 flex flex-col gap-1 pt-1 text-[12.5px]">
        {#if sentence}<p>{sentence}</p>{/if}
        {#if declared.written && declared.written !== declared.value}<p>
            For {property} it gives <span class="code">{declared.value}</span>.
          </p>{/if}
        {#if declared.note}<p>{declared.note}</p>{/if}
        {#if variables.length}<p>Through <span class="code">{variables.join(', ')}</span>.</p>{/if}
        {#if computed && computed !== declared.value}<p>
            The engine made of it <span class="code">{computed}</span>.
          </p>{/if}
        {#if winner}<p class="faint">
            Specificity {winner.specificity}{winner.layer ? `, layer ${winner.layer}` : ''}{winner.conditions
              .length
              ? `, under ${winner.conditions.join(' and ')}`
              : ''}.
          </p>{/if}
        {#each beaten as loser, i (i)}
          <div class="border-l-2 border-base-300 pl-2" data-beaten>
            <div class="code line-through decoration-from-font">
              {loser.source.property}: {loser.value}{loser.important ? ' !important' : ''}
            </div>
            <div class="flex flex-wrap items-baseline gap-x-2">
              <Place {bench} source={loser.source} {open} /><span>lost: {loser.why}</span>
            </div>
          </div>
        {/each}
      </div>
    {/if}
  </li>
{/snippet}

<div class="flex flex-col gap-1">
  <label class="flex items-center gap-2 text-[13px]"
    ><span>Ask about</span>
    <input
      class="code grow border-b border-neutral bg-transparent"
      placeholder="any property, as margin-top or border"
      bind:value={asked}
      spellcheck="false"
      data-ask
    />
  </label>
  {#if found.length}
    <ul class="border-l-2 border-accent pl-2">
      {#each found as account (account.property)}{@render row(account, `asked ${account.property}`)}{/each}
    </ul>
  {/if}
  {#if bench.properties.length === 0}<p class="faint">
      No rule, style attribute or presentational attribute sets anything on this element itself.
    </p>{/if}
  <ul>
    {#each bench.properties as account (account.property)}{@render row(account, account.property)}{/each}
  </ul>
</div>
