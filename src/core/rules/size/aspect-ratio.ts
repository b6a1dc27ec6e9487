/** Boxes with an aspect ratio of their own that what is in them, or around them, makes another (CSS Sizing 4 §5.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd, beforeEnd } from '../drawn.ts';
import { observed, oncePerAnalysis, type Observed, type Rule } from '../model.ts';
import { LIMITS, OFF_SHAPE, isGiven, sizedBoxes } from './declared-sizes.ts';
import { squareOff } from './square.ts';
import { boxName } from '../../visibility/visibility.ts';
import { quietly, stopsByEvidence, stopsByGeometry } from '../stops.ts';

/** A box with an aspect ratio of its own that what is in it, or what is around it, makes another (CSS Sizing 4 §5.1). */
export function offRatio(analysis: Analysis, element: number): Observed | null {
  const { tree, reading } = analysis;
  const ratio = resolve(analysis.styles, element, 'aspect-ratio');
  const numbers = /^([\d.]+)\s*(?:\/\s*([\d.]+))?$/.exec(ratio.value);
  if (!ratio.winner || ratio.from !== 'declared' || !numbers) {
    stopsByGeometry(analysis, element, 'no aspect-ratio in numbers is declared');
    return null;
  }
  // Where both sides are given it has no say.
  const areGiven = ['width', 'height'].every((property) => isGiven(analysis, element, property));
  if (stopsByGeometry(analysis, element, areGiven && 'its width and its height are both declared')) return null;
  const isLimited = LIMITS.some((property) => isGiven(analysis, element, property));
  if (stopsByEvidence(analysis, element, isLimited && 'a minimum or a maximum of its size is declared'))
    return null;
  const { rect, content: inner, scrollbar } = laidAreas(tree, element);
  // A scrollbar takes its room of the content, and none from the ratio.
  const content = {
    width: inner.width + scrollbar.left + scrollbar.right,
    height: inner.height + scrollbar.top + scrollbar.bottom,
  };
  const { width, height } = usedText(reading, 'box-sizing', element) === 'border-box' ? rect : content;
  const wanted = width / (Number(numbers[1]) / Number(numbers[2] ?? 1));
  const off = height - wanted;
  const isMet = !Number.isFinite(off) || Math.abs(off) < 2 || Math.abs(off) < wanted * OFF_SHAPE;
  if (stopsByGeometry(analysis, element, isMet && 'it has its aspect ratio')) return null;
  return observed({
    px: Math.abs(off),
    axis: 'y',
    subject: element,
    what: `${boxName(analysis, element)} is ${px(width)} × ${px(height)}, and aspect-ratio: ${ratio.value} says ${px(width)} × ${px(wanted)}`,
    variant: off > 0 ? 'larger' : 'smaller',
    weight: 30 + Math.abs(off),
    source: ratio.winner.source,
  });
}

/** Boxes whose sides are in the ratio that they were meant to have, where they were meant to have one. */
export const boxesInRatio = oncePerAnalysis((analysis) =>
  sizedBoxes(analysis).filter((box) =>
    quietly(analysis, () => !squareOff(analysis, box) && !offRatio(analysis, box)),
  ),
);

export const rule: Rule<'size/aspect-ratio'> = {
  id: 'size/aspect-ratio',
  kind: 'size',
  title: 'A box does not have its aspect ratio',
  spec: ['CSS Sizing 4 §5.1'],
  why: 'The ratio gives way to what is in the box (its automatic minimum size), or to a stretched side.',
  usual: 'Let what is in it overflow (`min-height: 0`), or let it not be stretched (`align-self: start`).',
  example: `<style>.t { width: 100px; aspect-ratio: 2 / 1; background: tan }</style><div class="t">So many words that the box becomes taller than its ratio says</div>`,
  observe: (analysis) =>
    sizedBoxes(analysis).flatMap((box) =>
      quietly(analysis, () => squareOff(analysis, box)) ? [] : (offRatio(analysis, box) ?? []),
    ),
  drawn: (analysis, observation) =>
    observation.variant === 'larger' ? beforeEnd(analysis, observation) : afterEnd(analysis, observation),
};
