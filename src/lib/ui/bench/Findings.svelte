<!-- What is wrong with the page, the most noticeable first; the picked one with its cause and the changes that were proved to help. -->
<script lang="ts">
  import { labelOf } from '$core/reading/labels.ts';
  import { foldTargets } from '$core/proof/across-widths.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import Remedy from './Remedy.svelte';
  import Place from '../account/Place.svelte';
  import type { Trials } from '../trial/trials.svelte.ts';
  import { asGraded } from '$core/evidence/user-grades.ts';
  import { reasonOf, strengthOf, type Fact, type Grade } from '$core/evidence/model.ts';
  import type { Found } from './analyst/finding.ts';
  import { wrong } from '../notices/notices.svelte.ts';
  import type { Bench } from './state/bench.svelte.ts';
  import GradeForm from './GradeForm.svelte';
  import type { KeptGrade, UserGrades } from './state/user-grades.svelte.ts';

  /** A finding with why it is not graded wrong, and the grade that the user has given it. */
  interface Shown extends Found {
    meant: string;
    kept: KeptGrade | null;
  }

  let {
    bench,
    trials,
    grades,
    open,
  }: { bench: Bench; trials: Trials; grades: UserGrades; open: (source: Source) => void } = $props();

  const { finder } = $derived(bench);
  $effect(() => {
    if (finder.found) void grades.locate().catch(wrong);
  });
  let kind = $state('');
  let withMeant = $state(false);
  const kinds = $derived([...new Set((finder.found ?? []).map((item) => item.kind))].sort());
  /** As the user grades them. */
  const found = $derived(
    (finder.found ?? []).map((item): Shown => {
      const kept = grades.of(item);
      const graded = asGraded(item, kept);
      return { ...graded, meant: reasonOf(graded), kept };
    }),
  );
  /** The box that the list is kept to, by its number in a reading of so many elements. */
  let kept = $state<{ element: number; count: number; label: string } | null>(null);
  const within = $derived(kept && kept.count === bench.reading?.count ? kept : null);
  function isWithin(element: number): boolean {
    if (!within || !bench.reading) return true;
    for (let at = element; at >= 0; at = bench.reading.parent[at]!) if (at === within.element) return true;
    return false;
  }
  const ofGrade = (grade: Grade) =>
    found.filter(
      (item) => item.grade === grade && (kind === '' || item.kind === kind) && item.places.some(isWithin),
    );
  const real = $derived(ofGrade('wrong'));
  const doubtful = $derived(ofGrade('doubtful'));
  /** What has the cause of another finding, which is told first. */
  const into = $derived(
    foldTargets(
      found
        .filter((finding) => finding.grade === 'wrong')
        .map(({ key }) => ({ key, also: finder.blames.get(key)?.also ?? [] })),
    ),
  );
  const headOf = (key: string) => found.find((item) => item.key === into.get(key));
  const meant = $derived(ofGrade('meant'));
  /** The finding whose evidence is shown. */
  let weighed = $state('');
  const strongest = (list: readonly Fact[]) =>
    [...list].sort((a, b) => Math.abs(strengthOf(b)) - Math.abs(strengthOf(a)));
  export function pick(finding: Found | undefined) {
    if (!finding) return;
    finder.picked = finding.key;
    bench.choose(finding.subject);
    bench.show(finding.places);
    void bench.reveal(finding.subject);
  }
  /** Picks a finding of any grade by its key, or the box that it is about where the list does not have it. */
  export function pickBy(key: string, element: number) {
    const finding = found.find((item) => item.key === key);
    if (!finding) return bench.choose(element);
    if (finding.grade === 'meant') withMeant = true;
    pick(finding);
  }
  export function step(by: 1 | -1) {
    const list = [...real, ...doubtful];
    const at = list.findIndex(({ key }) => key === finder.picked);
    pick(list[at < 0 ? (by > 0 ? 0 : list.length - 1) : (at + by + list.length) % list.length]);
  }
  /** Applies the first change that helps the picked finding. */
  export function remedy() {
    const first = finder.blames.get(finder.picked)?.remedies[0];
    if (first) void trials.make(first.edits.map(({ change }) => change));
  }
</script>

