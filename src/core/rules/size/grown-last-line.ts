/** Items that take all of the last line of a wrapping row (Flexbox 1 §9.7). */
import { sizeWish } from '../wishes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { inContainers } from '../gap/containers.ts';
import { isSameSort, itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** So many times as wide as the others of its sort. */
const WIDER = 1.35;

function grown(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const wraps =
    layoutOf(tree, container) === 'flex' &&
    !isMainAxisVertical(tree, container) &&
    /^wrap/.test(usedText(reading, 'flex-wrap', container));
  if (stopsByGeometry(analysis, container, !wraps && 'it is no row that wraps')) return [];
  const items = itemsOf(analysis, container);
  const last = items.at(-1);
  if (last === undefined || items.length < 3) return [];
  const { y, width } = rectOf(reading, last);
  const before = items.filter(
    (item) => isSameSort(analysis, item, last) && Math.abs(rectOf(reading, item).y - y) > 1,
  );
  const usual =
    before.map((item) => rectOf(reading, item).width).sort((a, b) => a - b)[Math.floor(before.length / 2)] ??
    width;
  const grows = authorDeclaration(analysis, last, 'flex-grow');
  const isGrown = before.length > 1 && Number(grows?.value) > 0 && width > WIDER * usual;
  if (stopsByGeometry(analysis, last, !isGrown && 'it is about as wide as those in the lines before'))
    return [];
  return [
    observed({
      px: width - usual,
      axis: 'x',
      subject: last,
      other: container,
      what: `${boxName(analysis, last)} is ${px(width)} px wide in the last line, and those of its sort before it ${px(usual)} px`,
      evidence: facts(['unlike-its-sort', width > 1.8 * usual && 'It is about twice as wide as its sort']),
      boxes: [last, container],
      weight: 30 + (width - usual) / 8,
    }),
  ];
}

export const rule: Rule<'size/grown-last-line'> = {
  id: 'size/grown-last-line',
  kind: 'size',
  title: 'The last line of a row is shared by fewer items, which grow',
  spec: ['Flexbox 1 §9.7'],
  why: 'Each line of a flex container shares out its free room by itself: fewer items get more of it.',
  usual: 'Lay the row out as a grid with `auto-fill`, whose columns are the same in each row.',
  example: `<style>section { display: flex; flex-wrap: wrap; width: 700px } div { flex: 1 1 300px; background: tan }</style><section><div>1</div><div>2</div><div>3</div></section>`,
  observe: inContainers(grown),
  wish: (analysis, { subject, px: more }) =>
    sizeWish(analysis, subject, 'x', 'at-most', rectOf(analysis.reading, subject).width - more / 2),
  suspects: (analysis, { subject, other }) => {
    const basis = authorDeclaration(analysis, subject, 'flex-basis')?.value ?? 'auto';
    const least = /\d/.test(basis) ? basis : `${Math.round(rectOf(analysis.reading, subject).width / 2)}px`;
    return [
      suspect(
        analysis,
        subject,
        'flex-grow',
        `the free room of the last line goes to ${boxName(analysis, subject)} alone`,
        [
          {
            words: 'lay the row out as a grid, whose columns are the same in each row',
            puts: [
              { element: other!, property: 'display', value: 'grid' },
              {
                element: other!,
                property: 'grid-template-columns',
                value: `repeat(auto-fill, minmax(min(${least}, 100%), 1fr))`,
              },
            ],
            rank: 104,
          },
          fix('let the items keep their size', subject, 'flex-grow', '0', 96),
        ],
      ),
    ];
  },
};
