/** Items of a column that keep as a height what was their width in a row (Flexbox 1 §7.2). */
import { isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { childrenOf, hasBox, inside, rectOf } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { beforeEnd } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** CSS px of nothing below what is in an item, from which on it is seen. */
const LEAST = 32;

function basisAsHeight(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  if (
    stopsByGeometry(
      analysis,
      container,
      !isMainAxisVertical(tree, container) && 'it is no flex container in a column',
    )
  )
    return [];
  // A column under a condition is a row elsewhere, for which the basis was meant.
  const direction = resolve(analysis.styles, container, 'flex-direction').winner;
  if (
    stopsByEvidence(
      analysis,
      container,
      (!direction || direction.conditions.length === 0) && 'its direction stands under no condition',
    )
  )
    return [];
  const { visible } = visibilityOf(analysis);
  return childrenOf(tree, container).flatMap((item): Observed[] => {
    if (!visible[item] || tree.kinds[item] !== 'flex-item') {
      stopsByVisibility(analysis, item, 'it cannot be seen, or is no flex item');
      return [];
    }
    const declaration = authorDeclaration(analysis, item, 'flex-basis');
    if (
      !declaration ||
      declaration.owner !== item ||
      !isLength(declaration.value) ||
      /^0|%/.test(declaration.value)
    ) {
      stopsByGeometry(analysis, item, 'its flex-basis is not declared as a length');
      return [];
    }
    const isTall = ['height', 'min-height'].some((property) => authorDeclaration(analysis, item, property));
    if (stopsByEvidence(analysis, item, isTall && 'a height of it is declared')) return [];
    const { content } = laidAreas(tree, item);
    const blank = content.y + content.height - lowest(analysis, item);
    if (stopsByVisibility(analysis, item, blank < LEAST && 'less than 32 px at its end are empty')) return [];
    return [
      observed({
        px: blank,
        axis: 'y',
        subject: item,
        other: container,
        what: `${px(blank)} px at the end of ${boxName(analysis, item)} are empty: it stands in a column, and its flex-basis of ${declaration.value} is a height there`,
        source: declaration.source,
        weight: 20 + blank / 4,
      }),
    ];
  });
}

/** Lower end of what is in a box. */
function lowest({ tree, reading }: Analysis, element: number): number {
  const ends = childrenOf(tree, element)
    .filter((child) => hasBox(tree, child))
    .map(
      (child) =>
        rectOf(reading, child).y + rectOf(reading, child).height + laidAreas(tree, child).margin.bottom,
    );
  for (const { pieces, blank } of inside(tree).texts.get(element) ?? [])
    if (!blank) ends.push(...pieces.map(({ y, height }) => y + height));
  return Math.max(laidAreas(tree, element).content.y, ...ends);
}

export const rule: Rule<'gap/flex-basis-as-height'> = {
  id: 'gap/flex-basis-as-height',
  kind: 'gap',
  title: 'A flex basis is a height in a column',
  spec: ['Flexbox 1 §7.2'],
  why: 'A flex basis is measured along the main axis: in a column it is a height.',
  usual: 'Set `flex-basis: auto` where the container is a column.',
  example: `<style>.row { display: flex; flex-direction: column } @media (min-width: 3000px) { .row { flex-direction: row } } @media (max-width: 2999px) { .row { flex-direction: column } } .row div { flex: 0 0 240px; background: linen }</style><div class="row"><div>1</div><div>2</div></div>`,
  observe: inContainers(basisAsHeight),
  drawn: beforeEnd,
};
