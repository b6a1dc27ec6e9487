/** Heights in percent of a height that nobody knows (CSS 2.2 §10.5). */
import { inertOf } from '../../accounts/inert.ts';
import { heightBasis } from '../../accounts/sizing/percentage-definiteness.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { observed, oncePerAnalysis, type Observed, type Rule } from '../model.ts';
import { hasBackground, boxName, visibleChildren } from '../../visibility/visibility.ts';
import { isUnseen, stopsByEvidence, stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Differences below this in CSS px cannot be seen. */
const LEAST = 2;

/** Those that were meant to be of the viewport, and all others. */
export const percentHeights = oncePerAnalysis((analysis) => {
  const { tree } = analysis;
  const out = { ofPage: [] as Observed[], others: [] as Observed[] };
  const asked = ['height', 'min-height'].map(
    (property) => [property, new Set(declaring(analysis.styles, property, tree.count))] as const,
  );
  const elements = new Set(asked.flatMap(([, ofProperty]) => [...ofProperty]));
  for (const i of [...elements].sort((a, b) => a - b)) {
    if (isUnseen(analysis, i)) continue;
    if (stopsByGeometry(analysis, i, /^(html|body)$/.test(tagOf(tree.reading, i)) && 'it is html or body'))
      continue;
    for (const [property, ofProperty] of asked) {
      if (!ofProperty.has(i)) continue;
      const { value } = resolve(analysis.styles, i, property);
      if (stopsByGeometry(analysis, i, !/%/.test(value) && `its ${property} is no percentage`)) continue;
      const basis = basisOf(analysis, i);
      const wanted = (Number.parseFloat(value) / 100) * basis.height;
      const used = laidAreas(tree, i).rect.height;
      const isMet = property === 'min-height' || basis.isPage ? used > wanted - LEAST : false;
      const isAsTall = !Number.isFinite(wanted) || isMet || Math.abs(used - wanted) < LEAST;
      const lower = property === 'height' && isAsTall ? lowerThanRow(analysis, i, basis.element) : 0;
      if (stopsByGeometry(analysis, i, isAsTall && lower === 0 && `it is as tall as its ${property} says`))
        continue;
      // A least height in px or of the viewport beside it says how tall the box is to be at any rate.
      const least = resolve(analysis.styles, i, 'min-height').value;
      const hasLeast = property === 'height' && value === '100%' && /[1-9]/.test(least) && !/%/.test(least);
      if (
        stopsByEvidence(
          analysis,
          i,
          hasLeast && `min-height: ${least} beside it says how tall it is to be at any rate`,
        )
      )
        continue;
      // Why it counts for nothing takes the account of the height, so it is asked last.
      const [lost] = inertOf(analysis, i, [property]);
      if (!lost) {
        stopsByGeometry(analysis, i, `its ${property} has an effect`);
        continue;
      }
      out[basis.isPage ? 'ofPage' : 'others'].push(
        observed({
          px: lower > 0 ? lower : Math.abs(used - wanted),
          axis: 'y',
          subject: i,
          other: basis.element < 0 ? null : basis.element,
          what:
            lower > 0
              ? `${boxName(analysis, i)} is ${px(lower)} px lower than what stands beside ${basis.whose}: ${property}: ${value} of a height that is not known is auto`
              : `${boxName(analysis, i)} is ${px(used)} px tall where ${property}: ${value} of ${basis.whose} would be ${px(wanted)}`,
          boxes: [i, ...(basis.element < 0 ? [] : [basis.element])],
          weight: 30 + Math.abs(used - wanted) / 4,
          source: lost.source,
        }),
      );
    }
  }
  return out;
});

/** CSS px by which an item is lower than the tallest of its row. */
function lowerThanRow(analysis: Analysis, element: number, item: number): number {
  const { tree, reading } = analysis;
  if (item < 0 || !/^(flex|grid)-item$/.test(tree.kinds[item]!) || !hasBackground(analysis, element)) return 0;
  const { y, height } = rectOf(reading, item);
  const row = visibleChildren(analysis, reading.parent[item]!).filter(
    (other) => Math.abs(rectOf(reading, other).y - y) < 1,
  );
  const by = Math.max(...row.map((other) => rectOf(reading, other).height)) - height;
  return by >= 8 ? by : 0;
}

/** What a percentage was meant to be of: the box around, or the viewport where that is no more than the page's own. */
function basisOf(
  analysis: Analysis,
  element: number,
): { element: number; height: number; whose: string; isPage: boolean } {
  const { tree, reading } = analysis;
  const basis = heightBasis(analysis, element).element;
  const { height } = reading.viewport;
  if (basis < 0) return { element: basis, height, whose: 'the viewport', isPage: false };
  const basisHeight = laidAreas(tree, basis).content.height;
  const isPage =
    /^(html|body)$/.test(tagOf(tree.reading, basis)) && basisHeight < height && endShows(analysis, element);
  return isPage
    ? { element: basis, height, whose: 'the viewport', isPage: true }
    : { element: basis, height: basisHeight, whose: boxName(analysis, basis), isPage: false };
}

/** Whether it is seen where a box ends: by its ground, or by what it would put at its end. */
const endShows = (analysis: Analysis, element: number): boolean =>
  hasBackground(analysis, element) || /flex$|grid$/.test(usedText(analysis.reading, 'display', element));

export const rule: Rule<'size/percent-height'> = {
  id: 'size/percent-height',
  kind: 'percent-height',
  title: 'A percentage height is of a height that is not known',
  spec: ['CSS 2.2 §10.5'],
  why: 'A percentage height counts only where the containing block has a height of its own; else it is auto.',
  usual:
    'Give the containing block a height, or lay it out as a flex or grid container that stretches its items.',
  example: `<style>.card { min-height: 200px; background: linen } .fill { height: 100%; background: tan }</style><div class="card"><div class="fill">as tall as its text</div></div>`,
  observe: (analysis) => percentHeights(analysis).others,
};
