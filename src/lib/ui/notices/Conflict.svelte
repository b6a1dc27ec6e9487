<!-- Changed here and elsewhere: the two side by side, and a button for either and for both. -->
<script lang="ts">
  import { currentConflict } from './conflicts.svelte.ts';

  const question = $derived(currentConflict());
  let dialog: HTMLDialogElement | undefined = $state();
  $effect(() => {
    if (question && dialog && !dialog.open) dialog.showModal();
  });
</script>

{#if question}
  <dialog
    bind:this={dialog}
    class="m-auto w-[640px] max-w-[94vw] border border-base-content bg-base-100 p-5 text-base-content"
    aria-labelledby="conflict-title"
    data-conflict
    oncancel={(event) => event.preventDefault()}
    onclose={() => {
      // Engines close it all the same when Escape is pressed twice (HTML §6.9): the question is still there.
      if (currentConflict()) dialog?.showModal();
    }}
  >
    <h2 id="conflict-title" class="mb-1 text-[15px] font-medium">{question.what} was changed elsewhere</h2>
    <p class="mb-3">Nothing was overwritten. Take one of the two, or both.</p>
    <div class="mb-4 grid grid-cols-2 gap-4">
      {#each [{ title: 'Elsewhere', lines: question.theirs, others: question.mine }, { title: 'Here', lines: question.mine, others: question.theirs }] as { title, lines, others } (title)}
        <section class="min-w-0 border border-base-300 p-3" aria-label={title}>
          <h3 class="heading mb-1">{title}</h3>
          {#if lines.length === 0}<p class="faint">No edits.</p>{/if}
          <ul class="max-h-64 overflow-y-auto">
            {#each lines as line, i (i)}
              <!-- What both say is quiet: what they differ in is the question. -->
              <li
                class="mb-1 break-words pl-2 {others.includes(line)
                  ? 'faint border-l-2 border-transparent'
                  : 'border-l-2 border-accent'}"
              >
                {line}
              </li>
            {/each}
          </ul>
        </section>
      {/each}
    </div>
    <div class="flex flex-wrap justify-end gap-2">
      <button class="btn btn-outline btn-sm" onclick={() => question.answer('theirs')} data-take="theirs"
        >Take what is elsewhere</button
      >
      <button class="btn btn-outline btn-sm" onclick={() => question.answer('mine')} data-take="mine"
        >Take what is here</button
      >
      {#if question.both}<button
          class="btn btn-primary btn-sm"
          onclick={() => question.answer('both')}
          data-take="both">{question.both}</button
        >{/if}
    </div>
  </dialog>
{/if}
