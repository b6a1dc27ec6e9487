/** Boxes whose corner, and not whose middle, stands in the middle of what is around them (CSS Positioned Layout 3 §3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Axis, endOf, px, startOf } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** CSS px of a box from which on its middle is another place than its edge. */
const LEAST = 10;

/**
 * CSS px by which the middle of a box, as drawn, is off from that of its containing block, where its edge is declared to go there;
 * 0: it is not. What begins in the middle and ends where the other does is the second half of it.
 */
function offBy(analysis: Analysis, element: number, axis: Axis): number {
  const { tree, reading } = analysis;
  const [start, size] = axis === 'x' ? (['left', 'width'] as const) : (['top', 'height'] as const);
  const side = authorDeclaration(analysis, element, start);
  const around = tree.containingBlock[element]!;
  if (side?.owner !== element || side.value !== '50%' || around < 0) return 0;
  const [rect, outer] = [rectOf(reading, element), rectOf(reading, around)];
  if (rect[size] < LEAST || Math.abs(endOf(rect, axis) - endOf(outer, axis)) < 2) return 0;
  const off = Math.abs(startOf(rect, axis) + rect[size] / 2 - startOf(outer, axis) - outer[size] / 2);
  return off < LEAST / 2 ? 0 : off;
}

function corners(analysis: Analysis): Observed[] {
  const { tree } = analysis;
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (tree.kinds[i] !== 'absolute' || isUnseen(analysis, i)) continue;
    const [x, y] = [offBy(analysis, i, 'x'), offBy(analysis, i, 'y')];
    if (
      stopsByGeometry(
        analysis,
        i,
        x === 0 && y === 0 && 'its middle stands in the middle, or none of its edges is put there',
      )
    )
      continue;
    const axis: Axis = x >= y ? 'x' : 'y';
    out.push(
      observed({
        px: Math.max(x, y),
        axis,
        subject: i,
        other: tree.containingBlock[i]!,
        what: `The middle of ${boxName(analysis, i)} is ${px(Math.max(x, y))} px off that of ${boxName(analysis, tree.containingBlock[i]!)}: its ${axis === 'x' ? 'left' : 'upper'} edge is put there`,
        evidence: facts(['on-both-axes', x > 0 && y > 0 && 'It is so on both axes']),
        boxes: [i],
        weight: 30 + Math.max(x, y) / 2,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { subject }: Observation): Suspect[] {
  const [x, y] = [offBy(analysis, subject, 'x'), offBy(analysis, subject, 'y')];
  const back = `translate(${x > 0 ? '-50%' : '0'}, ${y > 0 ? '-50%' : '0'})`;
  return [
    suspect(analysis, subject, x >= y ? 'left' : 'top', `50% is where its edge goes, and not its middle`, [
      fix('move it back by half of itself', subject, 'transform', back, 104),
    ]),
  ];
}

export const rule: Rule<'gap/corner-at-centre'> = {
  id: 'gap/corner-at-centre',
  kind: 'gap',
  title: 'The edge of a box stands in the middle, and not its own middle',
  spec: ['CSS Positioned Layout 3 §3.1'],
  why: '`left: 50%` and `top: 50%` put the edge of a box into the middle of its containing block.',
  usual: 'Move it back by half of itself: `transform: translate(-50%, -50%)`.',
  example: `<style>div { position: relative; height: 200px; background: linen } p { position: absolute; left: 50%; top: 50%; margin: 0 }</style><div><p>In the middle</p></div>`,
  observe: corners,
  suspects,
  drawn: beforeStart,
};
