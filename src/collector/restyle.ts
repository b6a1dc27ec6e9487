/** An element's style attribute as it was before something was measured with another one. */
export function restyle(element: Element, written: string | null): void {
  if (written !== null) return element.setAttribute('style', written);
  // Set by script and not asked for since, the attribute is not there to be removed, and would come to be there later.
  element.getAttribute('style');
  element.removeAttribute('style');
}
