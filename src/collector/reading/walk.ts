import { isUnderlay } from '../document/underlay.ts';

/** All elements of a document in document order, shadow trees before the children of their hosts. */
export interface Walk {
  elements: Element[];
  parent: number[];
  via: number[];
  /** The document and the open shadow roots, in the order in which they were met. */
  roots: (Document | ShadowRoot)[];
  /** Elements beyond `limit`. */
  unread: number;
}

const CHILD = 0;
const SHADOW = 1;

export function walk(limit: number): Walk {
  const out: Walk = { elements: [], parent: [], via: [], roots: [document], unread: 0 };
  const { elements, parent, via, roots } = out;
  const stack: [Element, number, number][] = [];
  if (document.documentElement) stack.push([document.documentElement, -1, CHILD]);
  while (stack.length > 0) {
    const [element, above, how] = stack.pop()!;
    if (isUnderlay(element)) continue;
    if (elements.length >= limit) {
      out.unread++;
    } else {
      elements.push(element);
      parent.push(above);
      via.push(how);
    }
    const index = elements.length - 1;
    for (let child = element.lastElementChild; child; child = child.previousElementSibling)
      stack.push([child, index, CHILD]);
    const shadow = element.shadowRoot;
    if (shadow) {
      roots.push(shadow);
      for (let child = shadow.lastElementChild; child; child = child.previousElementSibling)
        stack.push([child, index, SHADOW]);
    }
  }
  return out;
}
