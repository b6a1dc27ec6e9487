<!-- What the pick should be: written or taken from what is offered, then answered with who keeps it from being so. -->
<script lang="ts">
  import type { BoxAccount } from '$core/accounts/box.ts';
  import type { Source } from '$core/css/cascade/styles.ts';
  import { px } from '$core/geometry/rect.ts';
  import { standingWords } from '$core/reports/wishes.ts';
  import { parseRelation } from '$core/wishes/parse.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import Remedy from '../bench/Remedy.svelte';
  import { useTrials } from '../trial/context.ts';
  import Place from '../account/Place.svelte';
  import { suggestionsFor, type Suggestion } from './suggestions.ts';

  let { bench, box, open }: { bench: Bench; box: BoxAccount; open: (source: Source) => void } = $props();

  const trials = useTrials();
  // The Bench of a page is one for as long as its page is shown.
  // svelte-ignore state_referenced_locally
  const { wishes } = bench;
  let text = $state('');
  let isOffering = $state(false);
  let field: HTMLInputElement;

  const isOfPage = $derived(box.base === 0);
  const offered = $derived(
    bench.reading && isOfPage ? suggestionsFor(box, bench.reading, wishes.previous) : [],
  );
  $effect(() => wishes.heed(box));
  /** The answer stays as long as its box is picked. */
  const asked = $derived(wishes.asked?.path === box.path ? wishes.asked : null);

  function ask(): void {
    isOffering = false;
    if (text.trim() === '') return;
    try {
      void wishes.ask(box.element, text.trim(), parseRelation(text));
    } catch (error) {
      wishes.refuse(error instanceof Error ? error.message : String(error));
    }
  }

  function take(suggestion: Suggestion): void {
    ({ text } = suggestion);
    if (!suggestion.isNumber) return ask();
    field.focus();
    requestAnimationFrame(() => field.setSelectionRange(0, text.indexOf(' ')));
  }
</script>

<section class="flex flex-col gap-1.5 border-l-2 border-secondary pl-3" data-should-be>
  <form
    class="flex items-baseline gap-2"
    onsubmit={(event) => {
      event.preventDefault();
      ask();
    }}
  >
    <label class="heading shrink-0" for="should-be">Should be</label>
    <input
      id="should-be"
      class="code min-w-0 grow border-b border-neutral bg-transparent"
      placeholder="square, 300 wide …"
      autocomplete="off"
      maxlength="500"
      disabled={!isOfPage}
      bind:this={field}
      bind:value={text}
      onkeydown={(event) => event.key === 'Escape' && field.blur()}
    />
    {#if wishes.progress}
      <button type="button" class="btn btn-outline btn-xs" onclick={() => wishes.forget()}>Stop</button>
    {:else}
      <button class="btn btn-outline btn-xs" disabled={!isOfPage || text.trim() === ''}>Ask</button>
    {/if}
  </form>
  {#if !isOfPage}
    <p class="faint text-[12.5px]">Ask this of boxes in the page itself: this one is in a frame.</p>
  {:else}
    <div class="flex flex-wrap gap-x-3 gap-y-0.5 text-[12.5px]" data-suggestions>
      {#each isOffering ? offered : offered.slice(0, 4) as suggestion (suggestion.text)}
        <button type="button" class="linkish" onclick={() => take(suggestion)}>{suggestion.words}</button>
      {/each}
      {#if offered.length > 4}<button
          type="button"
          class="faint linkish"
          aria-expanded={isOffering}
          onclick={() => (isOffering = !isOffering)}>{isOffering ? 'fewer' : 'more …'}</button
        >{/if}
    </div>
  {/if}
  {#if wishes.failure}<p class="text-[12.5px] text-error" role="alert">{wishes.failure}</p>{/if}
  {#if asked}
    {@const { answer, now } = asked}
    <div class="flex flex-col gap-1 text-[12.5px]" role="status" data-wish-answer>
      <p class="text-[13px]">
        <span class="font-medium">{asked.text}</span>:
        {#if now}
          {#if now.missing === 0}<span class="text-success">it is so at {bench.width} px.</span>
          {:else}<span class="text-error">{standingWords(now)}.</span>{/if}
        {:else}<span class="faint">it cannot be measured on the page as it is now.</span>{/if}
      </p>
      {#if !answer}
        {#if wishes.progress}<p class="faint">
            {wishes.progress.of > 0
              ? `${wishes.progress.tried} of ${wishes.progress.of} changes tried …`
              : 'looking at other widths …'}
          </p>{:else}<p class="faint">
            The page was changed meanwhile, so that no answer was looked for. <button
              class="linkish"
              onclick={ask}>Ask again</button
            >
          </p>{/if}
      {:else}
        {#each answer.at.filter(({ missing, width }) => missing > 0 && width !== bench.width) as there (there.width)}
          <p class="faint">At {there.width} px: {standingWords(there)}.</p>
        {/each}
        {#each answer.culprits.slice(0, 3) as { because, source, px: owed }, i (i)}
          <div>
            {i === 0 ? 'Because' : 'Also'}
            {because}: {px(Math.round(owed * 10) / 10)} of it.
            {#if source}<Place {bench} {source} {open} />{/if}
          </div>
        {:else}{#if !answer.isMet}<p>
              No declaration of this box or of those around it keeps it from being so by itself.
            </p>{/if}{/each}
        {#each answer.remedies as remedy, i (i)}<Remedy {trials} {remedy} />{/each}
        {#if !answer.isMet && answer.remedies.length === 0}
          <p>
            No single change of {answer.tried} that were tried makes it so without harm{answer.closest
              ? `. This one comes closest, and leaves ${px(answer.closest.missing)}:`
              : '.'}
          </p>
          {#if answer.closest}<Remedy {trials} remedy={answer.closest.remedy} />{/if}
        {/if}
      {/if}
    </div>
  {/if}
</section>
