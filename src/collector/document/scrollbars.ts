/**
 * Scrollbars that take no room, as those of phones, which are laid over what they scroll (CSS Overflow 3 §3, “overlay
 * scrollbars”; CSS Scrollbars 1 §3).
 */
import { markChanged } from './forced-relayout.ts';

const sheet = new CSSStyleSheet();
sheet.replaceSync('* { scrollbar-width: none !important }');

/** Whether a style sheet is none of the page's own. */
export const isOfBars = (entry: CSSStyleSheet): boolean => entry === sheet;

/** Lays bars over what they scroll, or has them beside it again. False: they were so already. */
export function setScrollbars(roots: readonly (Document | ShadowRoot)[], areOver: boolean): boolean {
  if (document.adoptedStyleSheets.some(isOfBars) === areOver) return false;
  for (const root of roots) {
    const ofPage = root.adoptedStyleSheets.filter((sheet) => !isOfBars(sheet));
    root.adoptedStyleSheets = areOver ? [...ofPage, sheet] : ofPage;
  }
  markChanged();
  return true;
}
