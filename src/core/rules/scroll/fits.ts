/** Scrolling though all that can be seen fits without (CSS Overflow 3 §2.2). */
import type { Observation, Suspect } from '../../finding.ts';
import { fix, suspect } from '../suspects.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf } from '../../boxes/tree.ts';
import { endOf, px } from '../../geometry/rect.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { beforeEnd, endOfPage } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { type Scroller, scrollerName } from './scrollers.ts';
import { unseenByScroller } from './unseen.ts';
import {
  inkOf,
  boxName,
  visibleChildren,
  visibleInk,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** It scrolls down though all that can be read, used or looked at fits without. */
function fitting(analysis: Analysis, scroller: Scroller): Observed[] {
  const { reading, tree } = analysis;
  const { visible } = visibilityOf(analysis);
  const { axis, start, scroll, client, boxes, element } = scroller;
  const owner = Math.max(0, element);
  if (axis === 'x') return [];
  const end = (element: number) => endOf(rectOf(reading, element), axis) - start;
  const candidates = element < 0 ? boxes : [element, ...boxes];
  let lowest = -1;
  for (const i of candidates)
    if (visible[i]) for (const ink of inkOf(analysis, i)) lowest = Math.max(lowest, endOf(ink, axis) - start);
  if (stopsByVisibility(analysis, owner, lowest > client && 'it scrolls to text, a picture or a control'))
    return [];
  // What a box in the page cuts off or scrolls is seen as far as that box lets it.
  const isOwn = new Set(candidates);
  for (let i = 1; i < (element < 0 ? tree.count : 0); i++)
    if (visible[i] && !isOwn.has(i) && inFixed(reading)[i] === 0)
      for (const ink of inkOf(analysis, i)) {
        const seen = visibleInk(analysis, i, ink);
        if (seen) lowest = Math.max(lowest, endOf(seen, axis) - start);
      }
  if (stopsByVisibility(analysis, owner, lowest < 0 && 'it shows no text, picture or control')) return [];
  if (stopsByVisibility(analysis, owner, lowest > client && 'it scrolls to text, a picture or a control'))
    return [];
  const by = scroll - client;
  // A scrollbar below takes its room of what is as tall as the viewport.
  const isOfBar = element < 0 && by <= reading.viewport.height - client;
  if (stopsByGeometry(analysis, owner, isOfBar && 'the scrollbar below takes the room')) return [];
  const far = boxes
    .filter((box) => end(box) + Math.max(0, laidAreas(tree, box).margin.bottom) > client + 0.5)
    .sort((a, b) => end(b) - end(a) || b - a);
  // What ends below what can be seen by its own edges alone is no more than the end of the page.
  const isSized = (element: number) =>
    ['height', 'min-height'].some((property) => {
      const declaration = authorDeclaration(analysis, element, property);
      if (declaration?.owner !== element || /^(auto|0\D*)$/.test(declaration.value)) return false;
      // A minimum below what is in the box has no say.
      const { rect, content } = laidAreas(tree, element);
      const wanted = declaredPx(analysis, element, property, declaration.value);
      return !(Math.min(Math.abs(wanted - rect.height), Math.abs(wanted - content.height)) >= 1);
    });
  const [first] = far;
  if (
    first === undefined ||
    stopsByEvidence(
      analysis,
      owner,
      !far.some(isSized) && 'no height is declared of what ends there: it is the end of the page',
    )
  )
    return [];
  const around = selfAndAncestors(analysis, reading.parent[first]!, element);
  return [
    observed({
      px: by,
      axis,
      subject: first,
      other: element < 0 ? null : element,
      what: `${scrollerName(analysis, scroller)} scrolls down by ${px(by)} px, though all that it shows fits without: ${boxName(analysis, first)} ends there`,
      boxes: [...new Set([...far, ...around])].slice(0, 40),
      weight: 60 + by,
    }),
  ];
}

/** A margin of the first thing on the page that collapses through what is around it pushes a box of the view's height down (CSS 2.2 §8.3.1). */
function ofEscapedMargin(analysis: Analysis, { subject, px: by }: Observation): Suspect[] {
  const { tree } = analysis;
  const { y } = rectOf(analysis.reading, subject);
  for (let at = subject, depth = 0; depth < 8; depth++) {
    const [first] = visibleChildren(analysis, at).filter(
      (child) => !/absolute|fixed|float/.test(tree.kinds[child]!),
    );
    if (first === undefined) return [];
    const { rect, margin } = laidAreas(tree, first);
    if (Math.abs(rect.y - y) < 0.6 && margin.top >= by - 1 && margin.top > 0)
      return [
        suspect(
          analysis,
          first,
          'margin-top',
          `the margin of ${boxName(analysis, first)} collapses through ${boxName(analysis, subject)} and pushes it ${px(margin.top)} px down`,
          [
            fix('take the margin out', first, 'margin-top', '0', 106),
            fix('keep the margin inside', subject, 'display', 'flow-root', 98),
          ],
        ),
      ];
    at = first;
  }
  return [];
}

export const rule: Rule<'scroll/fits'> = {
  id: 'scroll/fits',
  kind: 'stray-scroll',
  title: 'It scrolls though all that it shows fits',
  spec: ['CSS Overflow 3 §2.2', 'CSS 2.2 §8.3.1'],
  why: 'A height of the whole viewport, with a margin, a padding or a border beside it, is more than there is.',
  usual: 'Count the edges in (`box-sizing: border-box`), or take the margin off the height.',
  example: `<style>main { min-height: 100vh; padding: 20px }</style><main>Short</main>`,
  observe: (analysis) =>
    [...unseenByScroller(analysis)].flatMap(([scroller, unseen]) =>
      unseen.length > 0 ? [] : fitting(analysis, scroller),
    ),
  suspects: ofEscapedMargin,
  drawn: (analysis, observation) =>
    observation.other === null ? endOfPage(analysis, observation) : beforeEnd(analysis, observation),
};
