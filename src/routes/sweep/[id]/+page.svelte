<!-- The Sweep: where along the widths something goes wrong or changes, and how numbers run over them. -->
<script lang="ts">
  import { goto } from '$app/navigation';
  import { page as route } from '$app/state';
  import WidthRule from '$lib/ui/bench/width/WidthRule.svelte';
  import { AS_RENDERED } from '$lib/ui/defaults/defaults.ts';
  import DefaultsSelect from '$lib/ui/defaults/DefaultsSelect.svelte';
  import Header from '$lib/ui/Header.svelte';
  import { isTextField } from '$lib/ui/keys.ts';
  import Bands from '$lib/ui/sweep/Bands.svelte';
  import Flips from '$lib/ui/sweep/Flips.svelte';
  import Numbers from '$lib/ui/sweep/Numbers.svelte';
  import Strip from '$lib/ui/sweep/Strip.svelte';
  import { sweepOf } from '$lib/ui/sweep/sweeps.svelte.ts';
  import Views from '$lib/ui/Views.svelte';
  import { asGraded } from '$core/evidence/user-grades.ts';
  import { wrong } from '$lib/ui/notices/notices.svelte.ts';
  import { createUserGrades } from '$lib/ui/bench/state/user-grades.svelte.ts';
  import { onMount } from 'svelte';

  let { data } = $props();
  const asked = route.url.searchParams;
  // svelte-ignore state_referenced_locally
  const { host, specimen, revision, trials, plainKey, defaults } = data;
  const isUnder = defaults !== AS_RENDERED;
  const entry = asked.get('page') ?? revision.entry;
  const page = revision.pages.includes(entry) ? entry : revision.entry;
  const trial = trials.find(({ id, page: own }) => id === asked.get('trial') && own === page) ?? null;
  const pick = asked.get('pick') ?? '';
  const areBarsOver = asked.get('scrollbars') === 'over';
  let width = $state(Number(asked.get('w')) || 1280);
  let height = $state(Number(asked.get('h')) || 800);
  const sweep = sweepOf({
    id: specimen.id,
    host,
    key: revision.key,
    plainKey,
    isUnder,
    defaults,
    page,
    edits: trial?.edits.filter(({ on }) => on) ?? [],
    areBarsOver,
  });
  /** Paths name their boxes here; other selectors are matched on the Bench. */
  const grades = createUserGrades({
    specimen: specimen.id,
    page,
    find: (place) =>
      Promise.resolve(
        Object.entries(sweep.result?.names ?? {}).flatMap(([element, { path }]) =>
          path === place ? [Number(element)] : [],
        ),
      ),
  });
  $effect(() => {
    if (sweep.result) void grades.locate().catch(wrong);
  });
  /** With the bands as the user grades them. */
  const result = $derived(
    sweep.result && {
      ...sweep.result,
      bands: sweep.result.bands.map((band) => asGraded(band, grades.of({ ...band, places: [band.subject] }))),
    },
  );
  const isWhole = $derived(sweep.status === 'done');

  onMount(() => {
    if (sweep.status === 'idle') void sweep.start();
  });

  function address(view: 'bench' | 'sweep' | 'matrix', more: Record<string, string>): string {
    const own = {
      ...(trial && { trial: trial.id }),
      ...(pick && { pick }),
      ...(areBarsOver && { scrollbars: 'over' }),
    };
    const query = new URLSearchParams({
      w: String(width),
      h: String(height),
      ...(page !== revision.entry && { page }),
      ...(data.defaults !== AS_RENDERED && { defaults: data.defaults }),
      ...(view === 'sweep' && own),
      ...more,
    });
    for (const [name, value] of [...query]) if (value === '') query.delete(name);
    return `/${view}/${specimen.id}?${query}`;
  }
  const troubles = $derived((result?.bands ?? []).filter(({ grade }) => grade === 'wrong').length);
  const toBench = (at: number, path: string) =>
    address('bench', { w: String(at), ...(path ? { pick: path } : {}) });
  const again = async (more: Record<string, string>) => {
    await goto(address('sweep', more));
    location.reload();
  };
  function key(event: KeyboardEvent) {
    const element = event.target instanceof HTMLElement ? event.target : null;
    if (event.ctrlKey || event.metaKey || event.altKey || (element && isTextField(element))) return;
    const actions: Record<string, () => unknown> = {
      v: () => goto(toBench(width, pick)),
      w: () => sweep.start(true),
    };
    if (!Object.hasOwn(actions, event.key) || element?.closest('dialog')) return;
    // Other fields have keys of their own; this one is nobody's.
    if (element?.closest('input, select') && event.key !== 'w') return;
    event.preventDefault();
    actions[event.key]!();
  }
  const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
  const mine = $derived(trials.filter((trial) => trial.page === page));
</script>

<svelte:window onkeydown={key} />
<svelte:head><title>{specimen.name}: Sweep · Normetra</title></svelte:head>

