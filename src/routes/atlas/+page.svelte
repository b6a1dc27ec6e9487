<!-- The Atlas: what engines give every HTML element when the author says nothing, and where two differ. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import { replaceState } from '$app/navigation';
  import { px as pxWords } from '$core/geometry/rect.ts';
  import {
    differencesOf,
    entryOf,
    entryText,
    isGeometry,
    type Mode,
    type Profile,
  } from '$core/css/defaults/profile.ts';
  import {
    dropSheet,
    keepSheet,
    listProfiles,
    ownProfile,
    ownSheets,
    readProfile,
    sheetProfile,
    type Listed,
  } from '$lib/ui/defaults/defaults.ts';
  import { byElement } from '$core/reports/atlas.ts';
  import { keyName } from '$core/css/defaults/keys.ts';
  import { underlay } from '$core/css/defaults/underlay.ts';
  import Header from '$lib/ui/Header.svelte';
  import { done, wrong } from '$lib/ui/notices/notices.svelte.ts';
  import { onMount } from 'svelte';

  let { data } = $props();
  const THIS = 'this-browser';
  const asked = route.url.searchParams;
  let listed = $state.raw<Listed[]>([]);
  let own = $state.raw(ownSheets());
  let names = $state({ a: asked.get('a') ?? 'chromium', b: asked.get('b') ?? 'firefox' });
  let mode = $state<Mode>(asked.get('mode') === 'quirks' ? 'quirks' : 'standards');
  let profiles = $state.raw<{ a: Profile; b: Profile } | null>(null);
  let element = $state('');
  let property = $state('');
  let whole = $state('');

  const read = (name: string): Promise<Profile> => {
    if (name === THIS) return ownProfile(data.host);
    const sheet = own.find((item) => item.name === name);
    return sheet ? sheetProfile(data.host, sheet) : readProfile(name);
  };
  onMount(() => void listProfiles().then((list) => (listed = list), wrong));
  $effect(() => {
    const { a, b } = names;
    Promise.all([read(a), read(b)]).then(([one, other]) => {
      if (a === names.a && b === names.b) profiles = { a: one, b: other };
    }, wrong);
    if (!profiles) return;
    const url = new URL(location.href);
    url.searchParams.set('a', a);
    url.searchParams.set('b', b);
    url.searchParams.set('mode', mode);
    if (url.href !== location.href) replaceState(url, {});
  });

  const differences = $derived(profiles ? differencesOf(profiles.a, profiles.b, mode, isGeometry) : []);
  const SIDE = /-(top|right|bottom|left)(?=-|$)/;
  /** Sides that differ alike are one row. */
  const rows = $derived.by(() => {
    const wanted = differences.filter(
      (one) =>
        keyName(one.key).includes(element.trim().toLowerCase()) &&
        one.property.includes(property.trim().toLowerCase()),
    );
    const by = new Map<
      string,
      { key: string; property: string; sides: string[]; a: string; b: string; px: number | null }
    >();
    for (const { key, property: name, a, b, px } of wanted) {
      const side = SIDE.exec(name)?.[1];
      const plain = name.replace(SIDE, '');
      const id = `${key} ${plain} ${entryText(a)} ${entryText(b)}`;
      const known = by.get(id);
      if (known && side) known.sides.push(side);
      else
        by.set(id, { key, property: plain, sides: side ? [side] : [], a: entryText(a), b: entryText(b), px });
    }
    return [...by.values()];
  });
  const groups = $derived.by(() => {
    // What is otherwise by the most px comes first, of elements and in each.
    const off = ({ px }: { px: number | null }) => px ?? 0;
    return [...byElement(rows.toSorted((a, b) => off(b) - off(a)))];
  });
  const most = $derived(Math.max(1, ...rows.map(({ px }) => px ?? 0)));
  const keys = $derived(profiles ? Object.keys(profiles.a[mode].elements) : []);
  const list = $derived(
    whole && profiles
      ? Object.keys(profiles.a[mode].usual)
          .filter(isGeometry)
          .map((name) => ({
            name,
            a: entryOf(profiles!.a, mode, whole, name),
            b: entryOf(profiles!.b, mode, whole, name),
            own:
              profiles!.a[mode].elements[whole]?.[name] !== undefined ||
              profiles!.b[mode].elements[whole]?.[name] !== undefined,
          }))
          .filter((one) => one.own)
      : [],
  );

  async function bring(files: FileList | null) {
    const file = files?.[0];
    if (!file) return;
    keepSheet({ name: file.name, css: await file.text() });
    own = ownSheets();
    names.b = file.name;
    done(`“${file.name}” can be chosen as defaults here, on the Bench and in the Sweep.`);
  }
  function drop(name: string) {
    dropSheet(name);
    own = ownSheets();
    if (names.a === name) names.a = 'chromium';
    if (names.b === name) names.b = 'firefox';
  }
  /** What a style sheet cannot give, however it is laid under a page. */
  const left = $derived(profiles ? underlay(profiles.a, profiles.b, mode).left : []);
  const leftOf = $derived([...byElement(left)]);
  const sidesWords = (sides: string[]) =>
    sides.length === 4 ? '' : sides.length > 0 ? ` (${sides.join(', ')})` : '';
