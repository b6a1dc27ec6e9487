/** Where boxes end with their own text, and how far that is beyond the page. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, inside } from '../../boxes/tree.ts';
import { oncePerAnalysis } from '../model.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import {
  clips,
  overflowsLeft,
  hasBackground,
  isSelfOrAncestor,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** Px below which nothing is told. */
export const LEAST = 1;

/** Beyond its viewport by so much a page scrolls: engines round what scrolls to whole px. */
const SCROLLS = 0.4;

/** By element, in CSS px: where a box begins and ends, with its own text as far as the box lets it out. */
interface Ends {
  left: Float64Array;
  right: Float64Array;
}

export const allEnds = oncePerAnalysis((analysis): Ends => {
  const { tree, reading } = analysis;
  const { clipping } = visibilityOf(analysis);
  const { rects } = reading;
  const left = new Float64Array(tree.count);
  const right = new Float64Array(tree.count);
  for (let i = 0; i < tree.count; i++) {
    left[i] = rects[i * 4]!;
    right[i] = rects[i * 4]! + rects[i * 4 + 2]!;
  }
  for (const [element, runs] of inside(tree).texts) {
    if ((clipping[element]! & 1) > 0) continue;
    for (const { pieces, blank } of runs)
      if (!blank)
        for (const { x, width } of pieces) {
          left[element] = Math.min(left[element]!, x);
          right[element] = Math.max(right[element]!, x + width);
        }
  }
  return { left, right };
});

/** The same with the text of what is inline in a box: where its lines begin and end. */
const lineEnds = oncePerAnalysis((analysis): Ends => {
  const { tree, reading } = analysis;
  const { clipping } = visibilityOf(analysis);
  const all = allEnds(analysis);
  const [left, right] = [Float64Array.from(all.left), Float64Array.from(all.right)];
  for (const element of inside(tree).texts.keys()) {
    for (let at = element; tree.kinds[at] === 'inline';) {
      at = reading.parent[at]!;
      if (at < 0 || (clipping[at]! & 1) > 0) break;
      left[at] = Math.min(left[at]!, all.left[element]!);
      right[at] = Math.max(right[at]!, all.right[element]!);
    }
  }
  return { left, right };
});

export const lineEndsOf = (analysis: Analysis, element: number): { left: number; right: number } => {
  const { left, right } = lineEnds(analysis);
  return { left: left[element]!, right: right[element]! };
};

export const endsOf = (analysis: Analysis, element: number): { left: number; right: number } => {
  const { left, right } = allEnds(analysis);
  return { left: left[element]!, right: right[element]! };
};

/** CSS px by which a box, with its own text, goes beyond the page on the side to which the page scrolls. */
export function beyondPage(analysis: Analysis, element: number): number {
  const { left, right } = endsOf(analysis, element);
  return overflowsLeft(analysis, 0) ? -left : right - analysis.reading.document.clientWidth;
}

/** Whether a box is told of as what makes the page scroll: the last px of it counts where there is no more. */
export const makesScroll = (analysis: Analysis, element: number): boolean => {
  const { scrollWidth, clientWidth } = analysis.reading.document;
  return beyondPage(analysis, element) >= (scrollWidth - clientWidth > LEAST ? LEAST : SCROLLS);
};

/** Whether something around a box cuts it off or scrolls on an axis before the page does. */
export function isClippedOn(analysis: Analysis, element: number, axis: 'x' | 'y'): boolean {
  const { clipper } = visibilityOf(analysis);
  for (let at = clipper[element]!; at >= 0; at = clipper[at]!) if (clips(analysis.tree, at, axis)) return true;
  return false;
}

/** Boxes in a container that reach beyond a limit, the outermost first. */
export function within(analysis: Analysis, container: number, limit: number): number[] {
  const { tree } = analysis;
  const out: number[] = [];
  for (let i = container + 1; i < tree.count && isSelfOrAncestor(analysis, container, i); i++)
    if (hasBox(tree, i) && endsOf(analysis, i).right > limit + LEAST) out.push(i);
  return out.length > 0 ? out : [container];
}

/** Whether it can be seen where a box ends on the right. */
export const endsInSight = (analysis: Analysis, element: number): boolean =>
  hasBackground(analysis, element) || laidAreas(analysis.tree, element).border.right > 0;

/** Boxes that reach beyond the page and that nothing clips, in document order. */
export const beyondThePage = oncePerAnalysis((analysis): readonly number[] => {
  const { reading, tree } = analysis;
  const out: number[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    if (stopsByVisibility(analysis, i, isClippedOn(analysis, i, 'x') && 'a box around it clips or scrolls'))
      continue;
    // What is fixed to the viewport makes no page scroll, nor does what is in it.
    if (
      stopsByGeometry(
        analysis,
        i,
        inFixed(reading)[i] === 1 && 'it is fixed to the viewport, or lies in what is',
      )
    )
      continue;
    if (stopsByGeometry(analysis, i, !makesScroll(analysis, i) && 'it ends before the viewport does')) continue;
    out.push(i);
  }
  return out;
});
