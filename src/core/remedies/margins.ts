/** Take out a margin that pulls or pushes, or keep it in its box (CSS 2.2 §8.3). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { TRANSFORMS } from '../boxes/transforms.ts';
import { usedPx } from '../boxes/tree.ts';
import { laidAreas } from '../boxes/areas.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { SIDES } from '../geometry/rect.ts';
import { put, used, type Proposal } from './model.ts';

export const name = 'margins';

/** CSS px of padding from which on it is no room around a text. */
const WIDE = 100;

export function propose(
  analysis: Analysis,
  { kind, boxes, axis, subject, other, rule, variant }: Observation,
): Proposal[] {
  const out: Proposal[] = [];
  const { tree } = analysis;
  if (/overflow|overlap|stray-scroll|clip/.test(kind))
    for (const element of [...new Set([...boxes, ...(other === null || kind !== 'overlap' ? [] : [other])])]) {
      const { margin, padding } = laidAreas(tree, element);
      for (const side of SIDES) {
        if ((axis === 'x') !== (side === 'left' || side === 'right')) continue;
        for (const [area, px] of [
          ['margin', margin[side]],
          ['padding', padding[side]],
        ] as const) {
          if (Math.abs(px) < 0.5 || (area === 'padding' && !/overflow|stray-scroll/.test(kind))) continue;
          const declaration = authorDeclaration(analysis, element, `${area}-${side}`);
          if (!declaration || declaration.owner !== element || declaration.value === 'auto') continue;
          const pulls = px < 0;
          out.push({
            element,
            property: declaration.source.property,
            source: declaration.source,
            rule: pulls ? 'negative-margin' : area,
            because: pulls
              ? `a margin of ${declaration.value} pulls ${labelOf(analysis, element)} ${cite(declaration)}`
              : `the ${area} of ${labelOf(analysis, element)} takes ${declaration.value} ${cite(declaration)}`,
            words: `take the ${side} ${area} out`,
            steps: [put(analysis, element, `${area}-${side}`, '0')],
            rank: pulls ? 95 : area === 'margin' ? 82 : px >= WIDE ? 74 : 20,
            gives: Math.abs(px),
          });
        }
      }
    }
  if (other !== null && rule === 'gap/escaped-margin') {
    const side = variant === 'bottom' ? 'bottom' : 'top';
    const declaration = authorDeclaration(analysis, other, `margin-${side}`);
    const because = `nothing parts the ${side} margin of ${labelOf(analysis, other)} from that of ${labelOf(analysis, subject)}${declaration ? ` ${cite(declaration)}` : ', a default'}`;
    const base = {
      element: other,
      property: `margin-${side}`,
      source: declaration?.source ?? null,
      rule: 'escaped-margin',
      because,
    };
    out.push({
      ...base,
      words: 'keep the margin in it',
      steps: [put(analysis, subject, 'display', 'flow-root')],
      rank: 80,
    });
    out.push({
      ...base,
      words: 'take the margin out',
      steps: [put(analysis, other, `margin-${side}`, '0')],
      rank: 70,
    });
  }
  // Of a row with an odd space only the two around it can have been moved.
  const movable =
    rule === 'gap/uneven-spacing' ? boxes.slice(0, 2) : /overlap|overflow/.test(kind) ? boxes : [];
  for (const element of movable) {
    const position = used(analysis, 'position', element);
    const moves = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
    if (position !== '' && position !== 'static')
      for (const property of moves) {
        const declaration = authorDeclaration(analysis, element, property);
        if (
          !declaration ||
          declaration.owner !== element ||
          declaration.value === 'auto' ||
          /^0/.test(declaration.value)
        )
          continue;
        out.push({
          element,
          property,
          source: declaration.source,
          rule: 'offset',
          because: `${labelOf(analysis, element)} is moved by ${property}: ${declaration.value} ${cite(declaration)}`,
          words: 'take the offset out',
          steps: [put(analysis, element, property, 'auto')],
          rank: 87,
          gives: Math.abs(usedPx(analysis.reading, property, element)) || Infinity,
        });
      }
    for (const property of TRANSFORMS) {
      const transform = authorDeclaration(analysis, element, property);
      if (!transform || transform.owner !== element || transform.value === 'none') continue;
      out.push({
        element,
        property,
        source: transform.source,
        rule: 'transform',
        because: `a transform moves ${labelOf(analysis, element)} ${cite(transform)}`,
        words: 'take the transform out',
        steps: [put(analysis, element, property, 'none')],
        rank: 83,
      });
    }
  }
  return out;
}
