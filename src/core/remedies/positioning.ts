/** Hold what is positioned, or let out what is cut off (CSS Overflow 3 §3.1, CSS Positioned Layout 3 §2.1). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { clips, boxName as labelOf, selfAndAncestors } from '../visibility/visibility.ts';
import { usedPx, usedText } from '../boxes/tree.ts';
import { alter, put, type Proposal } from './model.ts';
import { tagOf } from '../reading/labels.ts';

export const name = 'hold';

export function propose(
  analysis: Analysis,
  { kind, boxes, subject, other, axis, rule, variant, px }: Observation,
): Proposal[] {
  const out: Proposal[] = [];
  if (kind === 'stray-scroll') {
    const [first] = boxes;
    const declaration = first === undefined ? null : authorDeclaration(analysis, first, 'position');
    if (first !== undefined && declaration) {
      const because = `${labelOf(analysis, first)} is positioned ${cite(declaration)}, and ${subject === first ? 'nothing near it' : labelOf(analysis, subject)} is not its containing block and does not clip it`;
      const base = {
        element: first,
        property: 'position',
        source: declaration.source,
        rule: 'escapes',
        because,
      };
      const holder = subject === first ? analysis.reading.parent[first]! : subject;
      if (holder > 0)
        out.push({
          ...base,
          words: `make ${labelOf(analysis, holder)} its containing block`,
          steps: [put(analysis, holder, 'position', 'relative')],
          rank: 90,
        });
      const parent = analysis.reading.parent[first]!;
      if (parent > 0 && parent !== holder)
        out.push({
          ...base,
          words: `make ${labelOf(analysis, parent)} its containing block`,
          steps: [put(analysis, parent, 'position', 'relative')],
          rank: 80,
        });
      out.push({ ...base, words: 'leave it in the flow', steps: [alter(declaration, 'static')], rank: 40 });
    }
    for (const element of boxes.slice(0, 6))
      for (const property of axis === 'x'
        ? ['left', 'right', 'width', 'text-indent']
        : ['top', 'bottom', 'height', 'margin-bottom', 'margin-top']) {
        const offset = authorDeclaration(analysis, element, property);
        if (!offset || offset.owner !== element || !/[1-9]/.test(offset.value)) continue;
        out.push({
          element,
          property,
          source: offset.source,
          rule: 'far-off',
          because: `${labelOf(analysis, element)} is put there by ${property}: ${offset.value} ${cite(offset)}`,
          words: 'take it out',
          steps: [
            offset.source.property === property ? alter(offset, '') : put(analysis, element, property, 'auto'),
          ],
          rank: /left|right|top|bottom$/.test(property) ? 94 : 60,
        });
      }
  }
  if (rule === 'overflow/uncontained-float' && other !== null) {
    const declaration = authorDeclaration(analysis, other, 'float');
    if (declaration)
      out.push({
        element: other,
        property: 'float',
        source: declaration.source,
        rule: 'float',
        because: `${labelOf(analysis, other)} floats, and ${labelOf(analysis, subject)} is no taller for it ${cite(declaration)}`,
        words: 'let it hold its floats',
        steps: [put(analysis, subject, 'display', 'flow-root')],
        rank: 95,
      });
  }
  if (rule === 'overlap/stacked-sticky' && other !== null) {
    const declaration = authorDeclaration(analysis, subject, 'top');
    if (declaration)
      out.push({
        element: subject,
        property: 'top',
        source: declaration.source,
        rule: 'sticks',
        because: `${labelOf(analysis, subject)} sticks no further down than ${labelOf(analysis, other)} begins ${cite(declaration)}`,
        words: 'let it stick below',
        steps: [put(analysis, subject, 'top', `${Math.ceil(usedPx(analysis.reading, 'top', subject) + px)}px`)],
        rank: 96,
      });
  }
  if (rule === 'overflow/fixed-beyond-view' && axis === 'y') out.push(scrolling(analysis, subject));
  if (rule === 'overlap/fixed-bar') out.push(...besideWhatStays(analysis, subject, px, variant === 'top'));
  for (const element of rule === 'overlap/siblings' || rule === 'overlap/ink' ? boxes : []) {
    const declaration = authorDeclaration(analysis, element, 'position');
    if (declaration?.value !== 'absolute') continue;
    out.push({
      element,
      property: 'position',
      source: declaration.source,
      rule: 'placed',
      because: `${labelOf(analysis, element)} takes no room in the page ${cite(declaration)}`,
      words: 'leave it in the flow',
      steps: [alter(declaration, 'static')],
      rank: 86,
    });
  }
  for (const element of kind === 'clip' ? boxes : []) {
    const shaped = rule === 'clip/clip-path';
    if (!shaped && !clips(analysis.tree, element, axis)) continue;
    const declaration = authorDeclaration(
      analysis,
      element,
      shaped ? 'clip-path' : axis === 'x' ? 'overflow-x' : 'overflow-y',
    );
    if (!declaration) continue;
    out.push({
      element,
      property: shaped ? 'clip-path' : 'overflow',
      source: declaration.source,
      rule: 'clips',
      because: `${labelOf(analysis, element)} cuts off what is beyond ${shaped ? 'its shape' : 'it'} ${cite(declaration)}`,
      words: 'show what is beyond it',
      steps: [alter(declaration, shaped ? 'none' : 'visible')],
      rank: 93,
    });
  }
  return out;
}

/** What stays in its place, no taller than what is left of the viewport below its upper edge. */
function scrolling(analysis: Analysis, fixed: number): Proposal {
  const { rect, border, padding } = laidAreas(analysis.tree, fixed);
  const edges = border.top + border.bottom + padding.top + padding.bottom;
  const isBorderBox = usedText(analysis.reading, 'box-sizing', fixed) === 'border-box';
  const top = rect.y - analysis.reading.document.scrollY;
  const less = Math.ceil(Math.max(0, top) + (isBorderBox ? 0 : edges));
  return {
    element: fixed,
    property: 'overflow-y',
    source: authorDeclaration(analysis, fixed, 'position')?.source ?? null,
    rule: 'does-not-scroll',
    because: `${labelOf(analysis, fixed)} is taller than the viewport, stays in its place and does not scroll`,
    words: 'let it scroll',
    steps: [
      put(analysis, fixed, 'overflow-y', 'auto'),
      put(analysis, fixed, 'max-height', less > 0 ? `calc(100vh - ${less}px)` : '100vh'),
    ],
    rank: 92,
  };
}

/** Room for what stays in its place, or a place in the flow for it. */
function besideWhatStays(analysis: Analysis, fixed: number, px: number, isTop: boolean): Proposal[] {
  const declaration = authorDeclaration(analysis, fixed, 'position');
  const body = selfAndAncestors(analysis, fixed).find((at) => tagOf(analysis.reading, at) === 'body');
  if (!declaration || body === undefined) return [];
  const side = isTop ? 'top' : 'bottom';
  const room = Math.ceil(laidAreas(analysis.tree, body).padding[side] + px);
  const base = {
    element: fixed,
    property: 'position',
    source: declaration.source,
    rule: 'stays',
    because: `${labelOf(analysis, fixed)} takes no room in the page ${cite(declaration)}`,
  };
  return [
    {
      ...base,
      words: 'leave room for it',
      steps: [put(analysis, body, `padding-${side}`, `${room}px`)],
      rank: 90,
    },
    { ...base, words: 'let it stick where it stands', steps: [alter(declaration, 'sticky')], rank: 80 },
  ];
}
