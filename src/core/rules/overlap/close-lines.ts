/** Lines of one box that lie over each other (CSS Inline 3 §5.1). */
import type { Analysis } from '../../analysis.ts';
import { layoutPiece } from '../../boxes/transforms.ts';
import { frames, inside, usedPx } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isReplacedOrControl, boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** Lines set closer than letters are tall: this part of the font size from one to the next, and they touch. */
const CLOSE = 0.82;

/** Lines of one box that lie over each other (CSS Inline 3 §5.1). */
function closeLines(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const { visible } = visibilityOf(analysis);
  const out: Observed[] = [];
  for (const [element, runs] of inside(tree).texts) {
    if (stopsByVisibility(analysis, element, !visible[element] && 'it cannot be seen')) continue;
    if (
      stopsByGeometry(analysis, element, isReplacedOrControl(tree, element) && 'it is a picture or a control')
    )
      continue;
    if (
      stopsByGeometry(analysis, element, runs.length === 1 && runs[0]!.pieces.length < 2 && 'it has one line')
    )
      continue;
    const initial = resolve(analysis.styles, element, 'initial-letter', 'first-letter').value;
    if (
      stopsByGeometry(
        analysis,
        element,
        /\d/.test(initial) && 'its first letter goes down beside several lines',
      )
    )
      continue;
    const size = usedPx(reading, 'font-size', element);
    // As laid out: a transform scales lines and letters alike.
    const pieces = runs
      .filter(({ blank }) => !blank)
      .flatMap((run) => run.pieces.filter(({ width }) => width > 1))
      .map((piece) => layoutPiece(frames(tree), element, piece));
    // A first letter that is larger than its line begins beside it, and is no line of its own.
    const tall = Math.min(...pieces.map(({ height }) => height)) * 1.2;
    const tops = [
      ...new Set(pieces.filter(({ height }) => height <= tall).map(({ y }) => Math.round(y * 4) / 4)),
    ].sort((a, b) => a - b);
    const steps = tops.slice(1).map((top, n) => top - tops[n]!);
    const closest = Math.min(...steps.filter((step) => step > size * 0.3));
    if (
      stopsByGeometry(
        analysis,
        element,
        (steps.length === 0 || !(closest < size * CLOSE)) && 'its lines are far enough apart',
      )
    )
      continue;
    out.push(
      observed({
        px: size - closest,
        axis: 'y',
        subject: element,
        what: `Lines of ${boxName(analysis, element)} lie over each other: they are ${px(closest)} px apart, and the letters ${px(size)} px large`,
        weight: 90 + size - closest,
      }),
    );
  }
  return out;
}

export const rule: Rule<'overlap/close-lines'> = {
  id: 'overlap/close-lines',
  kind: 'overlap',
  title: 'Lines lie over each other',
  spec: ['CSS Inline 3 §5.1'],
  why: 'The line height is smaller than the letters are tall.',
  usual: 'Set the lines further apart: a `line-height` of 1.2 or more, without a unit.',
  example: `<style>p { width: 120px; font-size: 30px; line-height: 18px }</style><p>Lines that are set too close to read</p>`,
  observe: closeLines,
};
