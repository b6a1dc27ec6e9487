/** Automatic margins that take the free room of a row on both sides of one item (Flexbox 1 §8.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { reachOf } from '../../accounts/property.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 12;

const SIDES = { x: ['left', 'right'], y: ['top', 'bottom'] } as const;

function torn(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  if (stopsByGeometry(analysis, container, layoutOf(tree, container) !== 'flex' && 'it is no flex container'))
    return [];
  const axis = isMainAxisVertical(tree, container) ? 'y' : 'x';
  const items = itemsOf(analysis, container);
  if (stopsByGeometry(analysis, container, items.length < 2 && 'it holds one item alone')) return [];
  return items.flatMap((item): Observed[] => {
    const [start, end] = SIDES[axis];
    const both = [start, end].map((side) => authorDeclaration(analysis, item, `margin-${side}`));
    const { margin } = laidAreas(tree, item);
    const by = Math.max(margin[start], margin[end]);
    const isTorn =
      both.every((declaration) => declaration?.value === 'auto') &&
      Math.min(margin[start], margin[end]) >= LEAST;
    if (stopsByGeometry(analysis, item, !isTorn && 'its margins are not automatic on both sides')) return [];
    const source = both[0]!.source;
    const centres = reachOf(analysis, source).some(
      (other) => other !== item && layoutOf(tree, reading.parent[other]!) === 'flow',
    );
    return [
      observed({
        px: by,
        axis,
        subject: item,
        other: container,
        what: `The automatic margins of ${boxName(analysis, item)} take ${px(margin[start])} and ${px(margin[end])} px of the free room of ${boxName(analysis, container)}, on both sides of it`,
        evidence: facts([
          'for-another-layout',
          centres && 'The same declaration centres other boxes in the flow',
        ]),
        weight: 40 + by / 4,
      }),
    ];
  });
}

export const rule: Rule<'gap/auto-margin'> = {
  id: 'gap/auto-margin',
  kind: 'gap',
  title: 'Automatic margins tear an item off its row',
  spec: ['Flexbox 1 §8.1'],
  why: 'In a flex container automatic margins take all free room before anything else is laid out by it.',
  usual: 'Set the margins of the item to 0, and lay the row out by `justify-content`.',
  example: `<style>div { display: flex } img { margin: 0 auto; width: 40px; height: 40px; background: tan }</style><div><img alt="face"><p>The name of somebody</p></div>`,
  observe: inContainers(torn),
  suspects: (analysis, { subject, axis }) => {
    const [start, end] = SIDES[axis];
    return [
      suspect(
        analysis,
        subject,
        `margin-${start}`,
        `automatic margins of ${boxName(analysis, subject)} take the free room of its row`,
        [
          {
            words: 'give it no automatic margins',
            puts: [start, end].map((side) => ({ element: subject, property: `margin-${side}`, value: '0' })),
            rank: 100,
          },
        ],
      ),
    ];
  },
  drawn: beforeStart,
};
