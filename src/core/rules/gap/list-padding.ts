/** The default padding of a list that shows no marks (HTML §15.3.8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, hasBox, rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { inkOf, boxName, visibilityOf, selfAndAncestors } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** The room for the marks of a list that shows none (HTML §15.3.8). */
function beforeMarks(analysis: Analysis, list: number): Observed[] {
  if (
    stopsByGeometry(
      analysis,
      list,
      !/^(ul|ol|menu|dir)$/.test(tagOf(analysis.reading, list)) && 'it is no list',
    )
  )
    return [];
  const { tree, reading } = analysis;
  const { padding } = laidAreas(tree, list);
  const side = usedText(reading, 'direction', list) === 'rtl' ? 'right' : 'left';
  const isDeclared = authorDeclaration(analysis, list, `padding-${side}`) !== null;
  if (
    stopsByGeometry(analysis, list, (padding[side] < 16 || isDeclared) && 'its padding is not the default one')
  )
    return [];
  // What is nested may well be set in.
  const isNested = selfAndAncestors(analysis, reading.parent[list]!).some(
    (at) => tagOf(tree.reading, at) === 'li',
  );
  if (stopsByEvidence(analysis, list, isNested && 'it lies in another list, and may well be set in')) return [];
  const { visible } = visibilityOf(analysis);
  const items = childrenOf(tree, list).filter((child) => hasBox(tree, child) && visible[child]);
  const value = (element: number, property: string) => resolve(analysis.styles, element, property);
  const isBare = (element: number) =>
    value(element, 'list-style-type').value === 'none' &&
    /^(none|initial|)$/.test(value(element, 'list-style-image').value);
  if (
    stopsByGeometry(
      analysis,
      list,
      (items.length === 0 || !items.every(isBare)) && 'it has no items, or they show their marks',
    )
  )
    return [];
  const isFilled = items.some(
    (item) => inkOf(analysis, item).length > 0 || tree.first[item] !== tree.first[item + 1],
  );
  if (stopsByVisibility(analysis, list, !isFilled && 'nothing is in its items')) return [];
  return [
    observed({
      px: padding[side],
      axis: 'x',
      subject: list,
      what: `${boxName(analysis, list)} keeps ${px(padding[side])} px for the marks of a list, and shows none`,
      variant: side,
      weight: 15 + padding[side] / 4,
    }),
  ];
}

export const rule: Rule<'gap/list-padding'> = {
  id: 'gap/list-padding',
  kind: 'gap',
  title: 'A list without marks keeps the room for them',
  spec: ['HTML §15.3.8'],
  why: 'Browsers give lists 40 px of padding for their marks; `list-style: none` takes away the marks alone.',
  usual: '`padding: 0` on the list.',
  example: `<style>ul { list-style: none }</style><ul><li>Sailings<li>Fares</ul>`,
  observe: inContainers(beforeMarks),
  drawn: ({ reading }, { variant, px, subject }) => {
    const { x, width } = rectOf(reading, subject);
    return variant === 'right' ? [x + width - px, x + width] : [x, x + px];
  },
};
