<!-- Which default styles lie under the page. -->
<script lang="ts">
  import { onMount } from 'svelte';
  import { wrong } from '../notices/notices.svelte.ts';
  import { AS_RENDERED, listProfiles, ownSheets, type Listed } from './defaults.ts';

  let { value, choose }: { value: string; choose: (name: string) => void } = $props();
  let listed = $state.raw<Listed[]>([]);
  const own = ownSheets();
  onMount(() => void listProfiles().then((list) => (listed = list), wrong));
  const isKnown = $derived(
    value === AS_RENDERED ||
      listed.some(({ name }) => name === value) ||
      own.some(({ name }) => name === value),
  );
</script>

<label class="flex items-center gap-2"
  ><span class="faint">Defaults</span>
  <select
    class="max-w-40 cursor-pointer border-b border-neutral bg-base-100 {value === AS_RENDERED
      ? ''
      : 'text-accent'}"
    {value}
    onchange={(event) => choose(event.currentTarget.value)}
    data-defaults
  >
    <option value={AS_RENDERED}>as rendered</option>
    {#each listed as { name, title } (name)}<option value={name}>{title}</option>{/each}
    {#each own as { name } (name)}<option value={name}>{name}</option>{/each}
    {#if !isKnown}<option {value}>{value}</option>{/if}
  </select>
</label>
