/** Like boxes that are stretched to one height, and whose last things stand at different heights (Flexbox 1 §8.1, §8.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import {
  boxName,
  hasBackground,
  isReplacedOrControl,
  isSelfOrAncestor,
  visibleChildren,
} from '../../visibility/visibility.ts';
import { belowEnd } from '../drawn.ts';
import { isSameSort, itemsOf, sortOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 8;
/** CSS px up to which the last thing of a box is a row of buttons, or a line. */
const MOST = 100;

/** The last thing in the flow of a box. */
const lastIn = (analysis: Analysis, box: number): number | undefined =>
  visibleChildren(analysis, box)
    .filter((child) => !/absolute|fixed/.test(analysis.tree.kinds[child]!))
    .at(-1);

/** Whether something in it is used: a button, or a link that looks like one. */
function isUsed(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  for (let at = element; at < tree.count && isSelfOrAncestor(analysis, element, at); at++)
    if (
      isReplacedOrControl(tree, at)
        ? /^(button|input|select)$/.test(tagOf(reading, at))
        : tagOf(reading, at) === 'button'
    )
      return true;
    else if (tagOf(reading, at) === 'a' && hasBackground(analysis, at)) return true;
  return false;
}

function unevenEnds(analysis: Analysis, container: number): Observed[] {
  const { reading } = analysis;
  const items = itemsOf(analysis, container);
  if (stopsByGeometry(analysis, container, items.length < 2 && 'it holds fewer than two boxes')) return [];
  const rows = new Map<string, { item: number; last: number }[]>();
  for (const item of items) {
    const last = lastIn(analysis, item);
    const { y, height } = rectOf(reading, item);
    // What is most of its box is no end of it.
    if (last === undefined || rectOf(reading, last).height > Math.min(MOST, height / 2)) continue;
    const key = `${sortOf(analysis, item)} ${Math.round(y)} ${Math.round(height)}`;
    const row = rows.get(key);
    if (row) row.push({ item, last });
    else rows.set(key, [{ item, last }]);
  }
  return [...rows.values()].flatMap((row): Observed[] => {
    const [first] = row;
    const isAlike = row.length > 1 && row.every(({ last }) => isSameSort(analysis, last, first!.last));
    if (
      stopsByGeometry(analysis, container, !isAlike && 'no boxes of one sort and height end in the same thing')
    )
      return [];
    const ends = row.map(({ last }) => rectOf(reading, last).y + rectOf(reading, last).height);
    const by = Math.max(...ends) - Math.min(...ends);
    if (stopsByGeometry(analysis, container, by < LEAST && 'what its boxes end in stands at one height'))
      return [];
    const { item, last } = row[ends.indexOf(Math.min(...ends))]!;
    return [
      observed({
        px: by,
        axis: 'y',
        subject: last,
        other: item,
        what: `${boxName(analysis, last)} stands ${px(by)} px higher than in the other boxes of its row`,
        evidence: facts([
          'to-be-used',
          isUsed(analysis, last) && 'It is a control, which one looks for at one height in all of them',
        ]),
        places: row.filter((_, n) => ends[n]! < Math.max(...ends) - 1).map((entry) => entry.last),
        boxes: [last, item],
        weight: 15 + Math.min(by, 100) / 4,
      }),
    ];
  });
}

/** An automatic margin takes the room above the last thing, where the box is a flex container that goes down (Flexbox 1 §8.1). */
function suspects(analysis: Analysis, { subject, other }: Observation): Suspect[] {
  const name = boxName(analysis, subject);
  const isColumn =
    layoutOf(analysis.tree, other!) === 'flex' &&
    /^column/.test(usedText(analysis.reading, 'flex-direction', other!));
  const margin = authorDeclaration(analysis, subject, 'margin-top');
  return [
    {
      ...suspect(
        analysis,
        subject,
        margin?.owner === subject ? 'margin-top' : 'margin',
        `${name} follows what is above it, and the room that is left is below it`,
        [],
      ),
      fixes: [
        {
          words: 'put the room above it',
          puts: [
            ...(isColumn
              ? []
              : [
                  { element: other!, property: 'display', value: 'flex' },
                  { element: other!, property: 'flex-direction', value: 'column' },
                ]),
            { element: subject, property: 'margin-top', value: 'auto' },
          ],
          rank: 100,
        },
      ],
    },
  ];
}

export const rule: Rule<'gap/uneven-end'> = {
  id: 'gap/uneven-end',
  kind: 'gap',
  title: 'What like boxes end in stands at different heights',
  spec: ['Flexbox 1 §8.1', 'Flexbox 1 §8.3'],
  why: 'The boxes are stretched to one height, and what is in them is as tall as it is by itself.',
  usual: 'Let each be a flex container that goes down, and give its last thing `margin-top: auto`.',
  example: `<style>section { display: flex; gap: 10px } div { flex: 1; background: linen } button { display: block }</style><section><div><p>One</p><button>Take</button></div><div><p>One and two and three<br>and four</p><button>Take</button></div></section>`,
  observe: inContainers(unevenEnds),
  suspects,
  drawn: belowEnd,
};
