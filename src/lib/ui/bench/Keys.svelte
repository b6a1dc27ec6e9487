<script lang="ts">
  import { onMount } from 'svelte';

  let { close }: { close: () => void } = $props();
  let dialog: HTMLDialogElement;
  onMount(() => dialog.showModal());

  const KEYS: [string, string][] = [
    ['↑ ↓ ← →', 'on the page: parent, first child, siblings of the pick'],
    ['/', 'pick by CSS selector; Enter goes to the page, and there to the next match; Escape leaves'],
    ['m', 'measure between two edges; Escape leaves'],
    ['q', 'ask about a spot of the page: drag over it, click it, or write its numbers; Escape leaves'],
    ['h', 'hatch the areas of the pick'],
    ['b', 'show the containing block of the pick'],
    ['e', 'explain the last measured distance'],
    ['o', 'outline the next sort of boxes'],
    [', .', 'viewport 1 px narrower, wider; with Shift 10 px'],
    ['[ ]', 'to the breakpoint below, above'],
    ['+ − f', 'zoom in, out, fit'],
    ['n p', 'the next and the previous finding'],
    ['a', 'try the first remedy of the picked finding'],
    ['w', 'measure all widths'],
    ['v', 'to the Sweep, and back to the Bench'],
    ['{ }', 'fold the left side, the right side, or open it again'],
    ['t', 'the trial: what is laid over the page'],
    ['u', 'undo the last edit; with Shift redo it'],
    ['x', 'mute the declaration that has the focus'],
    ['Delete', 'take the pick out of the page'],
    ['s', 'save the reading'],
    ['r', 'measure again'],
    ['?', 'this list'],
  ];
</script>

<dialog
  bind:this={dialog}
  class="m-auto border border-base-content bg-base-100 p-5 text-base-content backdrop:bg-black/30"
  onclose={close}
>
  <h2 class="mb-3 text-lg font-semibold">Keys of the Bench</h2>
  <table>
    <tbody>
      {#each KEYS as [keys, what] (keys)}
        <tr><td class="code pr-6 py-0.5 font-medium whitespace-nowrap">{keys}</td><td>{what}</td></tr>
      {/each}
    </tbody>
  </table>
  <form method="dialog" class="mt-4"><button class="btn btn-outline btn-sm">Close</button></form>
</dialog>
