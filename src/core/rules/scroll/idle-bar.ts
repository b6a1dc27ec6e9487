/** Scrollbars of boxes that have nothing to scroll (CSS Overflow 3 §3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { declaring } from '../../css/cascade/candidates.ts';

function idleBars(analysis: Analysis): Observed[] {
  const { tree, reading, styles } = analysis;
  const out: Observed[] = [];
  const sizes = new Map<number, number[]>();
  for (let at = 0; at + 4 < reading.scrolls.length; at += 5)
    sizes.set(reading.scrolls[at]!, [...reading.scrolls.subarray(at + 1, at + 5)]);
  for (const [axis, bar] of [
    ['y', 'right'],
    ['x', 'bottom'],
  ] as const)
    for (const element of declaring(styles, `overflow-${axis}`, tree.count)) {
      if (/^(html|body|textarea|select)$/.test(tagOf(reading, element)) || isUnseen(analysis, element))
        continue;
      const declaration = authorDeclaration(analysis, element, `overflow-${axis}`);
      if (
        stopsByGeometry(
          analysis,
          element,
          (declaration?.owner !== element || declaration.value !== 'scroll') &&
            'nobody declares that it always has a scrollbar',
        )
      )
        continue;
      const thickness =
        laidAreas(tree, element).scrollbar[bar] + (axis === 'y' ? laidAreas(tree, element).scrollbar.left : 0);
      const [width = 0, height = 0, scrollWidth = 0, scrollHeight = 0] = sizes.get(element) ?? [];
      const isIdle = thickness > 0 && (axis === 'y' ? scrollHeight <= height + 1 : scrollWidth <= width + 1);
      if (
        stopsByGeometry(
          analysis,
          element,
          !isIdle && 'it has something to scroll, or its scrollbar takes no room',
        )
      )
        continue;
      const isOfBoth = declaration!.source.property === 'overflow';
      out.push(
        observed({
          px: thickness,
          axis: axis === 'y' ? 'x' : 'y',
          subject: element,
          what: `${boxName(analysis, element)} has a scrollbar of ${px(thickness)} px and nothing to scroll ${axis === 'y' ? 'down' : 'sideways'}`,
          evidence: facts(['asked-on-both-axes', isOfBoth && 'overflow is declared for both axes at once']),
          variant: axis === 'y' ? 'right' : 'bottom',
          boxes: [element],
          weight: 30,
        }),
      );
    }
  return out;
}

export const rule: Rule<'scroll/idle-bar'> = {
  id: 'scroll/idle-bar',
  kind: 'stray-scroll',
  title: 'A scrollbar has nothing to scroll',
  spec: ['CSS Overflow 3 §3.1'],
  why: '`overflow: scroll` shows a scrollbar whether anything overflows or not.',
  usual: 'Write `auto`: the scrollbar comes when there is something to scroll.',
  example: `<style>div { overflow: scroll; width: 200px }</style><div>Short</div>`,
  observe: idleBars,
  suspects: (analysis, { subject, variant }) => {
    const property = variant === 'right' ? 'overflow-y' : 'overflow-x';
    return [
      suspect(analysis, subject, property, `scroll shows a scrollbar at any time`, [
        fix('show it when it is needed', subject, property, 'auto', 104),
      ]),
    ];
  },
};
