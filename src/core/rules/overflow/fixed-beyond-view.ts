/** Text and controls of fixed boxes that lie beyond the view (CSS Positioned Layout 3 §2.1). */
import type { Analysis } from '../../analysis.ts';
import { px } from '../../geometry/rect.ts';
import { beforeOther } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  overflowsLeft,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  letterBand,
  boxName,
  scrollsOn,
  visibleInk,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

const LEAST = 2;

/** Text and controls of what is fixed to the viewport that lie beyond its end, where the rest of it is in sight (CSS Positioned Layout 3 §2.1). */
function beyondTheView(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { visible } = visibilityOf(analysis);
  const ends = {
    x: document.clientWidth + document.scrollX,
    y: document.clientHeight + document.scrollY,
  };
  const starts = { x: document.scrollX, y: document.scrollY };
  const out: Observed[] = [];
  for (let box = 1; box < tree.count; box++) {
    if (stopsByVisibility(analysis, box, !visible[box] && 'it cannot be seen')) continue;
    const isFixed = tree.kinds[box] === 'fixed' && tree.containingBlock[box]! < 0;
    if (stopsByGeometry(analysis, box, !isFixed && 'it is not fixed to the viewport')) continue;
    for (const axis of ['x', 'y'] as const) {
      let worst = { by: 0, at: -1 };
      let isSeen = false;
      for (let i = box; i < tree.count && isSelfOrAncestor(analysis, box, i); i++) {
        if (!visible[i] || selfAndAncestors(analysis, i, box).some((at) => tree.kinds[at] === 'fixed'))
          continue;
        const isScrolled = [box, ...selfAndAncestors(analysis, i, box)].some((at) => scrollsOn(tree, at, axis));
        if (
          stopsByVisibility(
            analysis,
            i,
            isScrolled && 'it lies in a box that scrolls, so all of it can be reached',
          )
        )
          continue;
        for (const ink of inkOf(analysis, i)) {
          const seen = visibleInk(analysis, i, isReplacedOrControl(tree, i) ? ink : letterBand(ink));
          if (!seen) continue;
          const [start, size] = axis === 'x' ? [seen.x, seen.width] : [seen.y, seen.height];
          const [aside, wide] = axis === 'x' ? [seen.y, seen.height] : [seen.x, seen.width];
          // What waits beside the view is not there to be reached.
          if (aside >= ends[axis === 'x' ? 'y' : 'x'] || aside + wide <= starts[axis === 'x' ? 'y' : 'x'])
            continue;
          isSeen ||= start + size <= ends[axis] + 0.5;
          const by = start + size - ends[axis];
          if (by > worst.by) worst = { by, at: i };
        }
      }
      if (stopsByGeometry(analysis, box, worst.by < LEAST && 'its text ends before the viewport does'))
        continue;
      if (stopsByEvidence(analysis, box, !isSeen && 'none of it is in the view: it waits beside it')) continue;
      out.push(
        observed({
          px: worst.by,
          axis,
          subject: box,
          other: worst.at === box ? null : worst.at,
          what: `${boxName(analysis, box)} stays in its place, and ${px(worst.by)} px of ${worst.at === box ? 'its text' : boxName(analysis, worst.at)} lie ${axis === 'x' ? 'right of' : 'below'} the viewport, where nobody can scroll to`,
          boxes: [box, ...selfAndAncestors(analysis, worst.at, box)],
          weight: 120 + worst.by,
        }),
      );
    }
  }
  return out;
}

export const rule: Rule<'overflow/fixed-beyond-view'> = {
  id: 'overflow/fixed-beyond-view',
  kind: 'overflow',
  title: 'A part of a fixed box lies beyond the view',
  spec: ['CSS Positioned Layout 3 §2.1'],
  why: 'What is fixed to the viewport does not scroll with the page, so what lies beyond its end cannot be reached.',
  usual: 'Let the box scroll by itself, or limit it to the size of the view.',
  example: `<style>nav { position: fixed; top: 0; left: 0; background: linen } li { height: 60px }</style><nav><ul><li>1<li>2<li>3<li>4<li>5<li>6<li>7<li>8<li>9<li>10<li>11<li>12<li>13<li>14<li>15<li>16</ul></nav>`,
  observe: beyondTheView,
  drawn: (analysis, { axis, px, other }) => {
    const { scrollX, scrollY, clientWidth, clientHeight } = analysis.reading.document;
    if (axis === 'x' && overflowsLeft(analysis, other ?? 0)) return beforeOther(analysis, other, px);
    const edge = axis === 'x' ? clientWidth + scrollX : clientHeight + scrollY;
    return [edge, edge + px];
  },
};
