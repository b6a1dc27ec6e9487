/** Columns of a grid in which nothing stands (CSS Grid 2 §7.2.3.2). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { areaOf, tracksOf } from '../../boxes/grid-tracks.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 24;

function emptyColumns(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  if (stopsByGeometry(analysis, container, layoutOf(tree, container) !== 'grid' && 'it is no grid container'))
    return [];
  const declaration = authorDeclaration(analysis, container, 'grid-template-columns');
  const items = itemsOf(analysis, container);
  if (!declaration || items.length === 0) {
    stopsByGeometry(analysis, container, 'no columns of it are declared, or nothing stands in it');
    return [];
  }
  const { sizes, gap } = tracksOf(tree, container, 'columns');
  const areas = items.map((item) => areaOf(tree, item));
  const last = Math.max(...areas.map((area) => area?.column.last ?? sizes.length - 1));
  const empty = sizes.slice(last + 1);
  const by = empty.reduce((all, size) => all + size + gap, 0);
  if (
    stopsByGeometry(
      analysis,
      container,
      (empty.every((size) => size < 1) || by < LEAST) && 'something stands in its last column',
    )
  )
    return [];
  const isFill = /auto-fill/.test(declaration.value);
  return [
    observed({
      px: by,
      axis: 'x',
      subject: container,
      other: items.at(-1)!,
      what: `Nothing stands in the last ${empty.length === 1 ? 'column' : `${empty.length} columns`} of ${boxName(analysis, container)}: ${px(by)} px are empty`,
      evidence: facts(['keeps-empty-tracks', isFill && 'auto-fill keeps columns in which nothing stands']),
      weight: 40 + by / 8,
      source: declaration.source,
    }),
  ];
}

export const rule: Rule<'gap/empty-tracks'> = {
  id: 'gap/empty-tracks',
  kind: 'gap',
  title: 'Columns of a grid are empty',
  spec: ['CSS Grid 2 §7.2.3.2'],
  why: 'auto-fill makes as many columns as fit, and keeps those in which nothing stands; a fixed number can be more than there are items.',
  usual: 'Write `auto-fit`, which collapses empty columns, or as many columns as there are items.',
  example: `<style>section { display: grid; grid-template-columns: repeat(auto-fill, minmax(150px, 1fr)); width: 800px } p { background: tan }</style><section><p>1</p><p>2</p></section>`,
  observe: inContainers(emptyColumns),
  suspects: (analysis, { subject }) => {
    const declaration = authorDeclaration(analysis, subject, 'grid-template-columns')!;
    const count = itemsOf(analysis, subject).length;
    return [
      suspect(
        analysis,
        subject,
        'grid-template-columns',
        `${boxName(analysis, subject)} keeps columns in which nothing stands`,
        [
          /auto-fill/.test(declaration.value)
            ? fix(
                'let empty columns collapse',
                subject,
                'grid-template-columns',
                declaration.value.replace('auto-fill', 'auto-fit'),
                104,
              )
            : fix(
                'make as many columns as there are items',
                subject,
                'grid-template-columns',
                declaration.value.replace(/repeat\(\s*\d+/, `repeat(${count}`),
                90,
              ),
        ],
      ),
    ];
  },
};
