/** What lies left of the page, or above it, in part: nobody can scroll there (CSS Overflow 3 §2.2). */
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isClippedOn, LEAST } from './ends.ts';
import {
  inkOf,
  isReplacedOrControl,
  isTransformed,
  boxName,
  visibleInk,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** What lies left of the page, or above it, in part: nobody can scroll there (CSS Overflow 3 §2.2). */
function beforeThePage(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const out = new Map<string, Observed>();
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    const isInside = inkOf(analysis, i).every(({ x, y }) => x > -LEAST && y > -LEAST);
    if (
      stopsByGeometry(
        analysis,
        i,
        isInside && 'no text, picture or control of it lies left of the page or above it',
      )
    )
      continue;
    for (const axis of ['x', 'y'] as const) {
      if (axis === 'x' && usedText(reading, 'direction', 0) === 'rtl') continue;
      const up = selfAndAncestors(analysis, i);
      const placed = up.find((at) => tree.kinds[at] === 'absolute' || isTransformed(analysis, at));
      const view = axis === 'x' ? reading.viewport.width : reading.viewport.height;
      const by = Math.max(
        0,
        ...inkOf(analysis, i).map((ink) => {
          const [start, size] = axis === 'x' ? [ink.x, ink.width] : [ink.y, ink.height];
          // What is placed wholly outside waits there; what is pulled by more than a viewport is kept for those who hear the page.
          if (start + size <= 2 && (placed !== undefined || start + size < -view)) return 0;
          // A line's own area is taller than its letters.
          const lost = axis === 'x' ? -start : -start - (isReplacedOrControl(tree, i) ? 0 : size * 0.2);
          return lost >= LEAST && visibleInk(analysis, i, ink) ? lost : 0;
        }),
      );
      if (stopsByVisibility(analysis, i, by === 0 && 'it lies wholly outside, or none of its letters are lost'))
        continue;
      if (stopsByVisibility(analysis, i, isClippedOn(analysis, i, axis) && 'a box around it clips it'))
        continue;
      if (
        stopsByEvidence(
          analysis,
          i,
          up.some((at) => tree.kinds[at] === 'fixed') && 'it is fixed, or lies in what is',
        )
      )
        continue;
      const above = up.find((at) => out.has(`${axis} ${at}`));
      const isTold = above !== undefined && above !== i;
      if (stopsByGeometry(analysis, i, isTold && 'it is told of a box around it')) continue;
      out.set(
        `${axis} ${i}`,
        observed({
          px: by,
          axis,
          subject: i,
          what: `${px(by)} px of ${boxName(analysis, i)} lie ${axis === 'x' ? 'left of' : 'above'} the page, where nobody can scroll to`,
          evidence: facts(
            [
              isTransformed(analysis, placed ?? i) ? 'placed-by-hand' : 'placed-in-what-clips',
              placed !== undefined && `${boxName(analysis, placed)} is placed there by hand`,
            ],
            ['letters-cut-through', placed !== undefined && 'A part of it can be read, and the rest cannot'],
          ),
          boxes: up,
          weight: 80 + by,
        }),
      );
    }
  }
  return [...out.values()];
}

export const rule: Rule<'overflow/before-page'> = {
  id: 'overflow/before-page',
  kind: 'overflow',
  title: 'Content lies before the page, where nobody can scroll to',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'What lies before the start of the page is not part of its scrollable overflow, so no scrolling brings it into sight.',
  usual: 'Take out the negative margin or offset that pulls it there.',
  example: `<style>body { margin: 0 } p { margin-left: -20px }</style><p>The first letters of this line are lost</p>`,
  observe: beforeThePage,
  drawn: (_analysis, { px }) => [-px, 0],
};