{#snippet evidence(finding: Shown)}
  {#if finding.evidence.length > 0}
    <button
      class="linkish faint self-start"
      aria-expanded={weighed === finding.key}
      onclick={() => (weighed = weighed === finding.key ? '' : finding.key)}
      data-weigh
      >{finding.grade === 'wrong' || finding.kept
        ? 'What speaks for it'
        : `Why it is ${finding.grade === 'doubtful' ? 'doubtful' : 'taken for meant'}`}</button
    >
    {#if weighed === finding.key}
      <ul class="flex flex-col gap-0.5" data-evidence>
        {#each strongest(finding.evidence) as fact (fact.signal)}
          <li class="flex gap-2">
            <span class="w-14 shrink-0 {strengthOf(fact) > 0 ? 'text-error' : 'faint'}"
              >{strengthOf(fact) > 0 ? 'for' : 'against'}</span
            >
            <span class="min-w-0 [overflow-wrap:anywhere]">{fact.words}.</span>
          </li>
        {/each}
      </ul>
    {/if}
  {/if}
{/snippet}

{#snippet row(finding: Shown)}
  {@const isPicked = finder.picked === finding.key}
  {@const blame = finder.blames.get(finding.key)}
  {@const head = headOf(finding.key)}
  <li
    class="border-b border-base-300 {isPicked ? 'border-l-2 border-l-error pl-2' : ''}"
    data-finding={finding.kind}
  >
    <button
      class="flex w-full cursor-pointer items-baseline gap-2 py-1 text-left"
      aria-pressed={isPicked}
      title={head ? `From the same cause as ${head.kind.replace('-', ' ')}: ${head.label}` : undefined}
      onclick={() => pick(finding)}
      onpointerenter={() => bench.show(finding.places)}
      onpointerleave={() => bench.show([])}
    >
      <span
        class="num w-11 shrink-0 text-right font-medium {finding.grade !== 'wrong' || head
          ? 'faint'
          : 'text-error'}">{finding.px >= 0.5 ? px(Math.round(finding.px * 10) / 10) : '–'}</span
      >
      <span class="min-w-0 grow [overflow-wrap:anywhere] {head && !isPicked ? 'faint' : ''}"
        >{isPicked ? finding.what : `${finding.kind.replace('-', ' ')}: ${finding.label}`}{finding.places
          .length > 1
          ? ` (${finding.places.length} places)`
          : ''}{finding.grade !== 'wrong' && isPicked && !finding.kept
          ? `. ${finding.grade === 'doubtful' ? 'Doubtful' : 'Probably meant'}: ${finding.meant}`
          : ''}{isPicked ? '.' : ''}</span
      >
    </button>
    {#if isPicked && finding.grade !== 'meant'}
      <div class="flex flex-col gap-1 pb-2 pl-13 text-[12.5px]" data-blame>
        {#if head}
          <p>
            It goes with <button class="linkish" onclick={() => pick(head)} data-head
              >{head.kind.replace('-', ' ')}: {head.label}</button
            >, which has the same cause.
          </p>
        {/if}
        {#if !blame}
          <p class="faint">
            {finder.proving ? 'looking for its cause …' : 'Its cause has not been looked for.'}
          </p>
        {:else}
          {#each blame.culprits.slice(0, 3) as { because, source, px: owed }, i (i)}
            <div>
              {i === 0 ? 'Because' : 'Also'}
              {because}{finding.px >= 0.5 ? `: ${px(Math.round(owed * 10) / 10)} px` : ''}.
              {#if source}<Place {bench} {source} {open} />{/if}
            </div>
          {:else}<p>No single declaration takes it away when it is changed.</p>{/each}
          {#if blame.culprits.length > 0 && blame.remedies.length === 0 && !head}
            <p class="faint">No change that was tried takes all of it away and brings nothing new.</p>
          {/if}
          {#each blame.remedies as remedy, i (i)}<Remedy {trials} {remedy} />{/each}
        {/if}
        {@render evidence(finding)}
        <GradeForm {bench} {finding} {grades} said={finding.kept} />
      </div>
    {:else if isPicked}
      <div class="flex flex-col gap-1 pb-2 pl-13 text-[12.5px]">
        {@render evidence(finding)}
        <GradeForm {bench} {finding} {grades} said={finding.kept} />
      </div>
    {/if}
  </li>
{/snippet}

<section class="flex flex-col gap-1" data-findings>
  <div class="flex items-baseline gap-2">
    <h2 class="heading">Findings</h2>
    <span class="grow"></span>
    {#if within}
      <button class="linkish text-[12px] whitespace-nowrap" onclick={() => (kept = null)} data-within
        >everywhere</button
      >
    {:else if bench.pick >= 0 && bench.reading && (finder.found?.length ?? 0) > 1}
      <button
        class="linkish text-[12px] whitespace-nowrap"
        title="Only what lies in the picked box"
        onclick={() =>
          (kept = {
            element: bench.pick,
            count: bench.reading!.count,
            label: labelOf(bench.reading!, bench.pick),
          })}
        data-within>in the pick</button
      >
    {/if}
    {#if kinds.length > 1}
      <select
        class="w-20 min-w-0 border-b border-neutral bg-transparent text-[12px]"
        bind:value={kind}
        aria-label="Kind of finding"
      >
        <option value="">all kinds</option>
        {#each kinds as kind (kind)}<option value={kind}>{kind.replace('-', ' ')}</option>{/each}
      </select>
    {/if}
  </div>
  {#if finder.found === null || !grades.isKnown}
    <p class="faint">{bench.status === 'failed' ? 'None: nothing was measured.' : 'looking …'}</p>
  {:else if real.length === 0 && doubtful.length === 0}
    <p data-none>
      Nothing is wrong {within ? `in ${within.label}` : 'here'} at {bench.width} px{kind
        ? `, of the kind ${kind}`
        : ''}. Drag the jaw to another width and it is looked at again.
    </p>
  {:else}
    <ul>
      {#each real as finding (finding.key)}{@render row(finding)}{/each}
    </ul>
    {#if doubtful.length}
      <h3 class="faint pt-1 text-[12px]" data-doubtful>
        {doubtful.length} doubtful
      </h3>
      <ul>
        {#each doubtful as finding (finding.key)}{@render row(finding)}{/each}
      </ul>
    {/if}
  {/if}
  {#if finder.proving}<p class="faint text-[12px]" data-proving>looking for causes …</p>{/if}
  {#if grades.count > 0}
    <p class="faint text-[12px]">
      {grades.count}
      {grades.count === 1 ? 'grade is' : 'grades are'} yours:
      <a class="linkish" href="/api/specimens/{bench.input.id}/project" download data-project
        >take them into the project</a
      > as normetra.json, which the command line reads.
    </p>
  {/if}
  {#if meant.length}
    <button
      class="linkish faint text-left text-[12px]"
      aria-expanded={withMeant}
      onclick={() => (withMeant = !withMeant)}>{meant.length} meant or probably meant</button
    >
    {#if withMeant}<ul>
        {#each meant as finding (finding.key)}{@render row(finding)}{/each}
      </ul>{/if}
  {/if}
</section>
