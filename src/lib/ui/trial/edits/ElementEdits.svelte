<!-- Changes that are no declarations of the pick: its text, markup and attributes, its place, the viewport meta element, new rules. -->
<script lang="ts">
  import type { Change } from '$core/trials/edit.ts';
  import type { Bench } from '../../bench/state/bench.svelte.ts';
  import { wrong } from '../../notices/notices.svelte.ts';
  import { declarationsOf } from './declarations.ts';
  import type { Trials } from '../trials.svelte.ts';

  let { bench, trials }: { bench: Bench; trials: Trials } = $props();

  type What = 'text' | 'markup' | 'attribute' | 'move' | 'rule' | 'viewport';
  const WHAT: Record<What, { words: string; first: string; second: string }> = {
    text: { words: 'text of the pick', first: '', second: 'text' },
    markup: { words: 'markup in the pick', first: '', second: '<b>markup</b>' },
    attribute: { words: 'attribute of the pick', first: 'name', second: 'value; empty takes it out' },
    move: { words: 'place of the pick', first: '', second: 'before or behind: body > main' },
    rule: { words: 'new rule', first: '.selector', second: 'padding: 4px; width: auto' },
    viewport: { words: 'viewport meta element', first: '', second: 'width=device-width; empty takes it out' },
  };
  const NEEDS_PICK: What[] = ['text', 'markup', 'attribute', 'move'];

  let what = $state<What>('text');
  let first = $state('');
  let second = $state('');
  let where = $state<'before' | 'after' | 'start' | 'end'>('before');
  let sheet = $state('');
  let refused = $state('');

  const sheets = $derived(bench.facts.sheets.filter(({ form }) => form === 'file').map(({ file }) => file));

  async function make() {
    refused = '';
    const file = bench.input.page;
    const path = bench.pick >= 0 ? await bench.elementPath(bench.pick) : null;
    if (NEEDS_PICK.includes(what) && path === null) {
      refused = 'Pick a box of the page first: this changes the picked element.';
      return;
    }
    let change: Change;
    if (what === 'text') change = { do: 'text', file, path: path!, text: second };
    else if (what === 'markup') change = { do: 'markup', file, path: path!, markup: second };
    else if (what === 'attribute') {
      if (!/^[^\s"'<>/=]+$/.test(first)) {
        refused = `“${first}” is no name of an attribute: write one without spaces and quotes.`;
        return;
      }
      change = { do: 'attribute', file, path: path!, name: first, value: second === '' ? null : second };
    } else if (what === 'move') {
      const [target] = await bench.find(second).catch(() => []);
      const to = target === undefined ? null : await bench.elementPath(target);
      if (to === null) {
        refused = `No element matches “${second}”: write a CSS selector of where it shall go.`;
        return;
      }
      change = { do: 'move', file, path: path!, to, where };
    } else if (what === 'viewport') change = { do: 'viewport', file, content: second === '' ? null : second };
    else {
      const { list, bad } = declarationsOf(second);
      if (bad || list.length === 0 || first.trim() === '') {
        refused = bad
          ? `“${bad}” does nothing: the browser does not take it.`
          : 'A rule needs a selector and at least one declaration.';
        return;
      }
      change = {
        do: 'rule',
        at: { kind: 'sheet', file: sheet, style: -1 },
        selector: first.trim(),
        declarations: list.map((item) => ({ ...item, important: false })),
      };
    }
    await trials.make([change]);
    second = '';
  }

  async function simple(kind: 'remove' | 'duplicate') {
    try {
      const path = await bench.elementPath(bench.pick);
      if (path !== null) await trials.make([{ do: kind, file: bench.input.page, path }]);
    } catch (error) {
      wrong(error);
    }
  }
</script>

<form
  class="flex flex-wrap items-baseline gap-x-2 gap-y-1"
  onsubmit={(event) => {
    event.preventDefault();
    void make();
  }}
  data-element-edits
>
  {#if bench.account}
    <button type="button" class="linkish" onclick={() => simple('remove')}
      >Take out {bench.account.label}</button
    >
    <button type="button" class="linkish" onclick={() => simple('duplicate')}>Duplicate it</button>
  {/if}
  <span class="faint">Change</span>
  <select
    class="cursor-pointer border-b border-neutral bg-base-100"
    bind:value={what}
    aria-label="What to change"
    data-what
  >
    {#each Object.entries(WHAT) as [key, { words }] (key)}<option value={key}>{words}</option>{/each}
  </select>
  {#if WHAT[what].first}
    <input
      class="code w-36 border-b border-neutral bg-transparent"
      placeholder={WHAT[what].first}
      bind:value={first}
      aria-label={what === 'rule' ? 'Selector' : 'Name'}
    />
  {/if}
  {#if what === 'move'}
    <select class="cursor-pointer border-b border-neutral bg-base-100" bind:value={where} aria-label="Where">
      <option value="before">before</option><option value="after">behind</option>
      <option value="start">at the start of</option><option value="end">at the end of</option>
    </select>
  {/if}
  <input
    class="code min-w-40 grow border-b border-neutral bg-transparent"
    placeholder={WHAT[what].second}
    bind:value={second}
    aria-label="New value"
    spellcheck="false"
    data-new-value
  />
  {#if what === 'rule'}
    <select
      class="max-w-44 cursor-pointer border-b border-neutral bg-base-100"
      bind:value={sheet}
      aria-label="Sheet"
    >
      <option value="">in a sheet of its own</option>
      {#each sheets as file (file)}<option value={file}>at the end of {file}</option>{/each}
    </select>
  {/if}
  <button class="btn btn-outline btn-xs">Try</button>
  {#if refused}<p class="w-full text-error" role="alert">{refused}</p>{/if}
</form>
