/** Which keys are whose. */

const TYPED = /^(text|search|number|url|email|tel|password|date|time|month|week|datetime-local)$/;

/** Whether an element takes what is typed. */
export const isTextField = (element: HTMLElement): boolean =>
  element.isContentEditable ||
  element instanceof HTMLTextAreaElement ||
  (element instanceof HTMLInputElement && TYPED.test(element.type));
