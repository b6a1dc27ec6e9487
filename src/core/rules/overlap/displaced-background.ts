/** What a box with a background covers, since it is drawn out of its place (CSS 2.2 §9.4.3, CSS Transforms 1 §3). */
import { common } from '../drawn.ts';
import type { Analysis } from '../../analysis.ts';
import { childrenOf, hasBox, rectOf } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isBlock, isDrawnAway } from '../../visibility/placement.ts';
import {
  intersection,
  hasBackground,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  letterBand,
  boxName,
  visibleInk,
  visiblePart,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** The text that a box with a ground covers, since a transform or an offset draws it out of its place (CSS 2.2 §9.4.3, CSS Transforms 1 §3). */
function undersides(analysis: Analysis): Observed[] {
  const { tree, reading, order } = analysis;
  const { visible, clipper } = visibilityOf(analysis);
  const isMoved = (element: number): boolean =>
    isDrawnAway(analysis, element) && (isBlock(tree, element) || tree.kinds[element] === 'inline-block');
  const out: Observed[] = [];
  for (let box = 1; box < tree.count; box++) {
    if (isUnseen(analysis, box)) continue;
    if (stopsByVisibility(analysis, box, !hasBackground(analysis, box) && 'it has no background')) continue;
    if (stopsByGeometry(analysis, box, !isMoved(box) && 'it is drawn where it was laid out')) continue;
    const up = selfAndAncestors(analysis, reading.parent[box]!);
    const isInMoved = up.some((at) => /absolute|fixed/.test(tree.kinds[at]!) || isMoved(at));
    if (stopsByGeometry(analysis, box, isInMoved && 'what it lies in is drawn out of its place as well'))
      continue;
    const shown = visiblePart(analysis, box, rectOf(reading, box));
    if (!shown) {
      stopsByVisibility(analysis, box, 'it is cut off altogether');
      continue;
    }
    let worst = { area: 0, at: -1, cut: shown };
    for (const beside of childrenOf(tree, reading.parent[box]!)) {
      if (beside === box || order[beside]! > order[box]! || isMoved(beside)) continue;
      const isElsewhere = /absolute|fixed/.test(tree.kinds[beside]!) || clipper[beside] !== clipper[box];
      if (stopsByGeometry(analysis, beside, isElsewhere && 'it is positioned, or clipped by another box'))
        continue;
      for (let i = beside; i < tree.count && isSelfOrAncestor(analysis, beside, i); i++) {
        if (!visible[i] || !hasBox(tree, i) || order[i]! > order[box]!) continue;
        for (const ink of inkOf(analysis, i)) {
          const seen = visibleInk(analysis, i, isReplacedOrControl(tree, i) ? ink : letterBand(ink));
          const common = seen && intersection(seen, shown);
          if (!common || common.width < 3 || common.height < 3) continue;
          if (common.width * common.height > worst.area)
            worst = { area: common.width * common.height, at: i, cut: common };
        }
      }
    }
    if (stopsByGeometry(analysis, box, worst.at < 0 && 'it covers no text of what lies beside it')) continue;
    const axis = worst.cut.width <= worst.cut.height ? 'x' : 'y';
    const by = axis === 'x' ? worst.cut.width : worst.cut.height;
    out.push(
      observed({
        px: by,
        axis,
        subject: box,
        other: worst.at,
        what: `${boxName(analysis, box)} is drawn over ${px(by)} px of ${boxName(analysis, worst.at)}`,
        boxes: [box],
        weight: 110 + by,
      }),
    );
  }
  return out;
}

export const rule: Rule<'overlap/displaced-background'> = {
  id: 'overlap/displaced-background',
  kind: 'overlap',
  title: 'A box that is drawn out of its place covers text',
  spec: ['CSS 2.2 §9.4.3', 'CSS Transforms 1 §3'],
  why: 'A transform or a relative offset draws a box elsewhere and keeps its room where it was.',
  usual: 'Move it by margins, or take the offset out.',
  example: `<style>p { margin: 0 } .b { position: relative; top: -14px; background: tan; height: 40px }</style><section><p>A line that is covered</p><div class="b">moved</div></section>`,
  observe: undersides,
  drawn: common,
};
