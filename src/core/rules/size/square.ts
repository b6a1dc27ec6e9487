/** Boxes of which both sides say the same, and that are not square. */
import { wishFor } from '../wishes.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd, beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { declared, isGiven, isSqueezed, LEAST, LIMITS, sizedBoxes } from './declared-sizes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { fix, suspect } from '../suspects.ts';
import { boxName } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';

/** Both sides say the same, and it is not a square. */
export function squareOff(analysis: Analysis, element: number): Observed | null {
  const [width, height] = [declared(analysis, element, 'width'), declared(analysis, element, 'height')];
  if (!width || !height || width.value !== height.value) {
    stopsByGeometry(analysis, element, 'its width and height are not declared as one and the same length');
    return null;
  }
  const { rect } = laidAreas(analysis.tree, element);
  const off = rect.width - rect.height;
  if (stopsByGeometry(analysis, element, Math.abs(off) < LEAST && 'it is a square')) return null;
  if (
    stopsByEvidence(
      analysis,
      element,
      off < 0 && isSqueezed(analysis, element) && 'its line is too long: that is told of what sticks out of it',
    )
  )
    return null;
  return observed({
    px: Math.abs(off),
    axis: off > 0 ? 'x' : 'y',
    subject: element,
    what: `${boxName(analysis, element)} is ${px(rect.width)} × ${px(rect.height)}, and both sides say ${width.value}`,
    variant: off > 0 ? 'larger' : 'smaller',
    weight: 40 + Math.abs(off),
    source: width.winner!.source,
  });
}

/** A minimum or a maximum that decides one of the sides, and not the other (CSS 2.2 §10.4). */
function byLimit(analysis: Analysis, { subject }: Observation): Suspect[] {
  const { rect, content } = laidAreas(analysis.tree, subject);
  return LIMITS.flatMap((property): Suspect[] => {
    const declaration = authorDeclaration(analysis, subject, property);
    if (declaration?.owner !== subject || !isGiven(analysis, subject, property)) return [];
    const side = property.endsWith('width') ? 'width' : 'height';
    const wanted = declaredPx(analysis, subject, property, declaration.value);
    if (Math.min(Math.abs(rect[side] - wanted), Math.abs(content[side] - wanted)) > 0.5) return [];
    const isLeast = property.startsWith('min');
    return [
      suspect(
        analysis,
        subject,
        property,
        `${boxName(analysis, subject)} is at ${isLeast ? 'least' : 'most'} ${declaration.value} ${side === 'width' ? 'wide' : 'tall'}`,
        [
          fix(
            `set no ${isLeast ? 'minimum' : 'maximum'} for it`,
            subject,
            property,
            isLeast ? '0' : 'none',
            104,
          ),
        ],
      ),
    ];
  });
}

export const rule: Rule<'size/square'> = {
  id: 'size/square',
  kind: 'size',
  title: 'A box that should be square is not',
  spec: ['CSS Sizing 3 §3.3', 'Flexbox 1 §9.7'],
  why: 'Padding or border comes on top of one side, or a flex item gives way on one axis.',
  usual: 'Count padding and border in, or keep the item from shrinking.',
  example: `<style>.row { display: flex; width: 200px } .dot { width: 80px; height: 80px; background: tan } .text { flex: 0 0 160px }</style><div class="row"><div class="dot">1</div><div class="text">text</div></div>`,
  observe: (analysis) => sizedBoxes(analysis).flatMap((box) => squareOff(analysis, box) ?? []),
  wish: (analysis, { subject }) => wishFor(analysis, subject, { is: 'ratio', ratio: 1 }),
  suspects: byLimit,
  drawn: (analysis, observation) =>
    observation.variant === 'larger' ? beforeEnd(analysis, observation) : afterEnd(analysis, observation),
};
