/** Lines and rows that share out the height of their container (Flexbox 1 §8.4, Grid 2 §11.5, §12.8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import { areaOf, gapOf, tracksOf } from '../../boxes/grid-tracks.ts';
import { usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 12;

/** CSS px between the lines of a wrapping row beyond its gap and margins. */
function betweenLines(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  if (
    isMainAxisVertical(tree, container) ||
    !/wrap$/.test(usedText(reading, 'flex-wrap', container)) ||
    usedText(reading, 'flex-wrap', container) === 'nowrap'
  )
    return [];
  const items = itemsOf(analysis, container);
  const lines: { top: number; bottom: number; first: number }[] = [];
  for (const item of items) {
    const { rect, margin } = laidAreas(tree, item);
    const [top, bottom] = [rect.y - margin.top, rect.y + rect.height + margin.bottom];
    const line = lines.find((entry) => top < entry.bottom - 1 && bottom > entry.top + 1);
    if (line) Object.assign(line, { top: Math.min(line.top, top), bottom: Math.max(line.bottom, bottom) });
    else lines.push({ top, bottom, first: item });
  }
  if (stopsByGeometry(analysis, container, lines.length < 2 && 'its items stand in one line')) return [];
  lines.sort((a, b) => a.top - b.top);
  const gap = gapOf(tree, container, 'row-gap', laidAreas(tree, container).content.height);
  const spread = lines
    .slice(1)
    .map((line, n) => ({ by: line.top - lines[n]!.bottom - gap, first: line.first }));
  const worst = spread.reduce((a, b) => (b.by > a.by ? b : a));
  if (
    stopsByGeometry(analysis, container, worst.by < LEAST && 'its lines follow each other with their gap alone')
  )
    return [];
  const align = usedText(reading, 'align-content', container);
  return [
    observed({
      px: worst.by,
      axis: 'y',
      subject: container,
      other: worst.first,
      what: `The lines of ${boxName(analysis, container)} stand ${px(worst.by)} px further apart than their gap: they share out its height`,
      evidence: facts(['room-is-shared-out', /space-/.test(align) && `align-content: ${align} asks for it`]),
      boxes: [container, worst.first],
      weight: 30 + worst.by / 2,
    }),
  ];
}

/** CSS px of rows of a grid in which nothing stands. */
function emptyRows(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const items = itemsOf(analysis, container);
  const { sizes, gap } = tracksOf(tree, container, 'rows');
  const areas = items.map((item) => areaOf(tree, item));
  if (areas.some((area) => area === null) || items.length === 0) return [];
  const last = Math.max(...areas.map((area) => area!.row.last));
  const empty = sizes
    .map((_, row) => row)
    .filter((row) => !areas.some((area) => area!.row.first <= row && row <= area!.row.last));
  const by = empty.reduce((all, row) => all + sizes[row]! + gap, 0);
  if (stopsByGeometry(analysis, container, by < 4 && 'something stands in each of its rows')) return [];
  const after = items.find((_, n) => areas[n]!.row.first > empty[0]!) ?? items.at(-1)!;
  return [
    observed({
      px: by,
      axis: 'y',
      subject: container,
      other: after,
      what: `Nothing stands in ${empty.length === 1 ? 'one row' : `${empty.length} rows`} of ${boxName(analysis, container)}: ${px(by)} px are empty ${empty[0]! > last ? 'at its end' : 'between its items'}`,
      evidence: facts(['rows-at-the-end', empty[0]! > last && 'They come after all that stands in it']),
      boxes: [container, after],
      weight: 30 + by / 2,
    }),
  ];
}

export const rule: Rule<'gap/spread-lines'> = {
  id: 'gap/spread-lines',
  kind: 'gap',
  title: 'Lines or rows stand apart by more than their gap',
  spec: ['Flexbox 1 §8.4', 'CSS Grid 2 §11.5'],
  why: 'The lines of a wrapping flex container share out its height by default, and rows of a grid in which nothing stands keep their size and their gap.',
  usual: '`align-content: flex-start`, or a placement without empty rows.',
  example: `<style>div { display: flex; flex-wrap: wrap; height: 300px; width: 200px } p { width: 90px; height: 40px; margin: 0; background: tan; align-self: start } </style><div><p>1</p><p>2</p><p>3</p></div>`,
  observe: inContainers((analysis, container) => {
    const layout = layoutOf(analysis.tree, container);
    return layout === 'flex'
      ? betweenLines(analysis, container)
      : layout === 'grid'
        ? emptyRows(analysis, container)
        : [];
  }),
  suspects: (analysis, { subject, other }) => {
    if (layoutOf(analysis.tree, subject) === 'flex') {
      const declared = authorDeclaration(analysis, subject, 'align-content');
      return [
        suspect(
          analysis,
          subject,
          'align-content',
          declared
            ? `align-content: ${declared.value} shares out its height`
            : 'the lines of a flex container share out its height by default',
          [fix('keep the lines together', subject, 'align-content', 'flex-start', 104)],
        ),
      ];
    }
    const placed =
      itemsOf(analysis, subject).find((item) =>
        ['grid-row-start', 'grid-row-end'].some((property) =>
          /\d/.test(authorDeclaration(analysis, item, property)?.value ?? ''),
        ),
      ) ?? other!;
    return [
      suspect(
        analysis,
        placed,
        'grid-row-start',
        `${boxName(analysis, placed)} is placed beyond an empty row`,
        [
          {
            words: 'let the grid place it',
            puts: ['grid-row-start', 'grid-row-end'].map((property) => ({
              element: placed,
              property,
              value: 'auto',
            })),
            rank: 100,
          },
        ],
      ),
      suspect(analysis, subject, 'grid-template-rows', 'rows are declared in which nothing stands', [
        fix('let rows be made as they are needed', subject, 'grid-template-rows', 'none', 80),
      ]),
    ];
  },
  drawn: (analysis, observation) => beforeStart(analysis, { ...observation, subject: observation.other! }),
};
