/** What scrolls: the page and boxes in it, with the boxes whose ends it scrolls to (CSS Overflow 3 §2.2). */
import { oncePerAnalysis } from '../model.ts';
import type { Analysis } from '../../analysis.ts';
import { hasBox } from '../../boxes/tree.ts';
import { viewportScrolls } from '../../boxes/viewport-overflow.ts';
import type { Axis } from '../../geometry/rect.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { isClippedOn } from '../overflow/ends.ts';
import {
  clips,
  isSelfOrAncestor,
  isReplacedOrControl,
  boxName,
  paddingBox,
  scrollsOn,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Of a scroll container whose content fits, this much is seen by its scrollbar. */
const LEAST_FITTING = 2;

/** What scrolls: the page, or a box in it. */
export interface Scroller {
  /** −1: the page. */
  element: number;
  axis: Axis;
  /** Where its content begins, in CSS px of the document. */
  start: number;
  scroll: number;
  client: number;
  /** Boxes whose ends it scrolls to. */
  boxes: number[];
}

export const scrollers = oncePerAnalysis((analysis): Scroller[] => {
  const { reading, tree } = analysis;
  const { document, scrolls } = reading;
  const { visible, clipper } = visibilityOf(analysis);
  const out: Scroller[] = [];
  for (const axis of ['x', 'y'] as const) {
    const [scroll, client] =
      axis === 'x'
        ? [document.scrollWidth, document.clientWidth]
        : [document.scrollHeight, document.clientHeight];
    const isScrolled = scroll - client >= LEAST_FITTING && viewportScrolls(reading, axis);
    if (
      stopsByGeometry(
        analysis,
        0,
        !isScrolled && `the page does not scroll ${axis === 'x' ? 'sideways' : 'down'}`,
      )
    )
      continue;
    const boxes: number[] = [];
    for (let i = 1; i < tree.count; i++)
      if (hasBox(tree, i) && !isClippedOn(analysis, i, axis) && inFixed(reading)[i] === 0) boxes.push(i);
    out.push({ element: -1, axis, start: 0, scroll, client, boxes });
  }
  for (let at = 0; at + 4 < scrolls.length; at += 5) {
    const [element, width, height, scrollWidth, scrollHeight] = scrolls.subarray(
      at,
      at + 5,
    ) as unknown as number[];
    if (
      element! <= 0 ||
      !visible[element!] ||
      tagOf(tree.reading, element!) === 'body' ||
      isReplacedOrControl(tree, element!)
    )
      continue;
    const box = paddingBox(analysis, element!);
    for (const [axis, scroll, client] of [
      ['x', scrollWidth!, width!],
      ['y', scrollHeight!, height!],
    ] as const) {
      const isScrolled = scroll - client >= LEAST_FITTING && scrollsOn(tree, element!, axis);
      if (
        stopsByGeometry(
          analysis,
          element!,
          !isScrolled && `it does not scroll ${axis === 'x' ? 'sideways' : 'down'}`,
        )
      )
        continue;
      const boxes: number[] = [];
      for (let i = element! + 1; i < tree.count && isSelfOrAncestor(analysis, element!, i); i++) {
        let by = clipper[i]!;
        while (by > element! && !clips(tree, by, axis)) by = clipper[by]!;
        if (hasBox(tree, i) && by === element) boxes.push(i);
      }
      out.push({ element: element!, axis, start: axis === 'x' ? box.x : box.y, scroll, client, boxes });
    }
  }
  return out;
});

/** Its name, at the start of a sentence. */
export const scrollerName = (analysis: Analysis, { element }: Scroller): string =>
  element < 0 ? 'The page' : boxName(analysis, element);
