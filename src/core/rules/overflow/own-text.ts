/** Text that sticks out of its own box (CSS Overflow 3 §2.2). */
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, rectOf } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { endsInSight, lineEndsOf, isClippedOn, makesScroll, LEAST } from './ends.ts';
import {
  clips,
  overflowsLeft,
  isReplacedOrControl,
  isTransformed,
  boxName,
  visiblePart,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Text that sticks out of its own box, where that is no more than its line's. */
function ownText(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    const isOther =
      /^inline$|root|^table-(row|column)/.test(tree.kinds[i]!) || tagOf(tree.reading, i) === 'body';
    if (stopsByGeometry(analysis, i, isOther && 'it is no box with lines of its own')) continue;
    if (stopsByGeometry(analysis, i, clips(tree, i, 'x') && 'it clips or scrolls what is in it')) continue;
    const isPicture = isReplacedOrControl(tree, i) && tagOf(tree.reading, i) !== 'button';
    if (stopsByGeometry(analysis, i, isPicture && 'it is a picture or a control')) continue;
    const { x, width } = rectOf(reading, i);
    const toLeft = overflowsLeft(analysis, i);
    const { left, right } = lineEndsOf(analysis, i);
    const by = toLeft ? x - left : right - x - width;
    if (stopsByGeometry(analysis, i, by < LEAST && 'its text ends before it does')) continue;
    if (
      stopsByVisibility(
        analysis,
        i,
        !endsInSight(analysis, i) && 'it has no background or border to show where it ends',
      )
    )
      continue;
    // In the padding of the next cell there is nothing that it could cover.
    const least = tree.kinds[i] === 'table-cell' ? laidAreas(tree, i).padding.left + LEAST : LEAST;
    if (
      stopsByVisibility(
        analysis,
        i,
        (by < least || width < 1) && 'its text stays in the padding of the next cell, or it has no width',
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
    const { y, height } = rectOf(reading, i);
    const beyond = { x: toLeft ? x - by : x + width, y, width: by, height: Math.max(1, height) };
    if (stopsByVisibility(analysis, i, !visiblePart(analysis, i, beyond) && 'what sticks out of it is cut off'))
      continue;
    const indent = resolve(analysis.styles, i, 'text-indent').value;
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: i,
        what: `The text of ${boxName(analysis, i)} sticks out of it by ${px(by)} px`,
        evidence: facts(
          ['moved-by-transform', isTransformed(analysis, i) && 'A transform moves it'],
          ['negative-indent', indent.startsWith('-') && 'A negative text-indent moves it away'],
        ),
        boxes: [
          ...selfAndAncestors(analysis, i).filter((at) => at > 0 && tagOf(tree.reading, at) !== 'body'),
          ...inlineIn(analysis, i),
        ],
        weight: by + 30,
      }),
    );
  }
  return out;
}

/** What is inline in a box, and has text of its own. */
const inlineIn = (analysis: Analysis, box: number): number[] =>
  childrenOf(analysis.tree, box)
    .filter((child) => analysis.tree.kinds[child] === 'inline')
    .flatMap((child) => [child, ...inlineIn(analysis, child)])
    .slice(0, 12);

export const rule: Rule<'overflow/own-text'> = {
  id: 'overflow/own-text',
  kind: 'overflow',
  title: 'Text sticks out of its own box',
  spec: ['CSS Overflow 3 §2.2', 'CSS Text 3 §3, §5'],
  why: 'A word or a line that may not break is longer than the box that it stands in.',
  usual: 'Let it wrap, let a long word break, or let the box be wider.',
  example: `<style>p { width: 80px; background: linen; white-space: nowrap }</style><p>A line that may not wrap at all</p>`,
  observe: ownText,
  drawn: (analysis, { px, subject }) => {
    const { x, width } = rectOf(analysis.reading, subject);
    return overflowsLeft(analysis, subject) ? [x - px, x] : [x + width, x + width + px];
  },
};
