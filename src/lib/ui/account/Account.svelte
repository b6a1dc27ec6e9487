<!-- The account of the pick. Sentences and numbers come from the core; this only sets them out. -->
<script lang="ts">
  import type { AxisAccount, BoxAccount } from '$core/accounts/box.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Bar from './bars/Bar.svelte';
  import Beside from './Beside.svelte';
  import Declarations from './Declarations.svelte';
  import Kin from './RelatedBoxes.svelte';
  import Ladder from './HeightLadder.svelte';
  import MeasureFrom from './MeasureFrom.svelte';
  import Place from './Place.svelte';
  import ShouldBe from '../asking/ShouldBe.svelte';
  import RuleAnswers from './RuleAnswers.svelte';
  import { useTrials } from '../trial/context.ts';
  import { createStretch, type Together } from './bars/stretch.ts';
  import Sum from './sums/Sum.svelte';
  import { ended } from './sums/sums.ts';
  import Where from './PositionReason.svelte';

  let { bench, box, open }: { bench: Bench; box: BoxAccount; open: (source: Source) => void } = $props();

  const refused = $derived(box.takes.filter(({ why }) => why !== null));

  const trials = useTrials();
  let together = $state<Together>('one');
  // svelte-ignore state_referenced_locally
  const stretch = createStretch({ bench, trials, box: () => box, together: () => together });
</script>

{#snippet sizing(axis: AxisAccount)}
  <p>{axis.sizing.sentence}</p>
  {#if axis.sizing.otherwise}<p class="faint">{axis.sizing.otherwise}</p>{/if}
  {#if axis.sizing.declared.note && !axis.sizing.idle && axis.sizing.declared.source.origin !== 'browser'}<p>
      {axis.sizing.declared.note}.
    </p>{/if}
{/snippet}

<div class="flex flex-col gap-4 px-4 py-3" data-account={box.label}>
  <div>
    <h2 class="code text-[15px]! font-medium break-all">{box.label}</h2>
    <p>
      {box.kindWords}, <span class="code">display: {box.display}</span>{box.position === 'static'
        ? ''
        : `, ${box.position}`}{box.fragments > 1 ? `, in ${box.fragments} pieces` : ''}
    </p>
    <p class="code faint break-all" data-path>{box.path}</p>
    {#if box.closed}<p class="text-warning">Its inside is not listed: {box.closed}.</p>{/if}
  </div>

  {#if box.kind !== 'none' && box.kind !== 'contents'}<ShouldBe {bench} {box} {open} />{/if}

  {#if box.kind === 'none' || box.kind === 'contents'}
    <p>
      {box.kind === 'none'
        ? 'It makes no box: it or something around it has display: none, or is not rendered by the element that holds it.'
        : 'It makes no box of its own (display: contents); its children lie in its parent’s layout.'}
    </p>
  {:else}
    <section class="flex flex-col gap-1.5">
      <h3 class="heading">Across</h3>
      <p class="text-[15px] font-medium" data-sentence="x">{box.width.sentence}</p>
      <Bar segments={box.width.segments} axis="x" {stretch} />
      <p class="faint flex items-baseline gap-1 text-[12.5px]">
        A grip on the bars, dragged or stepped, changes
        <select
          class="border-b border-neutral bg-transparent"
          bind:value={together}
          aria-label="What grips change"
          data-together
        >
          <option value="one">its side</option>
          <option value="axis">both sides of its axis</option>
          <option value="all">all four sides</option>
        </select>
      </p>
      <Sum
        {bench}
        account={box.width}
        owner={box.element}
        base={box.base}
        total="wide, border box"
        name="x"
        {open}
      />
      {#if !box.width.sentence.endsWith(box.width.inner.slice(8))}<p class="faint text-[12.5px]" data-inner="x">
          {box.width.inner}
        </p>{/if}
      {@render sizing(box.width)}
    </section>

    <section class="flex flex-col gap-1.5">
      <h3 class="heading">Down</h3>
      <p class="text-[15px] font-medium" data-sentence="y">{box.height.sentence}</p>
      <div class="flex items-start gap-2">
        <Bar segments={box.height.segments} axis="y" {stretch} />
        <p class="faint min-w-0 grow text-[12.5px]" data-inner="y">{box.height.inner}</p>
      </div>
      <Sum
        {bench}
        account={box.height}
        owner={box.element}
        base={box.base}
        total="tall, border box"
        name="y"
        {open}
      />
      {@render sizing(box.height)}
    </section>

    <Ladder {bench} {box} {open} />

    <section class="flex flex-col gap-2">
      <h3 class="heading">Space before and after</h3>
      <Beside {bench} {box} {open} />
    </section>

    <section class="flex flex-col gap-1">
      <h3 class="heading">Where it lies</h3>
      <Where {bench} {box} {open} />
    </section>

    <section class="flex flex-col gap-1 text-[13px]">
      <h3 class="heading">What this kind of box takes</h3>
      <p>
        box-sizing is <span class="code">{box.boxSizing.value}</span>:
        <Place {bench} source={box.boxSizing.source} {open} />
      </p>
      {#if refused.length === 0}
        <p>It is a {box.kindWords}, and takes width, height, margins and padding on every side.</p>
      {:else}
        {#each refused as { property, why } (property)}<p>
            <span class="font-medium">{property}:</span>
            {why}.
          </p>{/each}
      {/if}
    </section>
  {/if}

  <section>
    <h3 class="heading mb-1">Lies in, and holds</h3>
    <Kin {bench} {box} />
  </section>

  <section>
    <h3 class="heading mb-1">Text</h3>
    <p class="flex flex-wrap items-center gap-1.5 text-[13px]">
      {box.font},
      <span class="inline-block size-2.5 border border-base-content" style="background:{box.contrast.color}"
      ></span><span class="code">{box.contrast.color}</span> on
      <span
        class="inline-block size-2.5 border border-base-content"
        style="background:{box.contrast.background}"
      ></span><span class="code">{box.contrast.background}</span>
      {#if box.contrast.ratio !== null}
        <span class="num">{box.contrast.ratio.toFixed(2)}:1</span>
        <span class={box.contrast.passes ? 'text-success' : 'text-error'}
          >{box.contrast.passes ? 'passes' : 'fails'} WCAG AA, which asks for {box.contrast.needed}:1</span
        >
      {/if}
    </p>
  </section>

  <section>
    <h3 class="heading mb-1">Declarations</h3>
    <Declarations {bench} {open} />
  </section>

  {#if box.inert.length}
    <section data-inert>
      <h3 class="heading mb-1">Declared, and without effect</h3>
      {#each box.inert as { property, value, source, why }, i (i)}
        <div class="border-l-2 border-warning py-0.5 pl-2 text-[13px]">
          <div class="code">{property}: {value}</div>
          <div>{ended(why)}</div>
          <Place {bench} {source} {open} />
        </div>
      {/each}
    </section>
  {/if}

  {#if box.dropped.length}
    <section data-dropped>
      <h3 class="heading mb-1">Dropped by the parser</h3>
      {#each box.dropped as { property, value, source, why }, i (i)}
        <div class="border-l-2 border-warning py-0.5 pl-2 text-[13px]">
          <div class="code">{property}: {value}</div>
          <div>{why}.</div>
          <Place {bench} {source} {open} />
        </div>
      {/each}
    </section>
  {/if}

  <section>
    <h3 class="heading mb-1">Measure from here</h3>
    <MeasureFrom {bench} {box} />
  </section>

  <RuleAnswers {bench} {box} />
</div>
