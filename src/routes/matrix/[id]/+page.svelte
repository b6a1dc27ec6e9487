<!-- The Matrix: one page in several engines and under several default styles: what differs, and because of what. -->
<script lang="ts">
  import { goto } from '$app/navigation';
  import { page as route } from '$app/state';
  import WidthRule from '$lib/ui/bench/width/WidthRule.svelte';
  import Header from '$lib/ui/Header.svelte';
  import { isTextField } from '$lib/ui/keys.ts';
  import Causes from '$lib/ui/matrix/Causes.svelte';
  import Findings from '$lib/ui/matrix/Findings.svelte';
  import Outlines from '$lib/ui/matrix/Outlines.svelte';
  import { createMatrixRun } from '$lib/ui/matrix/run.svelte.ts';
  import { wrong } from '$lib/ui/notices/notices.svelte.ts';
  import Views from '$lib/ui/Views.svelte';
  import { onMount } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';

  let { data } = $props();
  const asked = route.url.searchParams;
  // svelte-ignore state_referenced_locally
  const { specimen, revision, trials, profiles } = data;
  const entry = asked.get('page') ?? revision.entry;
  const page = revision.pages.includes(entry) ? entry : revision.entry;
  const trial = trials.find(({ id, page: own }) => id === asked.get('trial') && own === page) ?? null;
  let width = $state(Number(asked.get('w')) || 1280);
  let height = $state(Number(asked.get('h')) || 800);
  const run = createMatrixRun({
    specimen: specimen.id,
    revision: revision.number,
    page,
    edits: trial?.edits.filter(({ on }) => on) ?? [],
  });
  const engines = new SvelteSet<string>();
  const defaults = new SvelteSet<string>();
  const count = $derived(engines.size + defaults.size);
  let against = $state(0);
  let chosen = $state(0);
  let picked = $state('');
  let shows = $state<'both' | 'first' | 'second'>('both');

  const document = $derived(run.document);
  const first = $derived(document?.columns[0]?.name ?? '');
  const comparison = $derived(
    document?.comparisons[Math.min(against, document.comparisons.length - 1)] ?? null,
  );
  const marked = $derived.by(() => {
    const cause = comparison?.causes[chosen];
    return cause ? new Set(cause.numbers.map(({ path }) => path)) : null;
  });
  /** What is on screen is of another width, or of other columns, than what is chosen now. */
  const isStale = $derived(
    document !== null &&
      (document.widths[0] !== width ||
        [...engines, ...[...defaults].map((name) => `${name} defaults`)].join() !==
          document.columns.map(({ name }) => name).join()),
  );

  const measure = (isAnew: boolean) => {
    against = 0;
    chosen = 0;
    picked = '';
    return run.start({ width, height, engines: [...engines], defaults: [...defaults] }, isAnew);
  };
  onMount(() => {
    run
      .list()
      .then(() => {
        for (const { name, why } of run.engines ?? []) if (why === null) engines.add(name);
        if (engines.size < 2 && profiles.includes('firefox')) defaults.add('firefox');
        return engines.size > 0 ? measure(false) : undefined;
      })
      .catch(wrong);
    return () => run.stop();
  });

  function address(view: 'bench' | 'sweep', more: Record<string, string> = {}): string {
    const query = new URLSearchParams({
      w: String(width),
      h: String(height),
      ...(page !== revision.entry && { page }),
      ...more,
    });
    return `/${view}/${specimen.id}?${query}`;
  }
  const again = async (more: Record<string, string>) => {
    const query = new URLSearchParams({ w: String(width), h: String(height), page, ...more });
    for (const [name, value] of [...query]) if (value === '') query.delete(name);
    await goto(`/matrix/${specimen.id}?${query}`);
    location.reload();
  };
  const toggle = (set: SvelteSet<string>, name: string) => {
    if (!set.delete(name)) set.add(name);
  };
  function key(event: KeyboardEvent) {
    const element = event.target instanceof HTMLElement ? event.target : null;
    if (event.ctrlKey || event.metaKey || event.altKey || (element && isTextField(element))) return;
    const actions: Record<string, () => unknown> = {
      b: () => (shows = shows === 'first' ? 'second' : 'first'),
      v: () => goto(address('bench', picked ? { pick: picked } : {})),
      m: () => count > 1 && measure(true),
      Escape: () => {
        picked = '';
        shows = 'both';
      },
    };
    if (!Object.hasOwn(actions, event.key) || element?.closest('dialog, select')) return;
    event.preventDefault();
    actions[event.key]!();
  }
  const mine = $derived(trials.filter((item) => item.page === page));
</script>

<svelte:window onkeydown={key} />
<svelte:head><title>{specimen.name}: Matrix · Normetra</title></svelte:head>

