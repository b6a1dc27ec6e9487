/** Boxes that stick out of their container, within the width of the page (CSS Overflow 3 §2.2). */
import { facts } from '../../evidence/model.ts';
import { columnRoom } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px, same } from '../../geometry/rect.ts';
import { pastOther } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { lineEndsOf, endsInSight, isClippedOn, makesScroll, LEAST, within } from './ends.ts';
import {
  clips,
  overflowsLeft,
  isReplacedOrControl,
  isTransformed,
  boxName,
  visiblePart,
  widestIn,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** What sticks out of a container that shows where it ends, within the width of the page. */
function outOfContainers(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const { clientWidth } = reading.document;
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (
      isUnseen(analysis, i) ||
      stopsByGeometry(analysis, i, tagOf(tree.reading, i) === 'body' && 'it is body')
    )
      continue;
    const placed = tree.kinds[i] === 'absolute' && fillsAcross(analysis, i);
    const parent = placed ? tree.containingBlock[i]! : aroundOf(analysis, i);
    const kindOf = tree.kinds[i]!;
    const isOther = /inline$|absolute|fixed|table-(row|cell|column|caption)/.test(kindOf) && !placed;
    if (
      stopsByGeometry(
        analysis,
        i,
        (isOther || kindOf === 'none' || kindOf === 'contents') &&
          'it is a part of a line or a table, or is positioned',
      )
    )
      continue;
    if (
      stopsByGeometry(
        analysis,
        i,
        (parent <= 0 || tagOf(tree.reading, parent) === 'body' || !hasBox(tree, parent)) &&
          'what it lies in is the page itself, or has no box',
      )
    )
      continue;
    if (stopsByGeometry(analysis, i, clips(tree, parent, 'x') && 'what it lies in clips or scrolls')) continue;
    if (
      stopsByGeometry(
        analysis,
        i,
        /^inline$|^table/.test(tree.kinds[parent]!) && 'what it lies in is inline or a part of a table',
      )
    )
      continue;
    // Text goes on in the next column, a picture stays in its own.
    const column = isReplacedOrControl(tree, i) ? columnRoom(tree, parent) : null;
    const rect = rectOf(reading, i);
    const around =
      column === null ? rectOf(reading, parent) : { ...rectOf(reading, parent), x: rect.x, width: column };
    const toLeft = overflowsLeft(analysis, parent);
    // Most lie within what is around them with all that they hold.
    const ends = lineEndsOf(analysis, i);
    const isWithin = toLeft ? around.x - ends.left < LEAST : ends.right - around.x - around.width < LEAST;
    if (stopsByGeometry(analysis, i, isWithin && 'it ends before what it lies in does')) continue;
    // Where a box ends nobody sees, its text is what sticks out of what is around it.
    const bare = endsInSight(analysis, parent) && !endsInSight(analysis, i) && !clips(tree, i, 'x');
    const { left, right } = bare ? lineEndsOf(analysis, i) : { left: rect.x, right: rect.x + rect.width };
    const by = toLeft ? around.x - left : right - (around.x + around.width);
    const isThere = rect.width >= 1 || right - left > rect.width;
    if (
      stopsByVisibility(
        analysis,
        i,
        (by < LEAST || around.width < 1 || !isThere) &&
          'its end cannot be seen, and its text ends before what it lies in does',
      )
    )
      continue;
    if (
      stopsByGeometry(
        analysis,
        i,
        makesScroll(analysis, i) &&
          !isClippedOn(analysis, i, 'x') &&
          'it makes the page scroll: the rule of that tells of it',
      )
    )
      continue;
    // What is cut off before it sticks out is not seen to.
    const beyond = { ...rect, x: toLeft ? around.x - by : around.x + around.width, width: by };
    if (stopsByVisibility(analysis, i, !visiblePart(analysis, i, beyond) && 'what sticks out of it is cut off'))
      continue;
    const pulled = pullsOut(analysis, i, parent);
    const moved = isTransformed(analysis, i);
    // It leaves its column on both sides, and ends where the page does.
    const isBleed = rect.x < around.x - 0.5 && Math.abs(rect.x) < 1 && Math.abs(right - clientWidth) < 1;
    const relative =
      usedText(reading, 'position', i) === 'relative' && resolve(analysis.styles, i, 'left').winner !== null;
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: i,
        other: parent,
        what: `${boxName(analysis, i)} sticks out of ${column === null ? '' : 'its column of '}${boxName(analysis, parent)} by ${px(by)} px`,
        evidence: facts(
          ['negative-margin', pulled && 'A negative margin takes it to the edge of what is around it'],
          ['from-side-to-side', isBleed && 'It goes from side to side of the page'],
          ['moved-by-transform', moved && 'A transform moves it'],
          ['moved-by-offset', relative && 'It is moved by an offset of its own'],
        ),
        boxes: [
          ...new Set([i, ...within(analysis, i, around.x + around.width), ...inTable(analysis, i), parent]),
        ],
        weight: by + (isReplacedOrControl(tree, i) ? 20 : 0),
      }),
    );
  }
  return out;
}

const inTable = (analysis: Analysis, table: number): number[] =>
  usedText(analysis.reading, 'display', table) === 'table' ? widestIn(analysis, table) : [];

/** Whether a positioned box is meant to go from side to side of its containing block: as wide as it, from its start. */
function fillsAcross(analysis: Analysis, element: number): boolean {
  const width = resolve(analysis.styles, element, 'width');
  const left = resolve(analysis.styles, element, 'left');
  return width.winner !== null && width.value === '100%' && /^0(px|%)?$/.test(left.value);
}

/** The nearest box around another that is no part of a line. */
function aroundOf({ tree, reading }: Analysis, element: number): number {
  let at = reading.parent[element]!;
  while (at > 0 && /^(inline|contents)$/.test(tree.kinds[at]!)) at = reading.parent[at]!;
  return at;
}

/** Whether negative margins take a box over the padding of what it lies in, or over the gutters of what lies in it, on both sides alike. */
function pullsOut({ tree }: Analysis, element: number, parent: number): boolean {
  const { margin } = laidAreas(tree, element);
  const { padding } = laidAreas(tree, parent);
  if (margin.right >= 0) return false;
  return same(-margin.right, padding.right) || same(margin.left, margin.right);
}

export const rule: Rule<'overflow/container'> = {
  id: 'overflow/container',
  kind: 'overflow',
  title: 'A box sticks out of its container',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'A box is wider than the container that it lies in, or is pushed beyond its end.',
  usual:
    'Let it be as wide as its container: take out a fixed width or a minimum, let text wrap, count padding and border in.',
  example: `<style>.card { width: 200px; background: linen } .in { width: 260px; background: tan }</style><div class="card"><div class="in">wider</div></div>`,
  observe: outOfContainers,
  drawn: pastOther,
};
