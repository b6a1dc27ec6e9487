<!-- What the page at hand is held against: without its trial, under another trial, an earlier revision, another width. -->
<script lang="ts">
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import type { Trials } from '../trials.svelte.ts';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();

  let width = $state(360);
  const others = $derived(trials.all.filter(({ id, edits }) => id !== trials.current?.id && edits.length > 0));
  const chosen = $derived.by(() => {
    const { against } = bench;
    if (against.kind === 'trial') return `trial ${others.find(({ name }) => name === against.name)?.id ?? ''}`;
    return against.kind === 'revision' ? `revision ${against.key}` : against.kind;
  });

  function hold(value: string) {
    const [kind, id] = value.split(' ');
    const trial = others.find((item) => item.id === id);
    const revision = bench.input.earlier.find(({ key }) => key === id);
    const next =
      kind === 'trial' && trial
        ? { kind: 'trial' as const, name: trial.name, edits: trial.edits }
        : kind === 'revision' && revision
          ? { kind: 'revision' as const, ...revision }
          : kind === 'defaults'
            ? { kind: 'defaults' as const, key: bench.input.plainKey }
            : kind === 'width'
              ? { kind: 'width' as const, width }
              : { kind: 'plain' as const };
    bench.holdAgainst(next).catch(wrong);
  }
</script>

<div class="flex flex-wrap items-baseline gap-x-2">
  <label class="flex items-baseline gap-2"
    ><span class="faint">Held against</span>
    <select
      class="border-b border-neutral bg-transparent"
      value={chosen}
      onchange={(event) => hold(event.currentTarget.value)}
      data-against
    >
      <option value="plain">the page without a trial</option>
      {#each others as { id, name } (id)}<option value="trial {id}">{name}</option>{/each}
      {#each bench.input.earlier as { number, key } (key)}<option value="revision {key}"
          >revision {number} of the files</option
        >{/each}
      {#if bench.input.isUnder}<option value="defaults">the defaults as rendered</option>{/if}
      <option value="width">the same at another width</option>
    </select></label
  >
  {#if bench.against.kind === 'width'}
    <input
      class="num w-16 border-b border-neutral bg-transparent text-right"
      type="number"
      min="120"
      max="3840"
      bind:value={width}
      onchange={() => width >= 120 && width <= 3840 && hold('width')}
      aria-label="Width to hold against, in px"
    /> px
  {/if}
</div>
