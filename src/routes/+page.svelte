<script lang="ts">
  import { beforeNavigate, invalidateAll } from '$app/navigation';
  import Header from '$lib/ui/Header.svelte';
  import { done, wrong } from '$lib/ui/notices/notices.svelte.ts';
  import { askName } from '$lib/ui/notices/conflicts.svelte.ts';
  import { idSchema, isConflict, okSchema, send } from '$lib/ui/send.ts';
  import BringIn from '$lib/ui/shelf/BringIn.svelte';
  import { fromDrop } from '$lib/ui/shelf/bring.ts';
  import { drawMissing } from '$lib/ui/shelf/draw.ts';
  import Specimen from '$lib/ui/shelf/Specimen.svelte';
  import { onMount } from 'svelte';
  import { z } from 'zod';

  let { data } = $props();
  let dropping = $state(false);
  let busy = $state(false);
  let wanted = $state('');
  let measuring = $state('');
  let bringIn: BringIn;
  let workshop: HTMLElement;
  const shown = $derived(
    data.specimens.filter(({ name }) => name.toLowerCase().includes(wanted.trim().toLowerCase())),
  );

  async function change(work: () => Promise<unknown>) {
    try {
      await work();
      await invalidateAll();
    } catch (error) {
      wrong(error);
    }
  }

  const remove = (id: string, name: string) =>
    change(async () => {
      await send('DELETE', `/api/specimens/${id}`, okSchema);
      done(`“${name}” was deleted.`, {
        label: 'Undo',
        run: () => void change(() => send('POST', `/api/specimens/${id}/restore`, okSchema)),
      });
    });

  const renamedSchema = z.object({ name: z.string(), version: z.number() });
  async function rename(
    { id, name: was, version }: { id: string; name: string; version: number },
    name: string,
  ) {
    try {
      await send('PATCH', `/api/specimens/${id}`, okSchema, { name, version });
    } catch (error) {
      if (!isConflict(error)) throw error;
      const theirs = renamedSchema.parse(error.now);
      const choice = await askName(was, name, theirs.name);
      if (choice === 'mine') await rename({ id, ...theirs }, name);
    }
  }

  async function dropped(event: DragEvent) {
    event.preventDefault();
    dropping = false;
    if (!event.dataTransfer || busy) return;
    await bringIn.take(await fromDrop(event.dataTransfer));
  }

  const stop = new AbortController();
  // Whoever leaves the Shelf for a page must not be called back by a drawing that is done.
  beforeNavigate(() => stop.abort());
  onMount(() => {
    void drawMissing(
      data.specimens,
      data.host,
      workshop,
      (id) => (measuring = id),
      async () => {
        if (!stop.signal.aborted) await invalidateAll();
      },
      stop.signal,
    );
    return () => stop.abort();
  });
</script>

<svelte:head><title>Shelf · Normetra</title></svelte:head>
<svelte:window
  ondragover={(event) => {
    event.preventDefault();
    dropping = true;
  }}
  ondragleave={(event) => {
    if (event.relatedTarget === null) dropping = false;
  }}
  ondrop={dropped}
/>

<div class="flex h-screen flex-col max-[900px]:h-auto">
  <Header
    ><span class="faint">measures the boxes of web pages and says why each is as it is</span>
    <span class="grow"></span><a class="linkish" href="/atlas">Atlas of default styles</a></Header
  >
  <div class="flex min-h-0 grow max-[900px]:flex-col">
    <main class="min-w-0 grow overflow-y-auto px-6 py-5">
      <div class="mb-4 flex items-baseline gap-4">
        <h1 class="text-xl font-semibold">Shelf</h1>
        <p class="faint">{data.specimens.length} {data.specimens.length === 1 ? 'specimen' : 'specimens'}</p>
        <span class="grow"></span>
        {#if data.specimens.length > 6}
          <label class="flex items-center gap-2"
            ><span class="faint">Find</span><input
              bind:value={wanted}
              class="w-44 border-b border-neutral bg-transparent"
              placeholder="part of a name"
            /></label
          >
        {/if}
      </div>
      {#if data.specimens.length === 0}
        <div class="max-w-prose border-l-2 border-base-content pl-4">
          <p class="font-medium">The Shelf is empty.</p>
          <p>
            A specimen is a page with its style sheets, images and fonts. Drop one here, choose its files at the
            right, or paste a piece of HTML; Normetra lays it out, measures every box, and says why each one is
            as it is.
          </p>
        </div>
      {:else if shown.length === 0}
        <p>
          No specimen has “{wanted}” in its name.
          <button class="linkish" onclick={() => (wanted = '')}>Show all</button>
        </p>
      {/if}
      <div class="grid gap-4" style="grid-template-columns: repeat(auto-fill, minmax(250px, 1fr))">
        {#each shown as specimen (specimen.id)}
          <div style="content-visibility: auto; contain-intrinsic-size: auto 250px">
            <Specimen
              {specimen}
              measuring={measuring === specimen.id}
              rename={(name) => change(() => rename(specimen, name))}
              duplicate={() => change(() => send('POST', `/api/specimens/${specimen.id}/duplicate`, idSchema))}
              remove={() => remove(specimen.id, specimen.name)}
            />
          </div>
        {/each}
      </div>
    </main>
    <aside
      class="w-85 shrink-0 overflow-y-auto border-l border-base-300 bg-base-200 px-5 py-5 max-[900px]:w-full max-[900px]:border-l-0"
      aria-label="Bring a page in"
    >
      <BringIn bind:this={bringIn} bind:busy canWatch={data.canWatch} />
    </aside>
  </div>
</div>

<div bind:this={workshop} class="workshop" aria-hidden="true" inert></div>

{#if dropping}
  <div
    class="pointer-events-none fixed inset-3 z-40 grid place-items-center border-2 border-dashed border-base-content bg-base-100/85"
  >
    <p class="text-xl font-medium">Let go to bring it in</p>
  </div>
{/if}