<div class="flex h-screen flex-col">
  <Header>
    <span class="faint">/</span>
    <h1 class="truncate font-medium">{specimen.name}</h1>
    <Views
      here="sweep"
      bench={toBench(width, pick)}
      sweep=""
      matrix={address('matrix', { defaults: '', ...(trial && { trial: trial.id }) })}
    />
    {#if revision.pages.length > 1}
      <label class="flex items-center gap-2"
        ><span class="faint">Page</span>
        <select
          class="max-w-56 cursor-pointer border-b border-neutral bg-base-100"
          value={page}
          onchange={(event) => again({ page: event.currentTarget.value })}
        >
          {#each revision.pages as page (page)}<option>{page}</option>{/each}
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
    <DefaultsSelect value={data.defaults} choose={(name) => again({ defaults: name })} />
    <span class="grow"></span>
    <span class="flex items-center gap-3" role="status" data-status={sweep.status}>
      {#if sweep.status === 'running'}
        <progress
          class="progress w-40"
          value={sweep.measured}
          max={Math.max(sweep.expected, 1)}
          aria-label="Widths measured"
        ></progress>
        <span class="num faint w-24">{sweep.measured} of {sweep.expected}</span>
        <button class="linkish" onclick={() => sweep.stop()}>Stop</button>
      {:else}
        {#if result}<span class="faint num whitespace-nowrap"
            >{result.widths.length} of {result.to - result.from + 1} widths measured{sweep.status === 'stopped'
              ? ', stopped'
              : sweep.made
                ? ` ${WHEN.format(sweep.made)}`
                : ''}</span
          >{/if}
        <button class="btn btn-outline btn-xs" onclick={() => sweep.start(true)}>Sweep again</button>
      {/if}
    </span>
  </Header>
  <!-- The rule scrolls with what is below it, so that both have the same scale beside a scrollbar. -->
  <main class="flex min-h-0 grow flex-col overflow-y-auto">
    <div class="sticky top-0 z-10">
      <WidthRule
        {width}
        {height}
        breakpoints={result?.breakpoints ?? []}
        bands={result?.bands ?? []}
        {isWhole}
        resize={(to, tall) => {
          width = Math.round(to);
          if (tall) height = tall;
        }}
      >
        {#snippet aside()}<a class="linkish" href={toBench(width, pick)}>Open the Bench at {width} px</a
          >{/snippet}
      </WidthRule>
    </div>
    {#if sweep.status === 'failed'}
      <div class="m-8 border-2 border-error p-4" role="alert">
        <p class="mb-2 font-medium">
          The page could not be measured at all widths.{result ? ' Below is what was.' : ''}
        </p>
        <p class="mb-3">{sweep.failure}</p>
        <button class="btn btn-primary btn-sm" onclick={() => sweep.start(true)}>Sweep again</button>
      </div>
    {/if}
    {#if result}
      <section class="flex border-b border-base-content" aria-label="What is wrong at which widths">
        <div class="w-62 shrink-0 border-r border-base-300 px-3 py-3">
          <p class="mb-1 font-medium">
            {#if result.overflow.length > 0}
              Scrolls sideways{isWhole ? '' : ', so far,'} at
              {#each result.overflow as { from, to }, i (from)}
                <span class="num mr-1 inline-block text-accent"
                  >{from === to ? from : `${from}–${to}`}{i < result.overflow.length - 1 ? ',' : ' px'}</span
                >
              {/each}
            {:else if !isWhole}Scrolls sideways at no width so far
            {:else}Scrolls sideways at no width from <span class="num">{result.from}</span> to
              <span class="num">{result.to}</span> px{/if}
          </p>
          <p class="faint text-[12px]">
            {result.stretches.length}
            {result.stretches.length === 1 ? 'shape' : 'shapes'} of the layout; {troubles}
            {troubles === 1 ? 'run' : 'runs'} of widths at which something is wrong{isWhole
              ? ''
              : ', as far as was measured'}. A number at the end of a bar opens the Bench there.
          </p>
          <label
            class="mt-2 flex items-center gap-2 text-[12px]"
            title="Phones lay scrollbars over what they scroll"
            ><span class="faint">Scrollbars</span>
            <select
              class="min-w-0 grow cursor-pointer border-b border-neutral bg-base-100"
              value={areBarsOver ? 'over' : 'beside'}
              onchange={(event) => again({ scrollbars: event.currentTarget.value })}
              data-scrollbars
            >
              <option value="beside">take room</option>
              <option value="over">take none, as on phones</option>
            </select>
          </label>
        </div>
        <div class="min-w-0 grow">
          <Strip {sweep} {result} {width} choose={(at) => (width = at)} />
          <Bands {result} {isWhole} {width} to={toBench} />
          {#if result.bands.length === 0}<p class="px-7 py-3">
              {isWhole ? 'Nothing is wrong at any of these widths.' : 'Nothing is wrong so far.'}
            </p>{/if}
        </div>
      </section>
      <div class="flex min-h-[320px] grow">
        <section class="w-1/2 min-w-0 border-r border-base-300" aria-label="What changes">
          <Flips {result} {isWhole} {width} to={toBench} />
        </section>
        <section class="w-1/2 min-w-0 overflow-x-clip" aria-label="Numbers over the widths">
          <Numbers {sweep} {result} {pick} {width} name={specimen.name} />
        </section>
      </div>
    {:else if sweep.status !== 'failed'}
      <div class="flex grow flex-col items-center justify-center gap-2">
        <p>The page is laid out at width after width, and closer wherever two neighbours differ.</p>
        <p class="faint">
          Findings, line breaks, rows, and what is shown are followed until every change is known to 1 px.
        </p>
      </div>
    {/if}
  </main>
</div>
