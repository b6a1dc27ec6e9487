/** Cells whose content stands in the middle of their row, since that is the browser's default (CSS 2.2 §17.5.4, HTML §15.3.8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { contentEnds } from '../../visibility/content-extent.ts';
import { boxName, visibleChildren } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** CSS px of room above from which on it is seen. */
const LEAST = 24;

/** Rows by the cells that can be seen in them, each with the room above what it holds. */
function roomsIn(analysis: Analysis, row: number): { cell: number; above: number; holds: number }[] {
  return visibleChildren(analysis, row).flatMap((cell) => {
    if (analysis.tree.kinds[cell] !== 'table-cell') return [];
    const ends = contentEnds(analysis, cell);
    if (!ends) return [];
    return [
      { cell, above: ends.top - laidAreas(analysis.tree, cell).content.y, holds: ends.bottom - ends.top },
    ];
  });
}

function inTheMiddle(analysis: Analysis): Observed[] {
  const { tree } = analysis;
  const out: Observed[] = [];
  for (let row = 1; row < tree.count; row++) {
    if (tree.kinds[row] !== 'table-row' || isUnseen(analysis, row)) continue;
    const rooms = roomsIn(analysis, row);
    const highest = Math.min(...rooms.map(({ above }) => above));
    const tallest = Math.max(...rooms.map(({ holds }) => holds));
    for (const { cell, above, holds } of rooms) {
      if (
        stopsByGeometry(analysis, cell, above - highest < LEAST && 'it begins as high as the others of its row')
      )
        continue;
      const alignment = authorDeclaration(analysis, cell, 'vertical-align');
      if (stopsByGeometry(analysis, cell, alignment !== null && 'the author says where in its row it stands'))
        continue;
      const isColumn = holds > 60 && tallest > 120;
      out.push(
        observed({
          px: above,
          axis: 'y',
          subject: cell,
          other: row,
          what: `What is in ${boxName(analysis, cell)} begins ${px(above)} px below the top of its row`,
          evidence: facts(
            ['columns-of-a-page', isColumn && 'The cells hold columns of text, not numbers of a table'],
            [
              'one-line-in-its-row',
              !isColumn && holds < 40 && 'It holds a line, and stands in the middle of its row',
            ],
          ),
          boxes: [cell],
          weight: 20 + Math.min(above, 100) / 4,
        }),
      );
    }
  }
  return out;
}

export const rule: Rule<'gap/cell-middle'> = {
  id: 'gap/cell-middle',
  kind: 'gap',
  title: 'A cell begins lower than the others of its row',
  spec: ['CSS 2.2 §17.5.4', 'HTML §15.3.8'],
  why: 'Browsers put what is in a cell into the middle of its row where nothing else is declared.',
  usual: 'Let columns of text begin at the top: `vertical-align: top`.',
  example: `<style>td { width: 120px; line-height: 40px }</style><table><tr><td>Home<br>Crews<td>One<br>two<br>three<br>four<br>five<br>six</table>`,
  observe: inTheMiddle,
  suspects: (analysis, { subject }) => [
    suspect(
      analysis,
      subject,
      'vertical-align',
      `cells stand in the middle of their row by default, and ${boxName(analysis, subject)} says nothing else`,
      [fix('let it begin at the top', subject, 'vertical-align', 'top', 100)],
    ),
  ],
  drawn: beforeStart,
};
