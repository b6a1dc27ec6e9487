/** Puts back what a capture has noted beside the markup: defined elements, the top layer, what is scrolled. */
import { DEFINED, SCROLLED, TOP_LAYER } from '../../protocol/frozen.ts';

/** Names of elements that the page's scripts had defined: `:defined` matches them again. */
function defineAgain(): void {
  const names = document.documentElement.getAttribute(DEFINED)?.split(' ') ?? [];
  for (const name of names)
    if (!customElements.get(name)) customElements.define(name, class extends HTMLElement {});
}

function showAgain(): void {
  for (const element of document.querySelectorAll<HTMLElement>(`[${TOP_LAYER}]`)) {
    const isModal = element.getAttribute(TOP_LAYER) === 'modal';
    if (isModal && element instanceof HTMLDialogElement) {
      element.removeAttribute('open');
      element.showModal();
    } else if (!isModal && element.popover !== null) element.showPopover();
  }
  // Opening a dialog gives the focus to what is in it, which nobody has done here.
  if (document.querySelector(`[${TOP_LAYER}]`) && document.activeElement instanceof HTMLElement)
    document.activeElement.blur();
  for (const element of document.querySelectorAll(`[${SCROLLED}]`)) {
    const [left = 0, top = 0] = element.getAttribute(SCROLLED)!.split(' ').map(Number);
    element.scrollTo({ left, top, behavior: 'instant' });
  }
}

export function thaw(): void {
  defineAgain();
  document.addEventListener('DOMContentLoaded', showAgain, { once: true });
}
