/** Count padding and border into a declared size (CSS Sizing 3 §3.3). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { alter, put, used, type Proposal } from './model.ts';

export const name = 'box-sizing';

export function propose(analysis: Analysis, { kind, boxes, axis, rule }: Observation): Proposal[] {
  if (!/overflow|size|gap|overlap|clip|stray-scroll/.test(kind)) return [];
  // Boxes fall to the next row by their widths.
  const across = axis === 'x' || rule === 'gap/wrapped-row';
  const size = across ? 'width' : 'height';
  const out: Proposal[] = [];
  for (const element of boxes) {
    if (used(analysis, 'box-sizing', element) !== 'content-box') continue;
    const declaration =
      authorDeclaration(analysis, element, size) ?? authorDeclaration(analysis, element, `min-${size}`);
    if (!declaration || declaration.owner !== element || /^auto$/.test(declaration.value)) continue;
    const { border, padding } = laidAreas(analysis.tree, element);
    const edges = across
      ? border.left + border.right + padding.left + padding.right
      : border.top + border.bottom + padding.top + padding.bottom;
    if (edges < 0.5) continue;
    const label = labelOf(analysis, element);
    out.push({
      element,
      property: declaration.property,
      source: declaration.source,
      rule: 'content-box',
      because: `${declaration.value} is the content of ${label}, and ${Math.round(edges * 100) / 100} px of padding and border come on top of it ${cite(declaration)}`,
      words: 'count padding and border in',
      steps: [put(analysis, element, 'box-sizing', 'border-box')],
      rank: kind === 'size' ? 60 : /%|v[hw]$/.test(declaration.value) ? 92 : 40,
      // A row that is too long by little goes down by all of its height.
      ...(rule !== 'gap/wrapped-row' && { gives: edges }),
    });
  }
  if (kind === 'size')
    for (const element of boxes) {
      const sides = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
      const padding =
        authorDeclaration(analysis, element, `padding-${sides[0]}`) ??
        authorDeclaration(analysis, element, `padding-${sides[1]}`);
      const height = authorDeclaration(analysis, element, axis === 'x' ? 'height' : 'width');
      const width = authorDeclaration(analysis, element, size);
      if (!padding || !height || !width || height.value !== width.value || /^0/.test(padding.value)) continue;
      out.push({
        element,
        property: 'padding',
        source: padding.source,
        rule: 'content-box',
        because: `padding comes on top on two sides only ${cite(padding)}`,
        words: 'take the padding out',
        steps: [alter(padding, '')],
        rank: 70,
      });
    }
  return out;
}
