/** Heights in percent of a height that nobody knows (CSS 2.2 §10.5). */
import type { Analysis } from '../analysis.ts';
import { inertOf } from '../accounts/inert.ts';
import { heightBasis } from '../accounts/ladder.ts';
import { laidAreas } from '../boxes/areas.ts';
import { hasBox } from '../boxes/tree.ts';
import { candidates } from '../css/candidates.ts';
import { resolve } from '../css/cascade.ts';
import { px } from '../geometry/rect.ts';
import { suspect, type Suspect } from './finding.ts';
import { name, sightOf, tagOf } from './sight.ts';

export const kind = 'percent-height';

/** Differences below this in CSS px cannot be seen. */
const LEAST = 2;

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || /^(html|body)$/.test(tagOf(tree, i))) continue;
    if (!candidates(analysis.styles, i).has('height') || !/%/.test(resolve(analysis.styles, i, 'height').value))
      continue;
    const lost = inertOf(analysis, i, (property) => property === 'height').find(
      ({ property, value }) => property === 'height' && /%/.test(value),
    );
    if (!lost) continue;
    const basis = heightBasis(analysis, i).element;
    const around = basis < 0 ? analysis.reading.viewport.height : laidAreas(tree, basis).content.height;
    const wanted = (Number.parseFloat(lost.value) / 100) * around;
    const used = laidAreas(tree, i).rect.height;
    if (!Number.isFinite(wanted) || Math.abs(used - wanted) < LEAST) continue;
    out.push(
      suspect({
        kind,
        px: Math.abs(used - wanted),
        axis: 'y',
        subject: i,
        other: basis < 0 ? null : basis,
        what: `${name(analysis, i)} is ${px(used)} px tall where height: ${lost.value} of ${basis < 0 ? 'the viewport' : name(analysis, basis)} would be ${px(wanted)}`,
        boxes: [i, ...(basis < 0 ? [] : [basis])],
        weight: 30 + Math.abs(used - wanted) / 4,
        source: lost.source,
      }),
    );
  }
  return out;
}
