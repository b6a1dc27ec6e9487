/** Margins, and gaps, that a box with nothing in it adds to its container (CSS 2.2 §8.3.1, Box Alignment 3 §8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf, isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { gapOf } from '../../boxes/grid-tracks.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, visibilityOf } from '../../visibility/visibility.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';
import { isEmpty } from './empty-boxes.ts';

const LEAST = 4;
const THIN = 2;

function emptyMargins(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const layout = layoutOf(tree, container);
  if (
    stopsByGeometry(
      analysis,
      container,
      layout !== 'flow' && layout !== 'flex' && layout !== 'grid' && 'it lays out lines or a table',
    )
  )
    return [];
  const { visible } = visibilityOf(analysis);
  const all = itemsOf(analysis, container).filter((item) => visible[item]);
  const axis = layout === 'flex' && !isMainAxisVertical(tree, container) ? 'x' : 'y';
  const [start, end] = axis === 'y' ? (['top', 'bottom'] as const) : (['left', 'right'] as const);
  return all.flatMap((element, n): Observed[] => {
    if (layout === 'flow' && !/^(block|list-item)$/.test(tree.kinds[element]!)) return [];
    const { rect, margin } = laidAreas(tree, element);
    const size = axis === 'y' ? rect.height : rect.width;
    if (
      stopsByVisibility(
        analysis,
        element,
        (size > THIN || !isEmpty(analysis, element)) && 'something can be seen in it, or it has a size',
      )
    )
      return [];
    const [before, after] = [all[n - 1], all[n + 1]];
    const own = margin[start] + margin[end];
    let by: number;
    let gap = 0;
    if (layout === 'flow') {
      // Through a box of no height its margins collapse with those before and after it (CSS 2.2 §8.3.1).
      const [above, below] = [
        before === undefined ? 0 : laidAreas(tree, before).margin.bottom,
        after === undefined ? 0 : laidAreas(tree, after).margin.top,
      ];
      const distance =
        before === undefined || after === undefined
          ? Math.max(above, below, margin.top, margin.bottom)
          : laidAreas(tree, after).rect.y -
            laidAreas(tree, before).rect.y -
            laidAreas(tree, before).rect.height;
      by = Math.min(distance, Math.max(margin.top, margin.bottom, own)) - Math.max(above, below, 0);
    } else {
      const { width, height } = laidAreas(tree, container).content;
      gap =
        all.length > 1
          ? gapOf(tree, container, axis === 'y' ? 'row-gap' : 'column-gap', axis === 'y' ? height : width)
          : 0;
      by = own + gap;
    }
    if (stopsByGeometry(analysis, element, by < LEAST && 'it takes no room but what its neighbours take'))
      return [];
    return [
      observed({
        px: by,
        axis,
        subject: element,
        other: container,
        what: `${boxName(analysis, element)} has nothing in it and takes ${px(by)} px by its ${gap > 0 && own > 0 ? `margins and a gap of ${px(gap)} px` : gap > 0 ? 'gap' : 'margins'}`,
        evidence: facts(
          ['much-room', by >= 14 && `${px(by)} px are as much as a line of text`],
          [
            'alone-in-its-container',
            before === undefined && after === undefined && 'Nothing else is in its container',
          ],
        ),
        boxes: [element, container],
        weight: 20 + by,
      }),
    ];
  });
}

export const rule: Rule<'gap/empty-box-margins'> = {
  id: 'gap/empty-box-margins',
  kind: 'gap',
  title: 'Margins of an empty box hold room open',
  spec: ['CSS 2.2 §8.3.1', 'CSS Box Alignment 3 §8'],
  why: 'The margins of a box count though nothing is in it, and a flex or grid container leaves its gap beside it as well.',
  usual: 'Give the box its margins only when it holds something (`:not(:empty)`), or do not render it.',
  example: `<style>p { margin: 0 } .note { margin: 40px 0 }</style><section><p>before</p><div class="note"></div><p>after</p></section>`,
  observe: inContainers(emptyMargins),
  suspects: (analysis, { subject, axis, other }) => {
    const sides = axis === 'y' ? (['top', 'bottom'] as const) : (['left', 'right'] as const);
    const { margin } = laidAreas(analysis.tree, subject);
    const side = margin[sides[1]] > margin[sides[0]] ? sides[1] : sides[0];
    const declaration = authorDeclaration(analysis, subject, `margin-${side}`);
    const name = boxName(analysis, subject);
    return [
      ...(margin[sides[0]] + margin[sides[1]] >= LEAST
        ? [
            suspect(
              analysis,
              subject,
              `margin-${side}`,
              `${name} is empty, and ${declaration ? 'its margins count' : 'the browser gives it margins'} all the same`,
              [
                {
                  words: 'give it no margins while it is empty',
                  puts: sides.map((at) => ({ element: subject, property: `margin-${at}`, value: '0' })),
                  rank: 104,
                },
                fix('do not display it while it is empty', subject, 'display', 'none', 90),
              ],
            ),
          ]
        : []),
      suspect(
        analysis,
        other!,
        axis === 'y' ? 'row-gap' : 'column-gap',
        `a gap is left beside ${name} though it is empty`,
        [fix('do not display it while it is empty', subject, 'display', 'none', 98)],
      ),
    ];
  },
};
