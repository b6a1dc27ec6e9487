<!-- The engines in which an edit is laid over the page. -->
<script lang="ts">
  import type { Edit } from '$core/trials/edit.ts';

  let { edit, set }: { edit: Edit; set: (engines: Edit['engines']) => void } = $props();
  const NAMES = ['chromium', 'firefox', 'webkit'];
</script>

<select
  class="shrink-0 cursor-pointer border-b border-neutral bg-transparent text-[12px]"
  value={edit.engines?.[0] ?? ''}
  onchange={({ currentTarget: { value } }) => set(value === '' ? null : [value])}
  aria-label="Engines in which it is laid over the page"
>
  <option value="">all engines</option>
  {#each NAMES as name (name)}<option value={name}>{name} only</option>{/each}
</select>
