/** Where the focus goes when what had it is taken away: never to the body, where keys do something else. */
import { tick } from 'svelte';
import type { Attachment } from 'svelte/attachments';

const TAKES = 'input, textarea, select, button';

/** Gives the focus to an element, unless something else has taken it meanwhile. */
export async function giveFocus(find: () => HTMLElement | null | undefined): Promise<void> {
  await tick();
  if (document.activeElement === document.body) find()?.focus();
}

/**
 * For what is opened by a button and closed again: takes the focus, and gives it back to the button when it goes. `back`: a
 * selector of the button, where another is put in its place; the nearest one is taken.
 */
export function borrowFocus(back?: string): Attachment<HTMLElement> {
  return (node) => {
    const opener = document.activeElement;
    // Those around it, outermost last: the nearest may be taken away with it.
    const around: HTMLElement[] = [];
    for (let at = node.parentElement; at; at = at.parentElement) around.push(at);
    (node.matches(TAKES) ? node : node.querySelector<HTMLElement>(TAKES))?.focus();
    return () =>
      void giveFocus(() => {
        if (opener instanceof HTMLElement && opener !== document.body && opener.isConnected) return opener;
        if (back === undefined) return null;
        for (const ancestor of around) {
          const found = ancestor.isConnected ? ancestor.querySelector<HTMLElement>(back) : null;
          if (found) return found;
        }
        return null;
      });
  };
}
