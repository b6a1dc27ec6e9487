/** Scrolling to where nothing can be seen (CSS Overflow 3 §2.2). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { edgesOf, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { endOf, px } from '../../geometry/rect.ts';
import { endOfPage } from '../drawn.ts';
import { observed, oncePerAnalysis, type Observed, type Rule } from '../model.ts';
import { type Scroller, scrollerName, scrollers } from './scrollers.ts';
import {
  clips,
  hasBackground,
  isReplacedOrControl,
  boxName,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { stopsByVisibility } from '../stops.ts';

const LEAST = 4;

/** It scrolls to boxes that cannot be seen. */
function unseenIn(analysis: Analysis, scroller: Scroller): Observed[] {
  const { reading, tree } = analysis;
  const { visible } = visibilityOf(analysis);
  const { axis, start, scroll, client, boxes, element } = scroller;
  const end = (element: number) => endOf(rectOf(reading, element), axis) - start;
  let seen = 0;
  const beyond: number[] = [];
  for (const i of boxes) {
    if (isStray(analysis, i, visible[i]!)) beyond.push(i);
    else {
      seen = Math.max(seen, end(i));
      const inFlow = axis === 'y' && !/absolute/.test(tree.kinds[i]!);
      if (inFlow && end(i) + edgesOf(reading, 'margin', i).bottom > seen)
        seen = Math.max(seen, end(i) + laidAreas(tree, i).margin.bottom);
      for (const { pieces } of inside(tree).texts.get(i) ?? [])
        for (const piece of pieces) seen = Math.max(seen, endOf(piece, axis) - start);
    }
  }
  const padding = element < 0 ? 0 : laidAreas(tree, element).padding[axis === 'x' ? 'right' : 'bottom'];
  const by = scroll - seen - padding;
  if (
    stopsByVisibility(
      analysis,
      Math.max(0, element),
      (by < LEAST || scroll - client < LEAST) && 'it scrolls to what can be seen',
    )
  )
    return [];
  const far = beyond.filter((element) => end(element) > seen + 1).sort((a, b) => end(b) - end(a));
  const [first] = far;
  if (first === undefined) return [];
  const escaped =
    element < 0
      ? selfAndAncestors(analysis, reading.parent[first]!).find((at) => clips(tree, at, axis))
      : undefined;
  return [
    observed({
      px: by,
      axis,
      subject: escaped ?? first,
      other: escaped === undefined ? null : first,
      what: `${scrollerName(analysis, scroller)} scrolls ${px(by)} px further ${axis === 'x' ? 'sideways' : 'down'} than anything that can be seen: ${boxName(analysis, first)} lies there`,
      boxes: far.slice(0, 40),
      weight: 100 + by,
    }),
  ];
}

/** A box that nobody sees: empty, without a ground, or hidden. */
function isStray(analysis: Analysis, element: number, isVisible: boolean): boolean {
  const { tree, reading } = analysis;
  if (!isVisible) return true;
  const { width, height } = rectOf(reading, element);
  if (usedText(reading, 'position', element) !== 'absolute') return false;
  if (width < 2 || height < 2) return true;
  const hasText = (inside(tree).texts.get(element) ?? []).some(({ blank }) => !blank);
  const isEmpty = tree.first[element] === tree.first[element + 1];
  return isEmpty && !hasBackground(analysis, element) && !hasText && !isReplacedOrControl(tree, element);
}

/** By scroller, what it scrolls to that cannot be seen. */
export const unseenByScroller = oncePerAnalysis(
  (analysis) => new Map(scrollers(analysis).map((scroller) => [scroller, unseenIn(analysis, scroller)])),
);

export const rule: Rule<'scroll/unseen'> = {
  id: 'scroll/unseen',
  kind: 'stray-scroll',
  title: 'The page scrolls further than anything that can be seen',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'A box without anything to be seen, or a margin, adds to the scrollable overflow.',
  usual: 'Take the box out of the way, or clip it where it lies.',
  example: `<style>body { margin: 0 } .end { position: absolute; top: 1500px; width: 1px; height: 1px }</style><p>Short</p><div class="end"></div>`,
  observe: (analysis) => [...unseenByScroller(analysis).values()].flat(),
  drawn: endOfPage,
};