<div class="flex h-screen flex-col">
  <Header>
    <span class="faint">/</span>
    <h1 class="truncate font-medium">{specimen.name}</h1>
    <Views
      here="matrix"
      bench={address('bench', picked ? { pick: picked } : {})}
      sweep={address('sweep')}
      matrix=""
    />
    {#if revision.pages.length > 1}
      <label class="flex items-center gap-2"
        ><span class="faint">Page</span>
        <select
          class="max-w-56 cursor-pointer border-b border-neutral bg-base-100"
          value={page}
          onchange={(event) => again({ page: event.currentTarget.value })}
        >
          {#each revision.pages as name (name)}<option>{name}</option>{/each}
        </select>
      </label>
    {/if}
    {#if mine.length > 0}
      <label class="flex items-center gap-2"
        ><span class="faint">Under</span>
        <select
          class="max-w-40 cursor-pointer border-b border-neutral bg-base-100"
          value={trial?.id ?? ''}
          onchange={(event) => again({ trial: event.currentTarget.value })}
        >
          <option value="">no trial</option>
          {#each mine as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
        </select>
      </label>
    {/if}
    <span class="grow"></span>
    <span class="flex items-center gap-3" role="status" data-status={run.status}>
      {#if run.status === 'running'}
        <progress class="progress w-32" value={run.share} max="1" aria-label="Columns measured"></progress>
        <span class="faint w-44">{run.words}</span>
        <button class="linkish" onclick={() => run.stop()}>Stop</button>
      {:else}
        {#if count < 2 && run.engines}<span class="faint">Choose two columns or more</span>{/if}
        <button
          class="btn btn-xs {isStale ? 'btn-primary' : 'btn-outline'}"
          disabled={count < 2}
          onclick={() => measure(true)}>{document ? 'Measure again' : 'Measure'}</button
        >
      {/if}
    </span>
  </Header>
  <WidthRule
    {width}
    {height}
    breakpoints={[]}
    resize={(to, tall) => {
      width = Math.round(to);
      if (tall) height = tall;
    }}
  >
    {#snippet aside()}<a class="linkish" href={address('bench')}>Open the Bench at {width} px</a>{/snippet}
  </WidthRule>
  <main class="flex min-h-0 grow">
    <section
      class="flex w-[46%] min-w-0 flex-col overflow-y-auto border-r border-base-content"
      aria-label="Columns and causes"
    >
      <fieldset class="border-b border-base-300 px-4 py-2 text-[13px]">
        <legend class="sr-only">Columns</legend>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
          {#each run.engines ?? [] as engine (engine.name)}
            <label
              class="flex items-center gap-1.5 {engine.why ? 'faint' : 'cursor-pointer'}"
              title={engine.why ?? engine.place}
            >
              <input
                type="checkbox"
                class="checkbox checkbox-xs"
                checked={engines.has(engine.name)}
                disabled={engine.why !== null}
                onchange={() => toggle(engines, engine.name)}
              />{engine.title}</label
            >
          {/each}
          <span class="faint">Defaults of</span>
          {#each profiles as name (name)}
            <label class="flex cursor-pointer items-center gap-1.5">
              <input
                type="checkbox"
                class="checkbox checkbox-xs"
                checked={defaults.has(name)}
                onchange={() => toggle(defaults, name)}
              />{name}</label
            >
          {/each}
        </div>
        {#each (run.engines ?? []).filter(({ why, install }) => why !== null && install) as { name, title, install } (name)}
          <p class="faint mt-1 text-[12px]">
            {title} is not on the server’s machine: <code class="code">{install}</code>
          </p>
        {/each}
      </fieldset>
      {#if run.status === 'failed'}
        <div class="m-4 border-2 border-error p-4" role="alert">
          <p class="mb-2 font-medium">The page could not be measured in all of them.</p>
          <p class="mb-3">{run.failure}</p>
          <button class="btn btn-primary btn-sm" disabled={count < 2} onclick={() => measure(true)}
            >Measure again</button
          >
        </div>
      {/if}
      {#if document && comparison}
        <div class={isStale || run.status === 'running' ? 'opacity-60' : ''}>
          {#if document.comparisons.length > 1}
            <div
              class="flex gap-4 border-b border-base-300 px-4 py-1.5"
              role="group"
              aria-label="What is held against {first}"
            >
              {#each document.comparisons as { column, boxes }, n (column)}
                <button
                  class="cursor-pointer {against === n
                    ? 'border-b-2 border-base-content font-medium'
                    : 'linkish'}"
                  aria-pressed={against === n}
                  data-against={column}
                  onclick={() => {
                    against = n;
                    chosen = 0;
                    picked = '';
                  }}>{column} <span class="num faint">{boxes}</span></button
                >
              {/each}
            </div>
          {/if}
          <Causes
            {comparison}
            {first}
            {chosen}
            {picked}
            choose={(cause) => {
              chosen = cause;
              picked = '';
            }}
            pick={(path) => (picked = picked === path ? '' : path)}
          />
        </div>
      {:else if run.status !== 'failed'}
        <div class="flex grow flex-col items-center justify-center gap-2 p-8 text-center">
          <p>The page is measured in every engine that is ticked, and each is held against the first.</p>
          <p class="faint">
            What differs is followed back, sum by sum, to what makes it differ: a default, a font, scrollbars, a
            declaration that one of them does not take.
          </p>
        </div>
      {/if}
    </section>
    <section class="flex w-[54%] min-w-0 flex-col" aria-label="Outlines and findings">
      {#if document && comparison}
        <div class="min-h-0 grow {isStale || run.status === 'running' ? 'opacity-60' : ''}">
          <Outlines
            {comparison}
            {first}
            {marked}
            {picked}
            {shows}
            pick={(path) => (picked = picked === path ? '' : path)}
            show={(what) => (shows = what)}
          />
        </div>
        <div class="max-h-[45%] shrink-0 overflow-y-auto border-t border-base-content">
          <Findings {document} to={(path) => address('bench', { pick: path })} />
        </div>
      {/if}
    </section>
  </main>
</div>
