/** Cells that are wider than declared, since what is in them cannot break (CSS 2.2 §17.5.2.2). */
import { authorDeclaration, isLength } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import { intrinsicOf } from '../../accounts/sizing/intrinsic-sizing.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inside, usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 4;

const tableOf = (analysis: Analysis, cell: number): number =>
  selfAndAncestors(analysis, cell).find((at) =>
    /^(inline-)?table$/.test(usedText(analysis.reading, 'display', at)),
  ) ?? -1;

function wideCells(analysis: Analysis): Observed[] {
  const { tree, reading, styles } = analysis;
  const columns = new Map<string, Observed>();
  for (const cell of declaring(styles, 'width', tree.count)) {
    if (tree.kinds[cell] !== 'table-cell' || isUnseen(analysis, cell)) continue;
    const declaration = authorDeclaration(analysis, cell, 'width');
    if (!declaration || !isLength(declaration.value) || /%/.test(declaration.value)) continue;
    const table = tableOf(analysis, cell);
    if (
      stopsByGeometry(
        analysis,
        cell,
        usedText(reading, 'table-layout', table) === 'fixed' &&
          usedText(reading, 'width', table) !== 'auto' &&
          'its table has a fixed layout',
      )
    )
      continue;
    const { rect, content } = laidAreas(tree, cell);
    const box = usedText(reading, 'box-sizing', cell) === 'border-box' ? rect : content;
    const wanted = declaredPx(analysis, cell, 'width', declaration.value);
    // A width of next to nothing asks for a column as narrow as what is in it.
    if (stopsByGeometry(analysis, cell, wanted < 24 && 'it is declared to be as narrow as it can be')) continue;
    const off = box.width - wanted;
    if (stopsByGeometry(analysis, cell, !(off >= LEAST) && 'it is no wider than declared')) continue;
    // The cell of its column that cannot be narrower: where there is none, the table had room to give away.
    const minimum = (intrinsicOf(analysis, cell)?.min ?? 0) + rect.width - content.width;
    if (
      stopsByGeometry(
        analysis,
        cell,
        minimum < rect.width - 1 && 'another cell, or the room of the table, makes its column as wide',
      )
    )
      continue;
    const key = `${table} ${Math.round(rect.x)}`;
    if ((columns.get(key)?.px ?? 0) >= off) continue;
    columns.set(
      key,
      observed({
        px: off,
        axis: 'x',
        subject: cell,
        other: table,
        what: `The column of ${boxName(analysis, cell)} is ${px(box.width)} px wide, and width: ${declaration.value} says ${px(wanted)}: what is in this cell cannot break`,
        evidence: facts([
          'words-hold-it-open',
          (inside(tree).texts.get(cell) ?? []).some(({ blank }) => !blank) &&
            'A word or a line that may not break holds it open',
        ]),
        boxes: [cell, table],
        weight: 30 + off / 2,
        source: declaration.source,
      }),
    );
  }
  return [...columns.values()];
}

const suspects = (analysis: Analysis, { subject, other }: Observation): Suspect[] => {
  const nowrap = usedText(analysis.reading, 'white-space', subject);
  const because = 'the width of a cell is a wish in the automatic layout of tables';
  return [
    ...(/nowrap|pre$/.test(nowrap)
      ? [
          suspect(analysis, subject, 'white-space', `${boxName(analysis, subject)} may not wrap`, [
            fix('let it wrap', subject, 'white-space', 'normal', 106),
          ]),
        ]
      : []),
    suspect(analysis, subject, 'width', because, [
      fix('let long words break', subject, 'overflow-wrap', 'anywhere', 104),
      {
        words: 'lay the table out by its declared widths',
        puts: [
          { element: other!, property: 'table-layout', value: 'fixed' },
          { element: other!, property: 'width', value: '100%' },
        ],
        rank: 90,
      },
    ]),
  ];
};

export const rule: Rule<'size/table-cell'> = {
  id: 'size/table-cell',
  kind: 'size',
  title: 'A column is wider than its cells declare',
  spec: ['CSS 2.2 §17.5.2.2', 'CSS Tables 3 §4.4'],
  why: 'In the automatic layout of tables no column is narrower than the longest word in it, whatever is declared.',
  usual: 'Let long words break (`overflow-wrap: anywhere`), or fix the layout of the table.',
  example: `<style>td { width: 60px; padding: 0 }</style><table><tr><td>Gannetstepslowerquay<td>10:25</table>`,
  observe: wideCells,
  suspects,
  drawn: beforeEnd,
};