</script>

<svelte:head><title>Atlas · Normetra</title></svelte:head>

{#snippet choice(side: 'a' | 'b', label: string)}
  <select
    class="w-68 cursor-pointer border-b border-neutral bg-base-100"
    bind:value={names[side]}
    aria-label={label}
  >
    {#each listed as { name, title, engine } (name)}<option value={name}
        >{title} ({engine.name} {engine.version})</option
      >{/each}
    <option value={THIS}>This browser, measured now</option>
    {#each own as { name } (name)}<option value={name}>{name} (own style sheet)</option>{/each}
  </select>
{/snippet}

<div class="flex h-screen flex-col">
  <Header>
    <span class="faint">/</span>
    <h1 class="font-medium">Atlas of default styles</h1>
    <span class="grow"></span>
    <label class="linkish cursor-pointer"
      >Bring a style sheet<input
        class="sr-only"
        type="file"
        accept=".css,text/css"
        onchange={(event) => bring(event.currentTarget.files)}
      /></label
    >
  </Header>
  <section
    aria-label="Which profiles"
    class="flex shrink-0 flex-wrap items-baseline gap-3 border-b border-base-content px-4 py-2"
  >
    {@render choice('a', 'First profile')}
    <span class="faint">against</span>
    {@render choice('b', 'Second profile')}
    <select
      class="cursor-pointer border-b border-neutral bg-base-100"
      bind:value={mode}
      aria-label="Mode of the document"
    >
      <option value="standards">standards mode</option><option value="quirks">quirks mode</option>
    </select>
    <span class="grow"></span>
    <input
      class="code w-32 border-b border-neutral bg-transparent"
      placeholder="element"
      aria-label="Only elements"
      bind:value={element}
    />
    <input
      class="code w-32 border-b border-neutral bg-transparent"
      placeholder="property"
      aria-label="Only properties"
      bind:value={property}
    />
  </section>
  <div class="flex min-h-0 grow">
    <main class="min-w-0 grow overflow-y-auto">
      {#if !profiles}
        <p class="faint px-4 py-6">Reading the profiles …</p>
      {:else if rows.length === 0}
        <p class="px-4 py-6">
          {differences.length === 0
            ? 'These two give every element the same room, edges and fonts.'
            : 'No difference of that element and property.'}
        </p>
      {:else}
        <p class="faint px-4 pt-3 pb-1">
          {differences.length} values differ on {new Set(differences.map(({ key }) => key)).size} of {keys.length}
          elements, the largest first. A bar is the px at a root font size of 16 px.
        </p>
        <table class="w-full border-collapse" data-differences>
          <thead>
            <tr class="border-b border-base-content text-left">
              <th class="w-60 py-1 pl-4 font-medium">Element</th>
              <th class="w-54 font-medium">Property</th>
              <th class="w-44 font-medium">{profiles.a.title}</th>
              <th class="w-44 font-medium">{profiles.b.title}</th>
              <th class="pr-4 font-medium">Difference</th>
            </tr>
          </thead>
          <tbody>
            {#each groups as [key, own] (key)}
              {#each own as { property: name, sides, a, b, px }, i (name + sides.join() + a + b)}
                <tr
                  class="align-baseline {i === own.length - 1 ? 'border-b border-base-300' : ''}"
                  data-element={key}
                >
                  <td class="code py-0.5 pl-4"
                    >{#if i === 0}<button class="linkish" onclick={() => (whole = whole === key ? '' : key)}
                        >{keyName(key)}</button
                      >{/if}</td
                  >
                  <td class="code">{name}<span class="faint">{sidesWords(sides)}</span></td>
                  <td class="code pr-3 break-words">{a}</td>
                  <td class="code pr-3 break-words">{b}</td>
                  <td class="num pr-4 text-[12px] whitespace-nowrap">
                    {#if px !== null}
                      <span
                        class="inline-block h-[7px] bg-accent align-middle"
                        style="width:{Math.max(1, (px / most) * 160)}px"
                      ></span>
                      {pxWords(px)} px
                    {/if}
                  </td>
                </tr>
              {/each}
            {/each}
          </tbody>
        </table>
      {/if}
    </main>
    <aside
      class="w-96 shrink-0 overflow-y-auto border-l border-base-content px-4 py-3"
      aria-label="One element"
    >
      <label class="mb-2 flex items-baseline gap-2"
        ><span class="font-medium">All of</span>
        <select class="code cursor-pointer border-b border-neutral bg-base-100" bind:value={whole}>
          <option value="">an element …</option>
          {#each keys as key (key)}<option value={key}>{keyName(key)}</option>{/each}
        </select>
      </label>
      {#if whole && profiles}
        <table class="w-full border-collapse text-[12.5px]">
          <tbody>
            {#each list as { name, a, b } (name)}
              <tr class="border-b border-base-200 align-baseline">
                <td class="code py-0.5 pr-2">{name}</td>
                <td class="code pr-2 break-all">{a ? entryText(a) : '–'}</td>
                <td class="code break-all {a && b && entryText(a) !== entryText(b) ? 'text-accent' : 'faint'}"
                  >{b ? entryText(b) : '–'}</td
                >
              </tr>
            {:else}
              <tr><td class="faint py-2">Both give it what most elements have.</td></tr>
            {/each}
          </tbody>
        </table>
      {:else}
        <p class="faint">
          Choose an element, here or in the table, to see everything that the two profiles give it beyond what
          most elements have. On the Bench and in the Sweep any of these profiles can be laid under a page,
          below all of its own rules.
        </p>
      {/if}
      {#if left.length > 0}
        <h2 class="mt-5 mb-1 font-medium">Cannot be laid under a page</h2>
        <p class="faint mb-1">
          What stands inside controls, or is fixed whatever a style sheet says: {left.length} values stay as in the
          first profile.
        </p>
        <dl class="text-[12px]" data-left>
          {#each leftOf as [key, own] (key)}
            <dt class="code mt-1.5">{keyName(key)}</dt>
            <dd class="code faint pl-3">{own.map(({ property: name }) => name).join(', ')}</dd>
          {/each}
        </dl>
      {/if}
      {#if own.length > 0}
        <h2 class="mt-5 mb-1 font-medium">Own style sheets</h2>
        <ul>
          {#each own as { name } (name)}<li class="flex gap-3">
              <span class="truncate">{name}</span><button class="linkish" onclick={() => drop(name)}
                >Take out</button
              >
            </li>{/each}
        </ul>
      {/if}
    </aside>
  </div>
</div>
