<!-- One property of the pick, or several that share all of it: the value, why it has it, and every declaration that lost, with the criterion. -->
<script lang="ts">
  import type { PropertyAccount } from '$core/accounts/property.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Place from './Place.svelte';

  let {
    bench,
    names,
    account,
    open,
  }: { bench: Bench; names: string[]; account: PropertyAccount; open: (source: Source) => void } = $props();

  const { declared, beaten, winner, computed, sentence, variables } = $derived(account);
</script>

<div class="flex flex-col gap-0.5 py-1 text-[12.5px]" data-property={names.join(' ')}>
  <p class="code [overflow-wrap:anywhere]">
    <span class="font-medium">{names.join(', ')}</span>: {declared.value}
  </p>
  {#if sentence}<p>{sentence}</p>{/if}
  {#if winner}
    <p class="faint">
      Specificity {winner.specificity}{winner.layer ? `, layer ${winner.layer}` : ''}{winner.conditions.length
        ? `, under ${winner.conditions.join(' and ')}`
        : ''}{variables.length ? `, through ${variables.join(', ')}` : ''}.
    </p>
  {:else if declared.source.origin !== 'browser'}
    <p><Place {bench} source={declared.source} {open} /></p>
  {/if}
  {#if declared.note}<p>{declared.note}</p>{/if}
  {#if computed && computed !== declared.value}<p>
      The engine made of it <span class="code">{computed}</span>.
    </p>{/if}
  {#each beaten as loser, i (i)}
    <div class="border-l-2 border-base-300 pl-2" data-beaten>
      <p>
        beat <span class="code [overflow-wrap:anywhere]"
          >{loser.source.property}: {loser.source.value}{loser.important ? ' !important' : ''}</span
        >:
        {loser.why}
      </p>
      <Place {bench} source={loser.source} {open} />
    </div>
  {/each}
</div>
