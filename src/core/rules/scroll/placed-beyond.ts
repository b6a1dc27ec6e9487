/** Boxes that are placed beyond the end of the page, so that it scrolls to them (CSS Overflow 3 §2.2). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { boxName, selfAndAncestors, visibilityOf } from '../../visibility/visibility.ts';
import { endOfPage } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { scrollers } from './scrollers.ts';

const LEAST = 4;

function placedBeyond(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const page = scrollers(analysis).find(({ element, axis }) => element < 0 && axis === 'y');
  if (!page) return [];
  const { visible } = visibilityOf(analysis);
  const outermost = (element: number): number | undefined =>
    selfAndAncestors(analysis, element).findLast((at) => tree.kinds[at] === 'absolute');
  let flowEnd = 0;
  const ends = new Map<number, number>();
  for (const i of page.boxes) {
    if (!hasBox(tree, i) || inFixed(reading)[i] === 1) continue;
    const { y, height } = rectOf(reading, i);
    const placed = outermost(i);
    if (placed === undefined)
      flowEnd = Math.max(flowEnd, y + height + Math.max(0, laidAreas(tree, i).margin.bottom));
    else if (visible[i]) ends.set(placed, Math.max(ends.get(placed) ?? 0, y + height));
  }
  const edge = Math.max(flowEnd, page.client);
  const far = [...ends].filter(([, end]) => end > edge + LEAST).sort((a, b) => b[1] - a[1]);
  return far.slice(0, 3).flatMap(([element, end]): Observed[] => {
    const { y } = rectOf(reading, element);
    const isWhole = y >= edge - 2;
    const isPulled = ['top', 'bottom', 'left', 'right', 'inset'].some((side) =>
      /^-|\(-|^100(%|v)/.test(authorDeclaration(analysis, element, side)?.value ?? ''),
    );
    if (stopsByGeometry(analysis, element, page.scroll < end - 2 && 'the page does not scroll to its end'))
      return [];
    return [
      observed({
        px: end - edge,
        axis: 'y',
        subject: element,
        what: `The page scrolls ${px(end - edge)} px further down for ${boxName(analysis, element)}, which is placed beyond the end of what is in the flow`,
        evidence: facts(
          ['waits-beyond-the-end', isWhole && 'All of it lies beyond the end of the page'],
          ['placed-beyond-the-end', isPulled && 'Its own offset puts it there'],
        ),
        boxes: [element],
        weight: 60 + (end - edge) / 4,
      }),
    ];
  });
}

export const rule: Rule<'scroll/placed-beyond'> = {
  id: 'scroll/placed-beyond',
  kind: 'stray-scroll',
  title: 'A placed box makes the page longer',
  spec: ['CSS Overflow 3 §2.2', 'CSS Positioned Layout 3 §2.1'],
  why: 'What is positioned absolutely beyond the end of the page belongs to what can be scrolled to; what is fixed does not.',
  usual:
    'Fix it to the view (`position: fixed`), do not display it until it is needed, or leave room for it in the flow.',
  example: `<style>body { position: relative; min-height: 900px } .tray { position: absolute; bottom: -200px; height: 200px; left: 0; right: 0; background: tan }</style><p>Page</p><div class="tray">Closed</div>`,
  observe: placedBeyond,
  suspects: (analysis, { subject, px: by }) => {
    const sides = ['bottom', 'top', 'height', 'min-height'].filter(
      (side) =>
        authorDeclaration(analysis, subject, side)?.owner === subject &&
        !/^(auto|0\D*)$/.test(authorDeclaration(analysis, subject, side)!.value),
    );
    const container = analysis.tree.containingBlock[subject]!;
    return [
      suspect(
        analysis,
        subject,
        'position',
        `${boxName(analysis, subject)} is placed in the document, whose scroll reaches to its end`,
        [
          fix('fix it to the view', subject, 'position', 'fixed', 104),
          fix('leave it in the flow', subject, 'position', 'static', 60),
        ],
      ),
      ...(container > 0
        ? [
            suspect(
              analysis,
              container,
              'padding-bottom',
              `${boxName(analysis, container)} leaves no room for what is placed in it`,
              [
                fix(
                  'leave room for it',
                  container,
                  'padding-bottom',
                  `${Math.ceil(laidAreas(analysis.tree, container).padding.bottom + by)}px`,
                  50,
                ),
              ],
            ),
          ]
        : []),
      ...sides.map((side) =>
        suspect(analysis, subject, side, `its ${side} puts its end there`, [
          fix('let it end on the page', subject, side, side === 'bottom' ? '0' : 'auto', 90),
        ]),
      ),
    ];
  },
  drawn: endOfPage,
};
