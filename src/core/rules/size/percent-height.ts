/** Heights in percent of a height that nobody knows (CSS 2.2 §10.5). */
import type { Analysis } from '../../analysis.ts';
import { inertOf } from '../../accounts/inert.ts';
import { heightBasis } from '../../accounts/sizing/percentage-definiteness.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { hasGround, name, sightOf, tagOf } from '../../visibility/visibility.ts';

export const kind = 'percent-height';

/** Differences below this in CSS px cannot be seen. */
const LEAST = 2;

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
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
      const isMet = property === 'min-height' || basis.form === 'page' ? used > wanted - LEAST : false;
      if (!Number.isFinite(wanted) || isMet || Math.abs(used - wanted) < LEAST) continue;
      // A least height in px or of the viewport beside it says how tall the box is to be at any rate.
      const least = resolve(analysis.styles, i, 'min-height').value;
      if (property === 'height' && value === '100%' && /[1-9]/.test(least) && !/%/.test(least)) continue;
      // Why it counts for nothing takes the account of the height, so it is asked last.
      const [lost] = inertOf(analysis, i, [property]);
      if (!lost) continue;
      out.push(
        suspect({
          kind,
          px: Math.abs(used - wanted),
          axis: 'y',
          subject: i,
          other: basis.element < 0 ? null : basis.element,
          what: `${name(analysis, i)} is ${px(used)} px tall where ${property}: ${value} of ${basis.whose} would be ${px(wanted)}`,
          form: basis.form,
          boxes: [i, ...(basis.element < 0 ? [] : [basis.element])],
          weight: 30 + Math.abs(used - wanted) / 4,
          source: lost.source,
        }),
      );
    }
  }
  return out;
}

/** What a percentage was meant to be of: the box around, or the viewport where that is no more than the page's own. */
function basisOf(
  analysis: Analysis,
  element: number,
): { element: number; height: number; whose: string; form: '' | 'page' } {
  const { tree, reading } = analysis;
  const basis = heightBasis(analysis, element).element;
  const { height } = reading.viewport;
  if (basis < 0) return { element: basis, height, whose: 'the viewport', form: '' };
  const own = laidAreas(tree, basis).content.height;
  const isPage = /^(html|body)$/.test(tagOf(tree, basis)) && own < height && endShows(analysis, element);
  return isPage
    ? { element: basis, height, whose: 'the viewport', form: 'page' }
    : { element: basis, height: own, whose: name(analysis, basis), form: '' };
}

/** Whether it is seen where a box ends: by its ground, or by what it would put at its end. */
const endShows = (analysis: Analysis, element: number): boolean =>
  hasGround(analysis, element) || /flex$|grid$/.test(usedText(analysis.reading, 'display', element));
