/** What the viewport meta elements of a page say. */
import type { SourceDocument, SourceElement } from './document.ts';

const known = new WeakMap<SourceDocument, readonly string[]>();

/** What the viewport meta elements of a page say, in their order. */
export function viewportContents(document: SourceDocument): readonly string[] {
  let made = known.get(document);
  if (!made) known.set(document, (made = contentsIn(document)));
  return made;
}

function contentsIn({ root }: SourceDocument): string[] {
  const found: string[] = [];
  const stack: SourceElement[] = root ? [root] : [];
  for (let at = stack.pop(); at; at = stack.pop()) {
    const { name, content } = at.attributes;
    if (at.tag === 'meta' && name?.value.trim().toLowerCase() === 'viewport' && content)
      found.push(content.value);
    stack.push(...[...at.children].reverse());
  }
  return found;
}
