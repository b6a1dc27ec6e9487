<script lang="ts">
  import { goto, invalidateAll, replaceState } from '$app/navigation';
  import { page as route } from '$app/state';
  import { pathOf } from '$core/reading/labels.ts';
  import { layoutViewport } from '$core/css/media/viewport-meta.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import Account from '$lib/ui/account/Account.svelte';
  import Spot from '$lib/ui/asking/Spot.svelte';
  import Distance from '$lib/ui/account/Distance.svelte';
  import { createBench } from '$lib/ui/bench/state/bench.svelte.ts';
  import { AS_RENDERED } from '$lib/ui/defaults/defaults.ts';
  import DefaultsSelect from '$lib/ui/defaults/DefaultsSelect.svelte';
  import DeviceBar from '$lib/ui/bench/width/DeviceBar.svelte';
  import Facts from '$lib/ui/bench/Facts.svelte';
  import Fold from '$lib/ui/bench/Fold.svelte';
  import { createFolds } from '$lib/ui/bench/state/folds.svelte.ts';
  import Reliances from '$lib/ui/defaults/Reliances.svelte';
  import Findings from '$lib/ui/bench/Findings.svelte';
  import OriginNews from '$lib/ui/bench/OriginNews.svelte';
  import { createOrigin } from '$lib/ui/bench/state/origin.svelte.ts';
  import Keys from '$lib/ui/bench/Keys.svelte';
  import { borrowFocus, giveFocus } from '$lib/ui/focus.ts';
  import { isTextField } from '$lib/ui/keys.ts';
  import SourceSheet from '$lib/ui/bench/SourceSheet.svelte';
  import type { Device } from '$lib/ui/bench/width/sizes.svelte.ts';
  import { BOX_FILTER_WORDS, type BoxFilter } from '$lib/ui/bench/stage/box-filters.ts';
  import Stage from '$lib/ui/bench/stage/Stage.svelte';
  import Tools from '$lib/ui/bench/stage/Tools.svelte';
  import WidthRule from '$lib/ui/bench/width/WidthRule.svelte';
  import Header from '$lib/ui/Header.svelte';
  import { sweepOf } from '$lib/ui/sweep/sweeps.svelte.ts';
  import Views from '$lib/ui/Views.svelte';
  import { done, wrong } from '$lib/ui/notices/notices.svelte.ts';
  import { askConflict } from '$lib/ui/notices/conflicts.svelte.ts';
  import { isConflict, okSchema, send } from '$lib/ui/send.ts';
  import { formOf, fromInput } from '$lib/ui/shelf/bring.ts';
  import { since } from '$lib/ui/since.ts';
  import { provideTrials } from '$lib/ui/trial/context.ts';
  import TrialSheet from '$lib/ui/trial/TrialSheet.svelte';
  import { asGraded } from '$core/evidence/user-grades.ts';
  import { createUserGrades } from '$lib/ui/bench/state/user-grades.svelte.ts';
  import { createTrials } from '$lib/ui/trial/trials.svelte.ts';
  import { onDestroy, onMount, untrack } from 'svelte';
  import { z } from 'zod';

  let { data } = $props();

  const asked = route.url.searchParams;
  const number = (name: string, otherwise: number) => {
    const value = Number(asked.get(name));
    return Number.isFinite(value) && value > 0 ? value : otherwise;
  };
  // What is read here once is of the revision that the page was opened with; the Bench follows newer ones below.
  // svelte-ignore state_referenced_locally
  const { host, specimen, revision, earlier, plainKey, defaults } = data;
  // svelte-ignore state_referenced_locally
  const isUnder = data.defaults !== AS_RENDERED;
  const entry = asked.get('page') ?? revision.entry;
  const bench = createBench(
    {
      id: specimen.id,
      name: specimen.name,
      host,
      key: revision.key,
      isUnder,
      defaults,
      plainKey,
      page: revision.pages.includes(entry) ? entry : revision.entry,
      scripts: specimen.scripts,
      version: specimen.version,
      revision: revision.number,
      earlier,
    },
    { width: number('w', 1280), height: number('h', 800), pick: asked.get('pick') ?? '' },
  );

  // svelte-ignore state_referenced_locally
  const trials = provideTrials(createTrials(bench, specimen.id, data.trials));
  // svelte-ignore state_referenced_locally
  const origin =
    data.origin &&
    createOrigin({ bench, trials, specimen: specimen.id, ...data.origin, reload: invalidateAll });
  const folder = origin?.kind === 'folder' ? origin : null;
  $effect(() => {
    const { revision, earlier, plainKey } = data;
    const next = { revision: revision.number, key: revision.key, plainKey, earlier };
    untrack(() => void bench.follow(next).catch(wrong));
  });
  let trying = $state(false);
  /** The device that the page is shown as; null: it has the viewport that the width rule says. */
  let device = $state.raw<Device | null>(null);
  $effect(() => {
    const isDevice = device !== null;
    untrack(() => void bench.layBars(isDevice).catch(wrong));
  });
  $effect(() => {
    if (!device || !bench.reading) return;
    const { width: wide, height: tall } = layoutViewport(bench.viewports, device);
    const [w, h] = [Math.round(wide), Math.round(tall)];
    untrack(() => {
      if (w !== bench.width || h !== bench.height) bench.resize(w, h);
    });
  });
  const sweep = $derived(
    sweepOf({
      ...bench.input,
      edits: trials.edits.filter(({ on }) => on),
      areBarsOver: device !== null,
    }),
  );
  const grades = createUserGrades({
    specimen: bench.input.id,
    page: bench.input.page,
    find: (place) => bench.elementsOf(place),
  });
  /** As the user grades them; what they say is meant is not drawn. */
  const bands = $derived(
    (sweep.result?.bands ?? [])
      .map((band) => asGraded(band, grades.of({ ...band, places: [band.subject] })))
      .filter(({ grade }) => grade !== 'meant'),
  );
  const troubles = $derived(bands.filter(({ grade }) => grade === 'wrong').length);
  const toSweep = $derived.by(() => {
    const query = new URLSearchParams({ w: String(bench.width), h: String(bench.height) });
    if (bench.input.page !== data.revision.entry) query.set('page', bench.input.page);
    if (data.defaults !== AS_RENDERED) query.set('defaults', data.defaults);
    if (device) query.set('scrollbars', 'over');
    if (trials.current && trials.edits.length > 0) query.set('trial', trials.current.id);
    if (bench.reading && bench.pick >= 0 && bench.pick < bench.reading.count)
      query.set('pick', pathOf(bench.reading, bench.pick));
    return `/sweep/${data.specimen.id}?${query}`;
  });

  let stage: Stage;
  let tools: Tools;
  let findings: Findings;
  let zoom = $state(0);
  let scale = $state(1);
  let frameHolder = $state<HTMLElement>();
  let bareHolder: HTMLElement;
  let source = $state.raw<{ source: Source; text: string } | null>(null);
  let keys = $state(false);
  /** A failure that the user has read and closed. */
  let isFailureClosed = $state(false);
  $effect(() => {
    if (bench.status !== 'failed') isFailureClosed = false;
  });
  const folds = createFolds();
  let naming = $state(false);
  let note = $state('');

  onMount(() => {
    const edits = trials.recall();
    trying = edits.length > 0;
    if (edits.length > 0) void bench.lay(edits);
    void bench.open({ page: frameHolder!, bare: bareHolder });
    return origin?.listen();
  });
  $effect(() => {
    if (trials.edits.length > 0) trying = true;
  });
  onDestroy(() => bench.close());

  /** What is done at once is not worth a sign, and drawing one would hold it up. */
  let takesLong = $state(false);
  $effect(() => {
    const isBusy = bench.status === 'opening' || bench.status === 'measuring';
    takesLong = false;
    if (!isBusy) return;
    const timer = setTimeout(() => (takesLong = true), 300);
    return () => clearTimeout(timer);
  });

  /** The address says specimen, width and pick, so that it can be sent to someone. */
  $effect(() => {
    const { reading, pick, width, height } = bench;
    if (!reading) return;
    const url = new URL(location.href);
    url.searchParams.set('w', String(width));
    url.searchParams.set('h', String(height));
    if (bench.input.page === data.revision.entry) url.searchParams.delete('page');
    else url.searchParams.set('page', bench.input.page);
    if (pick >= 0 && pick < reading.count) url.searchParams.set('pick', pathOf(reading, pick));
    else url.searchParams.delete('pick');
    if (url.href !== location.href) replaceState(url, {});
  });

  function openSource(wanted: Source) {
    const text = bench.text(wanted.sheet);
    if (text === undefined) wrong(`There is no file ${wanted.sheet} in this specimen to show.`);
    else source = { source: wanted, text };
  }

  function closeTrial() {
    trying = false;
    void giveFocus(() => document.querySelector<HTMLElement>('[data-trial]'));
  }
  async function save() {
    const words = note;
    naming = false;
    note = '';
    await bench.save(words);
    await invalidateAll();
  }

  async function forget(id: string) {
    try {
      await send('DELETE', `/api/readings/${id}`, okSchema);
      await invalidateAll();
    } catch (error) {
      wrong(error);
    }
  }

  const revisionSchema = z.object({ number: z.number() });
  /** `base`: the revision over which the files are laid; `newest`: the newest that was seen. */
  async function replaceFiles(files: FileList, base = bench.input.revision, newest = bench.input.revision) {
    try {
      const { number: now } = await send(
        'POST',
        `/api/specimens/${specimen.id}/revisions?base=${base}&newest=${newest}`,
        revisionSchema,
        formOf(fromInput(files)),
      );
      done(`Revision ${now} is measured now.`);
      location.reload();
    } catch (error) {
      if (!isConflict(error)) return wrong(error);
      const { number: theirs } = revisionSchema.parse(error.now);
      const choice = await askConflict({
        what: `“${specimen.name}”`,
        mine: Array.from(files, ({ name }) => name),
        theirs: [`Revision ${theirs} was brought in.`],
        both: `Lay these files over revision ${theirs}`,
      });
      if (choice === 'theirs') location.reload();
      else await replaceFiles(files, choice === 'both' ? theirs : base, theirs);
    }
  }

  const SORTS = Object.keys(BOX_FILTER_WORDS) as BoxFilter[];
  function toBreakpoint(direction: 1 | -1) {
    const widths = bench.facts.breakpoints.map(({ width }) => width);
    const next =
      direction > 0
        ? widths.find((width) => width > bench.width)
        : widths.findLast((width) => width < bench.width);
    if (next) bench.resize(next);
  }

  async function walk(step: 'parent' | 'child' | 'next' | 'previous') {
    bench.walk(step);
    await stage.show(bench.pick);
  }

  function key(event: KeyboardEvent) {
    const { target } = event;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const element = target instanceof HTMLElement ? target : null;
    if (element && (isTextField(element) || element.closest('dialog'))) return;
    // Other fields have keys of their own; these two are nobody's.
    if (element?.closest('input, select') && !/^[?w]$/.test(event.key)) return;
    const onStage =
      target instanceof HTMLElement && (target.closest('[data-stage]') !== null || target === document.body);
    const actions: Record<string, () => unknown> = {
      '/': () => tools.focus(),
      m: () => bench.startMeasure(!bench.measure),
      q: () => (bench.spots.isAsking = !bench.spots.isAsking),
      h: () => (bench.hatched = !bench.hatched),
      b: () => (bench.shown = bench.shown === 'block' ? null : 'block'),
      e: () => bench.explain(bench.explained ? null : (bench.pinned.at(-1) ?? null)),
      o: () => (bench.sort = SORTS[(SORTS.indexOf(bench.sort) + 1) % SORTS.length]!),
      ',': () => bench.resize(bench.width - 1),
      '.': () => bench.resize(bench.width + 1),
      '<': () => bench.resize(bench.width - 10),
      '>': () => bench.resize(bench.width + 10),
      '[': () => toBreakpoint(-1),
      ']': () => toBreakpoint(1),
      '+': () => stage.step(1),
      '=': () => stage.step(1),
      '-': () => stage.step(-1),
      f: () => (zoom = 0),
      s: () => (naming = true),
      v: () => goto(toSweep),
      '{': () => folds.toggle('left'),
      '}': () => folds.toggle('right'),
      r: () => bench.remeasure(),
      n: () => findings.step(1),
      p: () => findings.step(-1),
      a: () => findings.remedy(),
      w: () => sweep.start(),
      t: () => (trying = !trying),
      u: () => trials.undo(),
      U: () => trials.redo(),
      Delete: () => bench.pick >= 0 && trials.remove(bench.pick),
      '?': () => (keys = true),
      Escape: () =>
        source
          ? (source = null)
          : bench.spots.isAsking
            ? (bench.spots.isAsking = false)
            : bench.measure
              ? bench.startMeasure(false)
              : bench.choose(-1),
      ...(onStage
        ? {
            ArrowUp: () => walk('parent'),
            ArrowDown: () => walk('child'),
            ArrowLeft: () => walk('previous'),
            ArrowRight: () => walk('next'),
            Enter: () => tools.next(),
          }
        : {}),
    };
    const action = actions[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  }
</script>

<svelte:head><title>{bench.input.name} · Normetra</title></svelte:head>
<svelte:window onkeydown={key} />

<div class="flex h-screen flex-col max-[900px]:h-auto max-[900px]:min-h-screen">
  <Header>
    <span class="faint">/</span>
    <h1 class="truncate font-medium">{data.specimen.name}</h1>
    <Views here="bench" bench="" sweep={toSweep} matrix={toSweep.replace('/sweep/', '/matrix/')} />
    {#if data.revision.pages.length > 1}
      <label class="flex items-center gap-2"
        ><span class="faint">Page</span>
        <select
          class="max-w-56 cursor-pointer border-b border-neutral bg-base-100"
          value={bench.input.page}
          onchange={async (event) => {
            await goto(
              `/bench/${data.specimen.id}?page=${encodeURIComponent(event.currentTarget.value)}&w=${bench.width}&h=${bench.height}${data.defaults === AS_RENDERED ? '' : `&defaults=${encodeURIComponent(data.defaults)}`}`,
            );
            location.reload();
          }}
        >
          {#each data.revision.pages as page (page)}<option>{page}</option>{/each}
        </select>
      </label>
    {/if}
    <DefaultsSelect
      value={data.defaults}
      choose={async (name) => {
        const url = new URL(location.href);
        if (name === AS_RENDERED) url.searchParams.delete('defaults');
        else url.searchParams.set('defaults', name);
        await goto(url);
        location.reload();
      }}
    />
    <span class="grow"></span>
    <span class="flex items-center gap-2" role="status" data-status={bench.status}>
      {#if (bench.status === 'opening' || bench.status === 'measuring') && takesLong}
        <span class="loading loading-bars loading-xs" aria-hidden="true"></span>
        <span class="faint">{bench.status === 'opening' ? 'opening' : 'measuring'} …</span>
        <button class="linkish" onclick={() => bench.stop()}>Stop</button>
      {:else if bench.saved}
        <span class="text-accent">saved reading of {since(bench.saved.takenAt)}</span>
        <button class="linkish" onclick={() => bench.remeasure()}>Back to the live page</button>
      {/if}
    </span>
    <button
      class="btn btn-outline btn-xs"
      aria-pressed={trying}
      title="Trial (t)"
      onclick={() => (trying = !trying)}
      data-trial
      >{trials.current && trials.edits.length > 0
        ? `${trials.current.name}: ${trials.edits.length} ${trials.edits.length === 1 ? 'edit' : 'edits'}`
        : 'Trial'}</button
    >
    {#if naming}
      <form
        class="flex items-center gap-2"
        onsubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <input
          class="w-52 border-b border-base-content bg-transparent"
          placeholder="a note, if you like"
          bind:value={note}
          maxlength="2000"
          {@attach borrowFocus('[data-save]')}
          aria-label="Note"
          onkeydown={(event) => event.key === 'Escape' && (naming = false)}
        />
        <button class="btn btn-primary btn-xs">Save</button>
      </form>
    {:else}
      <button class="btn btn-primary btn-xs" disabled={!bench.reading} onclick={() => (naming = true)} data-save
        >Save reading</button
      >
    {/if}
    <button class="cursor-pointer" aria-label="Keys" title="Keys (?)" onclick={() => (keys = true)}
      ><kbd class="code border border-neutral px-1">?</kbd></button
    >
  </Header>
  <WidthRule
    width={bench.width}
    height={bench.height}
    breakpoints={bench.facts.breakpoints}
    {bands}
    isWhole={sweep.status === 'done'}
    resize={(wide, tall) => {
      device = null;
      bench.resize(wide, tall);
    }}
    onDevice={(one) => (device = one)}
  >
    {#snippet aside()}
      {#if sweep.status === 'running'}
        <span class="num faint">{sweep.measured} of {sweep.expected} widths</span>
        <button class="linkish" onclick={() => sweep.stop()}>Stop</button>
      {:else if sweep.result}
        <a class="linkish" href={toSweep}>{troubles} trouble {troubles === 1 ? 'band' : 'bands'}</a>
      {:else}
        <button class="linkish" title="Measure all widths (w)" onclick={() => sweep.start()} data-sweep-now
          >Look at all widths</button
        >
      {/if}
    {/snippet}
  </WidthRule>
  <div class="flex min-h-0 grow max-[900px]:flex-col">
    <aside
      class="w-72 shrink-0 overflow-y-auto border-r border-base-300 bg-base-100 max-[900px]:order-2 max-[900px]:w-full {folds.left
        ? 'hidden'
        : ''}"
      aria-label="What is wrong, and what was measured"
    >
      <Facts
        {bench}
        revision={data.revision.number}
        missing={data.revision.missing}
        readings={data.readings}
        {forget}
        {replaceFiles}
        isTaken={origin !== null}
      >
        {#snippet above()}{#if origin}<OriginNews {bench} {origin} />{/if}<Findings
            bind:this={findings}
            {bench}
            {trials}
            {grades}
            open={openSource}
          /><Reliances {bench} />{/snippet}
      </Facts>
    </aside>
    <Fold side="left" isFolded={folds.left} what="what is wrong" toggle={() => folds.toggle('left')} />
    <main
      class="relative flex min-w-0 grow flex-col max-[900px]:order-1 max-[900px]:h-[80vh] max-[900px]:shrink-0"
    >
      <Tools
        bind:this={tools}
        {bench}
        zoom={scale}
        step={(direction) => stage.step(direction)}
        fit={() => (zoom = 0)}
        found={(element) => stage.show(element)}
        leave={() => stage.focus()}
      />
      {#if device}<DeviceBar
          {device}
          contents={bench.viewports}
          reading={bench.reading}
          turn={(one) => (device = one)}
          leave={() => (device = null)}
        />{/if}
      <Stage bind:this={stage} {bench} bind:zoom bind:frameHolder onScale={(now) => (scale = now)} />
      {#if bench.isEmptyWithoutScripts && bench.status === 'ready'}
        <div
          class="absolute top-24 right-8 left-16 z-10 border border-base-content bg-base-100 p-4"
          role="status"
          data-empty
        >
          <p class="mb-2 font-medium">Nothing can be seen on this page without its scripts, which are held.</p>
          <button class="btn btn-primary btn-sm" onclick={() => bench.setScripts('run').catch(wrong)}
            >Let them run</button
          >
        </div>
      {/if}
      {#if bench.status === 'failed' && !isFailureClosed}
        <div
          class="absolute top-24 right-8 left-16 z-10 border-2 border-error bg-base-100 p-4"
          role="alert"
          data-failure
        >
          <p class="mb-2 font-medium">The page could not be measured.</p>
          <p class="mb-3">{bench.failure}</p>
          <p class="faint mb-3">
            Its files, trials and saved readings are as they were, and so are all other specimens on the Shelf.
          </p>
          <div class="flex flex-wrap gap-2">
            <button
              class="btn btn-primary btn-sm"
              onclick={() => bench.open({ page: frameHolder!, bare: bareHolder })}>Open it again</button
            >
            <button class="btn btn-outline btn-sm" onclick={() => (isFailureClosed = true)} data-close-failure
              >Close</button
            >
            {#if bench.scripts === 'run'}<button
                class="btn btn-outline btn-sm"
                onclick={() => bench.setScripts('hold')}>Hold its scripts</button
              >{/if}
          </div>
        </div>
      {/if}
      {#if trying}<TrialSheet {bench} {trials} {folder} open={openSource} close={closeTrial} />{/if}
      {#if source}<SourceSheet {...source} close={() => (source = null)} />{/if}
    </main>
    <Fold side="right" isFolded={folds.right} what="the account" toggle={() => folds.toggle('right')} />
    <aside
      class="w-100 shrink-0 overflow-x-hidden overflow-y-auto border-l border-base-content bg-base-100 max-[900px]:order-3 max-[900px]:w-full max-[900px]:border-l-0 {folds.right
        ? 'hidden'
        : ''}"
      aria-label="Account"
      data-account-panel
    >
      <Spot {bench} pick={(key, element) => findings.pickBy(key, element)} />
      <Distance {bench} open={openSource} />
      {#if bench.account}
        <Account {bench} box={bench.account} open={openSource} />
      {:else}
        <div class="flex flex-col gap-3 px-5 py-8">
          <p class="text-[15px] font-medium">Point at a box and click it.</p>
          <p>
            Its account opens here: how wide and tall it is, as a sum, and for every part of the sum which
            declaration or default made it so, and where that stands.
          </p>
          <p class="faint">
            Without a pointer: <kbd class="code">/</kbd> takes a selector, and the arrow keys walk from box to box
            once the page has the focus.
          </p>
        </div>
      {/if}
    </aside>
  </div>
  <div bind:this={bareHolder} class="workshop" aria-hidden="true" inert></div>
</div>
{#if keys}<Keys close={() => (keys = false)} />{/if}
