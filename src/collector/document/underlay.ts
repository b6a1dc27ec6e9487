/** The style sheet of other defaults that a document was served with: the first of all, and none of the page's own. */
import { mode } from '../reading/read.ts';

let sheet: HTMLStyleElement | null = null;

/** Puts the sheet, which the collector's script bears for each mode, before everything that the page has. */
export function layUnderlay(script: HTMLOrSVGScriptElement | null): void {
  const text = script instanceof HTMLElement ? script.getAttribute(`data-${mode()}`) : null;
  if (!text) return;
  sheet = document.createElement('style');
  sheet.textContent = text;
  document.documentElement.prepend(sheet);
}

/** Whether an element is none of the page's own. */
export const isUnderlay = (element: Element | null): boolean => element !== null && element === sheet;
