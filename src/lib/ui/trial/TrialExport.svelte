<!-- The trial written out: a patch, the changed rules, the changed files, and a note for whoever owns the sheet. -->
<script lang="ts">
  import { px } from '$core/geometry/rect.ts';
  import type { Written } from '../bench/analyst/trying.ts';
  import type { Bench } from '../bench/state/bench.svelte.ts';
  import { done, wrong } from '../notices/notices.svelte.ts';
  import { strToU8, zipSync } from 'fflate';
  import type { Origin } from '../bench/state/origin.svelte.ts';
  import type { Trials } from './trials.svelte.ts';

  let { bench, trials, folder }: { bench: Bench; trials: Trials; folder: Origin | null } = $props();

  let written = $state.raw<Written | null>(null);
  $effect(() => {
    // Another revision has other texts.
    void bench.reading;
    // What is written is what is shown.
    bench.written(folder?.writable() ?? trials.edits).then((result) => (written = result), wrong);
  });
  const note = $derived.by(() => {
    if (!written) return '';
    const counts = bench.moved?.counts;
    const sum = counts
      ? `At ${bench.width} px: ${counts.resized} boxes resized, ${counts.moved} moved, the largest change ${px(bench.moved!.largest)} px.`
      : '';
    return [...written.words.map((line) => `- ${line}`), sum].filter(Boolean).join('\n');
  });

  async function copy(text: string, what: string) {
    try {
      await navigator.clipboard.writeText(text);
      done(`The ${what} is copied.`);
    } catch (error) {
      wrong(error);
    }
  }
  function save(name: string, type: string, content: BlobPart) {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([content], { type }));
    link.download = name;
    link.click();
    URL.revokeObjectURL(link.href);
  }
  const left = $derived(folder ? trials.edits.length - folder.writable().length : 0);
  const zip = () =>
    zipSync(
      Object.fromEntries(Object.entries(written?.files ?? {}).map(([path, text]) => [path, strToU8(text)])),
    );
</script>

{#if !written || (written.diff === '' && written.words.length === 0)}
  <p class="max-w-[70ch] text-[13px]">
    What is tried on this page can be taken home from here: as a patch of the files, as rules, as files, and in
    words.
  </p>
{:else}
  {#if folder}
    <p class="mb-3 flex flex-wrap items-baseline gap-x-3 text-[13px]" data-write>
      <button
        class="btn btn-primary btn-xs"
        disabled={folder.isBusy || folder.writable().length === 0 || Object.keys(written.files).length === 0}
        onclick={() => folder.writeTrial()}>Write into the files</button
      >
      <span
        >Changes <span class="code">{Object.keys(written.files).join(', ') || 'no file'}</span> in
        <span class="code">{folder.place}</span> as the patch below says. It can be taken back.{left > 0
          ? ` ${left} more ${left === 1 ? 'edit stays' : 'edits stay'} in the trial: off, for some engines alone, or no change of files.`
          : ''}</span
      >
    </p>
  {/if}
  <div class="grid grid-cols-2 gap-4 text-[13px]">
    <section class="flex min-w-0 flex-col gap-1">
      <h3 class="heading flex items-baseline gap-3">
        Patch
        <button class="linkish" onclick={() => copy(written!.diff, 'patch')} data-copy="patch">Copy</button>
        <button class="linkish" onclick={() => save('trial.diff', 'text/x-diff', written!.diff)}>Save</button>
        <button class="linkish" onclick={() => save('trial.zip', 'application/zip', zip() as BlobPart)}
          >Files as zip</button
        >
      </h3>
      <pre class="code overflow-x-auto bg-base-200 p-2 text-[12px]" data-diff>{written.diff ||
          'No file changes: what is laid over the page only shows a state.'}</pre>
    </section>
    <section class="flex min-w-0 flex-col gap-3">
      <div class="flex flex-col gap-1">
        <h3 class="heading flex items-baseline gap-3">
          In words <button class="linkish" onclick={() => copy(note, 'note')} data-copy="note">Copy</button>
        </h3>
        <pre class="bg-base-200 p-2 font-sans text-[12.5px] whitespace-pre-wrap" data-note>{note}</pre>
      </div>
      {#if written.rules}
        <div class="flex flex-col gap-1">
          <h3 class="heading flex items-baseline gap-3">
            Changed rules <button class="linkish" onclick={() => copy(written!.rules, 'CSS')} data-copy="rules"
              >Copy</button
            >
          </h3>
          <pre class="code overflow-x-auto bg-base-200 p-2 text-[12px]" data-rules>{written.rules}</pre>
        </div>
      {/if}
    </section>
  </div>
{/if}
