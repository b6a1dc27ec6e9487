/** Room between cells that nobody asked for (CSS 2.2 §17.6.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, hasBackground } from '../../visibility/visibility.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { suspect } from '../suspects.ts';

function apart(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const out: Observed[] = [];
  for (let table = 1; table < tree.count; table++) {
    if (!/^(inline-)?table$/.test(usedText(reading, 'display', table)) || isUnseen(analysis, table)) continue;
    if (
      stopsByGeometry(
        analysis,
        table,
        usedText(reading, 'border-collapse', table) === 'collapse' && 'its borders collapse',
      )
    )
      continue;
    if (
      stopsByGeometry(
        analysis,
        table,
        authorDeclaration(analysis, table, 'border-spacing') !== null && 'its border-spacing is declared',
      )
    )
      continue;
    const by = Number.parseFloat(usedText(reading, 'border-spacing', table)) || 0;
    if (by < 1) continue;
    const parts: number[] = [];
    const collect = (at: number): void => {
      for (const child of childrenOf(tree, at)) {
        if (!hasBox(tree, child) || !/^table-/.test(tree.kinds[child]!)) continue;
        parts.push(child);
        if (tree.kinds[child] !== 'table-cell') collect(child);
      }
    };
    collect(table);
    const cells = parts.filter((part) => tree.kinds[part] === 'table-cell');
    const isGround = (part: number): boolean => hasBackground(analysis, part);
    const isLined = (part: number): boolean => {
      const { border } = laidAreas(tree, part);
      return border.bottom > 0 || border.top > 0;
    };
    const rows = parts.filter((part) => tree.kinds[part] === 'table-row' && isGround(part));
    const filled = cells.filter(isGround);
    const lined = cells.filter(isLined);
    if (
      stopsByVisibility(
        analysis,
        table,
        (cells.length < 2 || filled.length + rows.length + lined.length < 2) &&
          'no grounds and no lines of its cells show where they end',
      )
    )
      continue;
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: table,
        what: `The cells of ${boxName(analysis, table)} stand ${px(by)} px apart, which is the browser’s border-spacing`,
        evidence: facts([
          'lines-are-broken',
          (lined.length > 1 || rows.length > 0) && 'The lines or grounds of its rows are broken by it',
        ]),
        boxes: [table],
        weight: 20,
      }),
    );
  }
  return out;
}

export const rule: Rule<'gap/border-spacing'> = {
  id: 'gap/border-spacing',
  kind: 'gap',
  title: 'Cells stand apart, though nobody asked for it',
  spec: ['CSS 2.2 §17.6.1', 'HTML §15.3.8'],
  why: 'By default the borders of a table are separated, and browsers put 2 px between its cells.',
  usual: '`border-collapse: collapse`, or `border-spacing: 0`.',
  example: `<style>td { border-bottom: 1px solid }</style><table><tr><td>1<td>2<tr><td>3<td>4</table>`,
  observe: apart,
  suspects: (analysis, { subject }) => [
    suspect(analysis, subject, 'border-spacing', `the browser puts 2 px between cells`, [
      {
        words: 'let the borders collapse',
        puts: [{ element: subject, property: 'border-collapse', value: 'collapse' }],
        rank: 104,
      },
      {
        words: 'put nothing between them',
        puts: [{ element: subject, property: 'border-spacing', value: '0' }],
        rank: 98,
      },
    ]),
  ],
};
