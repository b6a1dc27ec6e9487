/** Boxes that are not as large as their author declared (CSS Sizing 3 §3, Flexbox 1 §9.7). */
import { boxesInRatio } from './aspect-ratio.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { type Axis, px } from '../../geometry/rect.ts';
import { afterEnd, beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isSqueezed, offDeclared } from './declared-sizes.ts';
import { boxName } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';

const AXES = ['x', 'y'] as const;

function offAxis(analysis: Analysis, element: number, axis: Axis): Observed[] {
  const found = offDeclared(analysis, element, axis);
  if (!found) return [];
  if (
    stopsByGeometry(
      analysis,
      element,
      found.needsMore && 'it is a table or a fieldset, which another rule tells of',
    )
  )
    return [];
  const { off, used, wanted, property, value, source, inflated, isItem } = found;
  if (
    stopsByGeometry(
      analysis,
      element,
      !inflated &&
        !isItem &&
        `it is no flex item, and its padding and border are not what makes its ${property} another`,
    )
  )
    return [];
  const isTold = !inflated && axis === 'x' && off < 0 && isSqueezed(analysis, element);
  if (
    stopsByEvidence(analysis, element, isTold && 'its line is too long: that is told of what sticks out of it')
  )
    return [];
  return [
    observed({
      px: Math.abs(off),
      axis,
      subject: element,
      what: `${boxName(analysis, element)} is ${px(used)} px ${axis === 'x' ? 'wide' : 'tall'}, and ${property}: ${value} says ${px(wanted)}`,
      evidence: facts(
        [
          'edges-come-on-top',
          inflated && 'It is so by its padding and border alone, which content-box leaves out',
        ],
        [
          'flex-basis-is-met',
          isItem &&
            meetsBasis(analysis, element, used) &&
            'It is as large as its flex-basis says, which goes before its width',
        ],
      ),
      variant: off > 0 ? 'larger' : 'smaller',
      weight: inflated ? Math.abs(off) / 2 : Math.abs(off),
      source,
    }),
  ];
}

/** Whether a flex item is as large as the basis that is declared of it (Flexbox 1 §7.2.3). */
function meetsBasis(analysis: Analysis, item: number, used: number): boolean {
  const basis = authorDeclaration(analysis, item, 'flex-basis');
  return (
    basis !== null &&
    /\d/.test(basis.value) &&
    Math.abs(declaredPx(analysis, item, 'flex-basis', basis.value) - used) < 1
  );
}

export const rule: Rule<'size/declared'> = {
  id: 'size/declared',
  kind: 'size',
  title: 'A box is not as large as declared',
  spec: ['CSS Sizing 3 §3.3', 'Flexbox 1 §9.7'],
  why: 'Padding and border come on top of a content-box size, or a flex item grows or gives way with its line.',
  usual: 'Count padding and border in, or let the item keep its size: `flex: none`.',
  example: `<style>.card { width: 300px; padding: 20px; border: 5px solid }</style><div class="card">330 px wide</div>`,
  observe: (analysis) =>
    boxesInRatio(analysis).flatMap((box) => AXES.flatMap((axis) => offAxis(analysis, box, axis))),
  drawn: (analysis, observation) =>
    observation.variant === 'larger' ? beforeEnd(analysis, observation) : afterEnd(analysis, observation),
};
