/** Boxes of one sort that stand in a row and are not equally tall (CSS 2.2 §9.5, Flexbox 1 §8.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, hasBackground } from '../../visibility/visibility.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inContainers } from './../gap/containers.ts';
import { itemsOf, sortOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 8;

function unevenRow(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const items = itemsOf(analysis, container);
  const isShown = (item: number): boolean => {
    const { border } = laidAreas(tree, item);
    return hasBackground(analysis, item) || border.top + border.bottom > 1;
  };
  const tall = items.map((item) => rectOf(reading, item).height);
  if (
    stopsByGeometry(
      analysis,
      container,
      !(Math.max(...tall) - Math.min(...tall) >= LEAST) && 'what is in it is equally tall',
    )
  )
    return [];
  /** By sort and upper edge. */
  const rows = new Map<string, number[]>();
  for (const item of items) {
    const key = `${sortOf(analysis, item)} ${Math.round(rectOf(reading, item).y)}`;
    const row = rows.get(key);
    if (row) row.push(item);
    else rows.set(key, [item]);
  }
  let worst: { low: number; by: number; row: number[] } | null = null;
  for (const all of rows.values()) {
    const row = all.filter(isShown);
    if (row.length < 2) continue;
    const heights = row.map((item) => rectOf(reading, item).height);
    const least = Math.min(...heights);
    const by = Math.max(...heights) - least;
    if (by >= LEAST && (!worst || by > worst.by)) worst = { low: row[heights.indexOf(least)]!, by, row };
  }
  if (!worst) {
    stopsByGeometry(analysis, container, 'boxes of one sort in its rows are equally tall');
    return [];
  }
  const layout = layoutOf(tree, container);
  const align = authorDeclaration(analysis, container, 'align-items');
  const isAsked = align !== null && !/stretch|normal/.test(align.value);
  return [
    observed({
      px: worst.by,
      axis: 'y',
      subject: worst.low,
      other: container,
      what: `${boxName(analysis, worst.low)} is ${px(worst.by)} px lower than the tallest of its sort in its row`,
      evidence: facts(
        [
          'asked-not-to-stretch',
          isAsked && `align-items: ${align.value} lets each be as tall as what is in it`,
        ],
        [
          'rows-do-not-stretch',
          layout === 'flow' && 'Floats and inline-blocks are each as tall as what is in them',
        ],
      ),
      places: worst.row,
      boxes: [worst.low, container],
      weight: 15 + worst.by / 4,
    }),
  ];
}

export const rule: Rule<'size/uneven-row'> = {
  id: 'size/uneven-row',
  kind: 'size',
  title: 'Boxes of one sort in a row are not equally tall',
  spec: ['Flexbox 1 §8.3', 'CSS 2.2 §10.6.3'],
  why: 'Outside of a stretching row each box is as tall as what is in it.',
  usual: 'Lay the row out as a flex container or a grid, whose items are stretched by default.',
  example: `<style>section { display: flex; align-items: flex-start } div { width: 100px; background: tan }</style><section><div>one</div><div>one and two and three lines of text</div></section>`,
  observe: inContainers(unevenRow),
  suspects: (analysis, { subject, other }) => {
    const layout = layoutOf(analysis.tree, other!);
    if (layout === 'flow')
      return [
        suspect(
          analysis,
          subject,
          analysis.tree.kinds[subject] === 'float' ? 'float' : 'display',
          `${boxName(analysis, subject)} is as tall as what is in it`,
          [fix('lay the row out as a flex container', other!, 'display', 'flex', 96)],
        ),
      ];
    return [
      suspect(analysis, other!, 'align-items', `${boxName(analysis, other!)} does not stretch its items`, [
        fix('let them be as tall as their row', other!, 'align-items', 'stretch', 100),
      ]),
    ];
  },
};
