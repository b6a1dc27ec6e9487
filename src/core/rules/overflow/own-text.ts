/** Text that sticks out of its own box (CSS Overflow 3 §2.2). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, rectOf } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { endsInSight, endsOf, isClippedOn, makesScroll, LEAST } from './ends.ts';
import {
  clips,
  overflowsLeft,
  isReplacedOrControl,
  isTransformed,
  boxName,
  visiblePart,
  visibilityOf,
  tagOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';

/** Text that sticks out of its own box, where that is no more than its line's. */
function ownText(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const { visible } = visibilityOf(analysis);
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || /^inline$|root|^table-(row|column)/.test(tree.kinds[i]!)) continue;
    if (
      clips(tree, i, 'x') ||
      (isReplacedOrControl(tree, i) && tagOf(tree, i) !== 'button') ||
      tagOf(tree, i) === 'body'
    )
      continue;
    const { x, width } = rectOf(reading, i);
    const toLeft = overflowsLeft(analysis, i);
    const { left, right } = endsOf(analysis, i);
    const by = toLeft ? x - left : right - x - width;
    if (by < LEAST || !endsInSight(analysis, i)) continue;
    // In the padding of the next cell there is nothing that it could cover.
    const least = tree.kinds[i] === 'table-cell' ? laidAreas(tree, i).padding.left + LEAST : LEAST;
    if (by < least || width < 1) continue;
    if (makesScroll(analysis, i) && !isClippedOn(analysis, i, 'x')) continue;
    const { y, height } = rectOf(reading, i);
    const beyond = { x: toLeft ? x - by : x + width, y, width: by, height: Math.max(1, height) };
    if (!visiblePart(analysis, i, beyond)) continue;
    const indent = resolve(analysis.styles, i, 'text-indent').value;
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: i,
        what: `The text of ${boxName(analysis, i)} sticks out of it by ${px(by)} px`,
        meant: isTransformed(analysis, i)
          ? 'A transform moves it'
          : indent.startsWith('-')
            ? 'A negative text-indent moves it away'
            : '',
        boxes: selfAndAncestors(analysis, i).filter((at) => at > 0 && tagOf(tree, at) !== 'body'),
        weight: by + 30,
      }),
    );
  }
  return out;
}

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
