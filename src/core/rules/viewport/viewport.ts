/** Pages that say nothing of the width of the device they are shown on, or forbid to zoom (CSS Viewport 1 §3). */
import type { Analysis } from '../../analysis.ts';
import type { SourceDocument, SourceElement } from '../../html/document.ts';
import { layoutViewport, viewportWords } from '../../css/media/viewport-meta.ts';
import { suspect, type Suspect } from '../model.ts';
import { tagOf } from '../../visibility/visibility.ts';

export const kind = 'viewport';

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

/** Two phones: what gives only one of them its own width is as wrong. */
const PHONES = [
  { width: 360, height: 800 },
  { width: 412, height: 915 },
];

export function detect({ tree, sources }: Analysis): Suspect[] {
  let head = 0;
  for (let i = 0; i < tree.count; i++) if (tagOf(tree, i) === 'head') head = i;
  const contents = viewportContents(sources.document);
  const say = (what: string, weight: number, px = 0) => [
    suspect({ kind, px, axis: 'x', subject: head, what, weight, form: contents.length === 0 ? 'missing' : '' }),
  ];
  for (const phone of PHONES) {
    const { width } = layoutViewport(contents, phone);
    if (Math.abs(width - phone.width) < 1) continue;
    return say(
      `${viewportWords(contents, phone)} (a phone of ${phone.width} px)`,
      90,
      Math.round(Math.abs(width - phone.width)),
    );
  }
  const { userZoom, maxZoom } = layoutViewport(contents, PHONES[0]!);
  if (!userZoom || maxZoom < 2)
    return say(
      `The viewport meta element says “${contents.at(-1)}”: it forbids to zoom in, which WCAG 1.4.4 asks for`,
      20,
    );
  return [];
}
