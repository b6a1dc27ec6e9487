/** Heights in percent of a height that nobody knows (CSS 2.2 §10.5). */
import { inertOf } from '../../accounts/inert.ts';
import { heightBasis } from '../../accounts/sizing/percentage-definiteness.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { observed, oncePerAnalysis, type Observed, type Rule } from '../model.ts';
import { hasBackground, boxName, visibilityOf, tagOf } from '../../visibility/visibility.ts';

/** Differences below this in CSS px cannot be seen. */
const LEAST = 2;

/** Those that were meant to be of the viewport, and all others. */
export const percentHeights = oncePerAnalysis((analysis) => {
  const { tree } = analysis;
  const { visible } = visibilityOf(analysis);
  const out = { ofPage: [] as Observed[], others: [] as Observed[] };
  const asked = ['height', 'min-height'].map(
    (property) => [property, new Set(declaring(analysis.styles, property, tree.count))] as const,
  );
  const elements = new Set(asked.flatMap(([, ofProperty]) => [...ofProperty]));
  for (const i of [...elements].sort((a, b) => a - b)) {
    if (i === 0 || !visible[i] || !hasBox(tree, i) || /^(html|body)$/.test(tagOf(tree, i))) continue;
    for (const [property, ofProperty] of asked) {
      if (!ofProperty.has(i)) continue;
      const { value } = resolve(analysis.styles, i, property);
      if (!/%/.test(value)) continue;
      const basis = basisOf(analysis, i);
      const wanted = (Number.parseFloat(value) / 100) * basis.height;
      const used = laidAreas(tree, i).rect.height;
      const isMet = property === 'min-height' || basis.isPage ? used > wanted - LEAST : false;
      if (!Number.isFinite(wanted) || isMet || Math.abs(used - wanted) < LEAST) continue;
      // A least height in px or of the viewport beside it says how tall the box is to be at any rate.
      const least = resolve(analysis.styles, i, 'min-height').value;
      if (property === 'height' && value === '100%' && /[1-9]/.test(least) && !/%/.test(least)) continue;
      // Why it counts for nothing takes the account of the height, so it is asked last.
      const [lost] = inertOf(analysis, i, [property]);
      if (!lost) continue;
      out[basis.isPage ? 'ofPage' : 'others'].push(
        observed({
          px: Math.abs(used - wanted),
          axis: 'y',
          subject: i,
          other: basis.element < 0 ? null : basis.element,
          what: `${boxName(analysis, i)} is ${px(used)} px tall where ${property}: ${value} of ${basis.whose} would be ${px(wanted)}`,
          boxes: [i, ...(basis.element < 0 ? [] : [basis.element])],
          weight: 30 + Math.abs(used - wanted) / 4,
          source: lost.source,
        }),
      );
    }
  }
  return out;
});

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
    /^(html|body)$/.test(tagOf(tree, basis)) && basisHeight < height && endShows(analysis, element);
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
