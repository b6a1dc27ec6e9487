/** Boxes in the flow of one container that lie over each other (CSS 2.2 §8.3). */
import { sharedCells } from './shared-cells.ts';
import { facts } from '../../evidence/model.ts';
import { common } from '../drawn.ts';
import { columnRoom } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { childrenOf, hasBox, rectOf, usedText } from '../../boxes/tree.ts';
import { overlapIntent } from '../../evidence/overlap-intent.ts';
import { type Rect, px } from '../../geometry/rect.ts';
import type { RawReading } from '../../reading/reading.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isOffset, isSolid, followVertically } from '../../visibility/placement.ts';
import {
  intersection,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  isTransformed,
  letterBand,
  boxName,
  visibleChildren,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Boxes in the flow of one container that lie over each other: a negative margin pulls one back. */
function siblings(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const out: Observed[] = [];
  const inColumns = new Uint8Array(tree.count);
  for (let parent = 0; parent < tree.count; parent++) {
    // What goes on in a further column lies around what is between.
    if (inColumns[reading.parent[parent]!] === 1 || columnRoom(tree, parent) !== null) inColumns[parent] = 1;
    if (
      parent === 0 ||
      stopsByGeometry(analysis, parent, inColumns[parent] === 1 && 'it is laid out in columns')
    )
      continue;
    const shown = visibleChildren(analysis, parent);
    if (shown.length < 2) continue;
    const list = shown.filter(
      (element) => !/^inline$|absolute|fixed|float|^table-|root/.test(tree.kinds[element]!),
    );
    for (let n = 1; n < list.length; n++) {
      const [a, b] = [list[n - 1]!, list[n]!];
      if (stopsByGeometry(analysis, b, areApart(reading, a, b) && 'it and the box before it share no room'))
        continue;
      const common = intersection(rectOf(reading, a), rectOf(reading, b));
      // Borders that lie on each other make one line of two.
      if (!common || Math.min(common.width, common.height) <= 2.5) {
        stopsByGeometry(analysis, b, 'it shares no more than a border with the box before it');
        continue;
      }
      // What a box without a ground holds is what lies over, or under.
      const under = solidIn(analysis, a, common);
      const over = under === null ? null : solidIn(analysis, b, common);
      const shared = under && over && intersection(under, over);
      if (
        stopsByVisibility(
          analysis,
          b,
          (!shared || Math.min(shared.width, shared.height) <= 2.5) &&
            'no background, border or text of it lies over one of the box before it',
        )
      )
        continue;
      const areOffset = isOffset(analysis, a) || isOffset(analysis, b);
      if (stopsByEvidence(analysis, b, areOffset && 'it, or the box before it, is moved by an offset'))
        continue;
      // What is positioned to lie above may cover a ground, but no text.
      const isRaised = [a, b].some((element) => usedText(reading, 'position', element) === 'relative');
      if (
        stopsByEvidence(
          analysis,
          b,
          isRaised && !hasInkIn(analysis, a, common) && 'one of the two is positioned, and no text is covered',
        )
      )
        continue;
      const areMoved = isTransformed(analysis, a) || isTransformed(analysis, b);
      if (stopsByEvidence(analysis, b, areMoved && 'a transform moves one of the two')) continue;
      // They follow each other on the axis on which they begin further apart.
      const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
      const vertical = followVertically(analysis, a, b) || Math.abs(ra.y - rb.y) >= Math.abs(ra.x - rb.x);
      const by = vertical ? shared!.height : shared!.width;
      out.push(
        observed({
          px: by,
          axis: vertical ? 'y' : 'x',
          subject: b,
          other: a,
          what: `${boxName(analysis, b)} lies ${px(by)} px over ${boxName(analysis, a)}`,
          evidence: [
            ...facts(['pile', isPile(analysis, list) && 'They are piled up, each over the one before']),
            ...overlapIntent(analysis, a, b, a, b),
          ],
          boxes: [b, a],
          weight: 110 + by,
        }),
      );
    }
  }
  return out;
}

/** The part of an area in which a box, or what it holds in its flow, has a ground, a border or ink; null: there is none. */
function solidIn(analysis: Analysis, element: number, area: Rect): Rect | null {
  if (isSolid(analysis, element)) return area;
  const { tree } = analysis;
  let largest: Rect | null = null;
  for (const child of visibleChildren(analysis, element)) {
    if (/absolute|fixed/.test(tree.kinds[child]!)) continue;
    const common = intersection(rectOf(tree.reading, child), area);
    const part = common && common.width > 2.5 && common.height > 2.5 ? solidIn(analysis, child, common) : null;
    if (part && (!largest || part.width * part.height > largest.width * largest.height)) largest = part;
  }
  return largest;
}

/** Whether some of what a box holds shows in an area. */
function hasInkIn(analysis: Analysis, element: number, area: Rect): boolean {
  const { tree } = analysis;
  const { visible } = visibilityOf(analysis);
  for (let i = element; i < tree.count && isSelfOrAncestor(analysis, element, i); i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    const isSeen = inkOf(analysis, i).some((ink) => {
      const common = intersection(isReplacedOrControl(tree, i) ? ink : letterBand(ink), area);
      return common !== null && common.width >= 2 && common.height >= 2;
    });
    if (isSeen) return true;
  }
  return false;
}

/** Whether one of two boxes ends before the other begins, on either axis: of most this is all that must be known. */
function areApart({ rects }: RawReading, a: number, b: number): boolean {
  const [p, q] = [a * 4, b * 4];
  return (
    rects[p]! + rects[p + 2]! <= rects[q]! ||
    rects[q]! + rects[q + 2]! <= rects[p]! ||
    rects[p + 1]! + rects[p + 3]! <= rects[q + 1]! ||
    rects[q + 1]! + rects[q + 3]! <= rects[p + 1]!
  );
}

/** Three boxes or more, or two pictures, each pulled over the last by the same: faces in a row. */
function isPile(analysis: Analysis, list: readonly number[]): boolean {
  const { reading } = analysis;
  const margins = list.slice(1).map((element) => usedText(reading, 'margin', element));
  const isEven = margins.every((margin) => margin === margins[0] && /-\d/.test(margin));
  return isEven && (list.length > 2 || list.every((element) => isPicture(analysis, element)));
}

/** Whether nothing is seen of a box but a picture. */
function isPicture({ tree }: Analysis, element: number): boolean {
  const things = /^(img|picture|svg|canvas|video)$/;
  const within = childrenOf(tree, element).filter((child) => hasBox(tree, child));
  return (
    things.test(tagOf(tree.reading, element)) ||
    (within.length === 1 && things.test(tagOf(tree.reading, within[0]!)))
  );
}

export const rule: Rule<'overlap/siblings'> = {
  id: 'overlap/siblings',
  kind: 'overlap',
  title: 'Two boxes in the flow lie over each other',
  spec: ['CSS 2.2 §8.3'],
  why: 'A negative margin pulls a box over the one before it.',
  usual: 'Take the negative margin out.',
  example: `<style>div { height: 60px; background: linen } .b { margin-top: -20px; background: tan }</style><section><div>one</div><div class="b">two</div></section>`,
  observe: siblings,
  suspects: sharedCells,
  drawn: common,
};
