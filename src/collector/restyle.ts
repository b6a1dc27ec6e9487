/** An element's style attribute as it was before something was measured with another one. */
export function restyle(element: Element, written: string | null): void {
  if (written !== null) return element.setAttribute('style', written);
  // Set by script and not asked for since, the attribute is not there to be removed, and would come to be there later.
  element.getAttribute('style');
  element.removeAttribute('style');
}

/** Whether engines may keep something of how the document was laid out before. */
let isWorn = true;

/** To be called where something was changed in the document. */
export const wear = (): void => {
  isWorn = true;
};

/**
 * Takes the document out of layout and puts it back, once after it was opened or changed. What engines keep of an earlier
 * layout, such as how the letters of a line were shaped or where a box stood before its picture came, is gone then: it is
 * laid out as if it were opened so.
 */
export function layAnew(): void {
  if (!isWorn) return;
  isWorn = false;
  const root = document.documentElement as HTMLElement;
  const written = root.getAttribute('style');
  const { scrollX: left, scrollY: top } = window;
  root.style.setProperty('display', 'none', 'important');
  void getComputedStyle(root).display;
  restyle(root, written);
  // Without a box the root forgets where it was scrolled to.
  if (left !== 0 || top !== 0) window.scrollTo({ left, top, behavior: 'instant' });
}

/** Whether the viewport has a bar on an axis because its style asks for one, whatever there is to scroll (CSS Overflow 3 §3.3). */
function asksForBar(axis: 'x' | 'y'): boolean {
  const property = axis === 'x' ? 'overflowX' : 'overflowY';
  return [document.documentElement, document.body].some(
    (element: HTMLElement | null) => element !== null && getComputedStyle(element)[property] === 'scroll',
  );
}

/**
 * Engines may leave the viewport a scrollbar that it needs no more, until something is laid out again: after the root was out
 * of layout, and for as long as the frame is not painted. Here such a bar goes.
 */
export function settleBars(): void {
  const scroller = document.scrollingElement;
  if (!scroller) return;
  const { clientWidth, clientHeight, scrollWidth, scrollHeight } = scroller;
  const isLeft =
    (innerHeight > clientHeight && scrollWidth <= clientWidth && !asksForBar('x')) ||
    (innerWidth > clientWidth && scrollHeight <= clientHeight && !asksForBar('y'));
  if (!isLeft) return;
  const root = document.documentElement as HTMLElement;
  const written = root.getAttribute('style');
  root.style.setProperty('min-height', '1.5px', 'important');
  void root.getBoundingClientRect();
  restyle(root, written);
  void root.getBoundingClientRect();
}
