<!-- The name of what an edit is a part of. -->
<script lang="ts">
  import type { Edit } from '$core/trials/edit.ts';
  import { borrowFocus } from '../../focus.ts';

  let { edit, groups, set }: { edit: Edit; groups: string[]; set: (name: string) => void } = $props();

  let open = $state(false);
  let name = $state('');
  const listId = $props.id();
</script>

{#if open}
  <form
    class="flex shrink-0 items-baseline gap-1"
    onsubmit={(event) => {
      event.preventDefault();
      open = false;
      set(name);
    }}
  >
    <input
      class="w-28 border-b border-neutral bg-transparent"
      bind:value={name}
      list={listId}
      maxlength="120"
      aria-label="Name of the group"
      placeholder="none"
      onkeydown={(event) => event.key === 'Escape' && (open = false)}
      {@attach borrowFocus('[data-group-edit]')}
    />
    <datalist id={listId}
      >{#each groups as group (group)}<option value={group}></option>{/each}</datalist
    >
    <button class="linkish">Set</button>
  </form>
{:else}
  <button
    class="linkish faint shrink-0"
    title="Put it under a name with others"
    onclick={() => {
      name = edit.group;
      open = true;
    }}
    data-group-edit>group</button
  >
{/if}
