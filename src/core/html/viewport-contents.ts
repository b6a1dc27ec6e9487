/** What the viewport meta elements of a page say. */
import type { SourceDocument, SourceElement } from './document.ts';

const cache = new WeakMap<SourceDocument, readonly string[]>();

/** What the viewport meta elements of a page say, in their order. */
export function viewportContents(document: SourceDocument): readonly string[] {
  let cached = cache.get(document);
  if (!cached) cache.set(document, (cached = contentsIn(document)));
  return cached;
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
