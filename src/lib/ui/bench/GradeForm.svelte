<!-- The grade of a finding, changed by the user: for this place or wherever its rule tells of something. -->
<script lang="ts">
  import { GRADES, type Grade } from '$core/evidence/model.ts';
  import { declarationWords } from '$core/evidence/user-grades.ts';
  import { pathOf } from '$core/reading/labels.ts';
  import { borrowFocus } from '../focus.ts';
  import type { Found } from './analyst/finding.ts';
  import type { Bench } from './state/bench.svelte.ts';
  import type { KeptGrade, UserGrades } from './state/user-grades.svelte.ts';

  let {
    bench,
    finding,
    grades,
    said,
  }: {
    bench: Bench;
    finding: Found;
    grades: UserGrades;
    /** What the user says of it now; null: nothing. */
    said: KeptGrade | null;
  } = $props();

  let isOpen = $state(false);
  let grade = $state<Grade>('meant');
  let isWholeRule = $state(false);
  let why = $state('');

  function open() {
    grade = said?.grade ?? (finding.grade === 'meant' ? 'wrong' : 'meant');
    isWholeRule = said?.place === '' && said.declaration === '';
    why = said?.why ?? '';
    isOpen = true;
  }

  async function keep() {
    isOpen = false;
    const { rule, source, subject } = finding;
    const isOfDeclaration = /^(inert|dropped)$/.test(finding.kind) && source !== null;
    await grades.give(
      {
        page: isWholeRule ? '' : bench.input.page,
        rule,
        place: isWholeRule || isOfDeclaration ? '' : pathOf(bench.reading!, subject),
        declaration: isOfDeclaration && !isWholeRule ? declarationWords(source) : '',
        grade,
        why,
      },
      said,
    );
    // Of the two the one for this place would go before that of the rule.
    if (isWholeRule && said && (said.place !== '' || said.declaration !== '')) await grades.takeBack(said);
  }
</script>

{#if said}
  <p data-said>
    You say that it is {said.grade}{said.place === '' && said.declaration === ''
      ? `, wherever ${said.rule} tells of it`
      : ''}: {said.why}.
  </p>
{/if}
{#if isOpen}
  <form
    class="flex flex-col gap-1 border-l-2 border-secondary pl-2"
    onsubmit={(event) => {
      event.preventDefault();
      void keep();
    }}
    data-grade-form
  >
    <div class="flex flex-wrap items-baseline gap-x-2">
      It is
      <select class="border-b border-neutral bg-base-100" aria-label="Grade" bind:value={grade}>
        {#each GRADES as one (one)}<option>{one}</option>{/each}
      </select>
      <select class="min-w-0 border-b border-neutral bg-base-100" aria-label="Where" bind:value={isWholeRule}>
        <option value={false}>here</option>
        <option value={true}>wherever {finding.rule} tells of it</option>
      </select>
    </div>
    <div class="flex items-baseline gap-2">
      <input
        class="min-w-0 grow border-b border-base-content bg-transparent"
        placeholder="why"
        aria-label="Why"
        maxlength="500"
        required
        bind:value={why}
        onkeydown={(event) => event.key === 'Escape' && (isOpen = false)}
        {@attach borrowFocus('[data-grade], [data-finding] button')}
      />
      <button class="linkish">Keep</button>
    </div>
  </form>
{:else}
  <div class="flex flex-wrap gap-x-3">
    <button class="linkish faint" onclick={open} data-grade>Grade it otherwise …</button>
    {#if said}<button class="linkish faint" onclick={() => grades.takeBack(said)} data-take-back
        >Take that back</button
      >{/if}
  </div>
{/if}
