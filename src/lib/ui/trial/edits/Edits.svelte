<!-- The edits of a trial in their order, each to be switched off, moved up or down, and dropped. -->
<script lang="ts">
  import { STATES, type State } from '$core/trials/edit.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import Group from './Group.svelte';
  import ElementEdits from './ElementEdits.svelte';
  import type { Trials } from '../trials.svelte.ts';
  import Engines from './Engines.svelte';
  import Widths from './Widths.svelte';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();
  const { revision } = $derived(bench.input);

  let words = $state.raw<string[]>([]);
  $effect(() => {
    let isLast = true;
    void bench.editWords(trials.edits.map((edit) => ({ ...edit, on: true }))).then((made) => {
      if (isLast) words = made;
    });
    return () => {
      isLast = false;
    };
  });
  /** Why an edit that is on finds nothing to change. */
  const why = $derived(new Map(bench.unlaid.map(({ id, why: reason }) => [id, reason])));

  const lost = $derived(
    trials.edits.flatMap((edit, index) => {
      const reason = why.get(edit.id);
      return reason ? [{ edit, index, reason }] : [];
    }),
  );
  const groups = $derived([...new Set(trials.edits.map((edit) => edit.group).filter(Boolean))]);

  const forced = $derived(
    trials.edits.flatMap(({ change, on }) =>
      on && change.do === 'state' && bench.account?.path === change.path ? change.states : [],
    ),
  );
  const force = (state: State) =>
    trials.force(
      bench.pick,
      forced.includes(state) ? forced.filter((item) => item !== state) : [...forced, state],
    );
</script>

<div class="flex flex-col gap-2 text-[13px]">
  {#if trials.edits.length === 0}
    <p class="max-w-[70ch]">
      Nothing is tried yet. Pick a box and, under “Declarations” in its account, click a value to change it: the
      arrow keys step its numbers (with Shift by 10, with Alt by 0.1), <kbd class="code">x</kbd> mutes it.
      <kbd class="code">Delete</kbd> takes the picked element out. The files stay as they are.
    </p>
  {:else}
    {#if lost.length}
      <div class="border-l-2 border-error pl-2" role="alert" data-lost-edits>
        <p>
          {lost.length === 1 ? 'One edit finds' : `${lost.length} edits find`} nothing to change in revision {revision}
          of the files. The others are laid over it.
          <button class="linkish" onclick={() => trials.dropAll(lost.map(({ edit }) => edit.id))}
            >Drop {lost.length === 1 ? 'it' : 'them'}</button
          >
        </p>
        <ul>
          {#each lost as { edit, index, reason } (edit.id)}<li>{index + 1}. {reason}</li>{/each}
        </ul>
      </div>
    {/if}
    <ol class="flex flex-col" data-edits>
      {#each trials.edits as edit, i (edit.id)}
        {#if edit.group && edit.group !== trials.edits[i - 1]?.group}
          {@const all = trials.edits.filter((item) => item.group === edit.group)}
          <li class="flex items-baseline gap-2 border-b border-base-content pt-1" data-group={edit.group}>
            <span class="w-5"></span>
            <label class="flex cursor-pointer items-baseline gap-2 font-medium"
              ><input
                type="checkbox"
                class="translate-y-0.5 accent-current"
                checked={all.every(({ on }) => on)}
                onchange={(event) => trials.toggleGroup(edit.group, event.currentTarget.checked)}
              />{edit.group}</label
            >
            <span class="faint">{all.length} {all.length === 1 ? 'edit' : 'edits'}</span>
          </li>
        {/if}
        <li class="flex items-baseline gap-2 border-b border-base-300 py-0.5" data-edit-row={edit.change.do}>
          <span class="num faint w-5 text-right {edit.group ? 'border-l-2 border-base-300' : ''}">{i + 1}</span>
          <label class="flex min-w-0 grow cursor-pointer items-baseline gap-2">
            <input
              type="checkbox"
              class="translate-y-0.5 accent-current"
              checked={edit.on}
              onchange={() => trials.toggle(edit.id)}
              aria-label="Edit {i + 1} is laid over the page"
            />
            <span class="min-w-0 [overflow-wrap:anywhere] {edit.on ? '' : 'line-through opacity-60'}"
              >{words[i] ?? edit.change.do}{#if why.has(edit.id)}<span class="text-error">
                  – {why.get(edit.id)}</span
                >{/if}</span
            >
          </label>
          <Group {edit} {groups} set={(name) => trials.group(edit.id, name)} />
          <Widths {edit} set={(widths) => trials.limit(edit.id, widths)} />
          <Engines {edit} set={(engines) => trials.limitEngines(edit.id, engines)} />
          <button class="linkish" aria-label="Move edit {i + 1} up" onclick={() => trials.shift(edit.id, -1)}
            >↑</button
          >
          <button class="linkish" aria-label="Move edit {i + 1} down" onclick={() => trials.shift(edit.id, 1)}
            >↓</button
          >
          <button class="linkish" onclick={() => trials.drop(edit.id)}>Drop</button>
        </li>
      {/each}
    </ol>
  {/if}
  <ElementEdits {bench} {trials} />
  {#if bench.account}
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <span class="faint">Show {bench.account.label} as if</span>
      {#each STATES as state (state)}
        <label class="code flex cursor-pointer items-center gap-1"
          ><input
            type="checkbox"
            class="accent-current"
            checked={forced.includes(state)}
            onchange={() => force(state)}
          />:{state}</label
        >
      {/each}
    </div>
  {/if}
</div>
