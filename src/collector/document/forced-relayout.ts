/** An element's style attribute as it was before something was measured with another one. */
export function restoreStyle(element: Element, written: string | null): void {
  if (written !== null) return element.setAttribute('style', written);
  // Set by script and not asked for since, the attribute is not there to be removed, and would come to be there later.
  element.getAttribute('style');
  element.removeAttribute('style');
}

/** Whether engines may keep something of how the document was laid out before. */
let mayKeepLayout = true;

/** To be called where something was changed in the document. */
export const markChanged = (): void => {
  mayKeepLayout = true;
};

/**
 * Takes the document out of layout and puts it back, once after it was opened or changed. What engines keep of an earlier
 * layout, such as how the letters of a line were shaped or where a box stood before its picture came, is gone then: it is
 * laid out as if it were opened so.
 */
export function forceRelayout(): void {
  if (!mayKeepLayout) return;
  mayKeepLayout = false;
  const root = document.documentElement as HTMLElement;
  const written = root.getAttribute('style');
  const { scrollX: left, scrollY: top } = window;
  root.style.setProperty('display', 'none', 'important');
  void getComputedStyle(root).display;
  restoreStyle(root, written);
  // Without a box the root forgets where it was scrolled to.
  if (left !== 0 || top !== 0) window.scrollTo({ left, top, behavior: 'instant' });
}
