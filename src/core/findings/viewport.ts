/** Pages that say nothing of the width of the device they are shown on, or forbid to zoom (CSS Viewport 1 §3). */
import type { Analysis } from '../analysis.ts';
import type { SourceElement } from '../css/document.ts';
import { suspect, type Suspect } from './finding.ts';
import { tagOf } from './sight.ts';

export const kind = 'viewport';

/** What the viewport meta elements of a page say, the last one that has the say; null: there is none. */
export function viewportContent(analysis: Analysis): string | null {
  let found: string | null = null;
  const stack: SourceElement[] = analysis.sources.document.root ? [analysis.sources.document.root] : [];
  for (let at = stack.pop(); at; at = stack.pop()) {
    if (at.tag === 'meta' && at.attributes['name']?.value.trim().toLowerCase() === 'viewport')
      found = at.attributes['content']?.value ?? '';
    stack.push(...[...at.children].reverse());
  }
  return found;
}

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  let head = 0;
  for (let i = 0; i < tree.count; i++) if (tagOf(tree, i) === 'head') head = i;
  const content = viewportContent(analysis);
  const say = (what: string, weight: number) => [
    suspect({ kind, px: 0, axis: 'x', subject: head, what, weight, form: content === null ? 'missing' : '' }),
  ];
  if (content === null)
    return say(
      'There is no viewport meta element: a phone lays the page out 980 px wide and shows it small',
      90,
    );
  const keys = new Map(
    content
      .toLowerCase()
      .split(/[,;]/)
      .map((pair) => pair.split('=').map((part) => part.trim()) as [string, string]),
  );
  const width = keys.get('width');
  const scale = Number.parseFloat(keys.get('initial-scale') ?? '');
  if (width === undefined ? !(scale > 0) : width !== 'device-width')
    return say(
      width === undefined
        ? `The viewport meta element says “${content}” and no width: a phone lays the page out 980 px wide`
        : `The viewport meta element sets width=${width}: every device lays the page out that wide, whatever its own width`,
      80,
    );
  const most = Number.parseFloat(keys.get('maximum-scale') ?? '');
  if (/^(no|0)$/.test(keys.get('user-scalable') ?? '') || most < 2)
    return say(
      `The viewport meta element says “${content}”: it forbids to zoom in, which WCAG 1.4.4 asks for`,
      20,
    );
  return [];
}
