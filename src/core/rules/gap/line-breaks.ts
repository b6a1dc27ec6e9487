/** Line breaks that make lines between blocks, for their room alone (CSS Text 3 §5.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { px } from '../../geometry/rect.ts';
import { beforeStart } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { boxName } from '../../visibility/visibility.ts';
import { stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Px below which nobody sees it. */
const LEAST = 4;

/** So many line breaks one after another make lines that are there for their room alone. */
const BREAKS = 2;

/** Lines of line breaks between two blocks. */
function breaks(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const children = flowContents(analysis, container);
  if (!children || children.length < 2) {
    stopsByGeometry(analysis, container, 'it does not hold two boxes or more, or holds text beside them');
    return [];
  }
  const isBlock = (element: number | undefined): element is number =>
    element !== undefined && /^(block|list-item|table)$/.test(tree.kinds[element]!);
  const out: Observed[] = [];
  for (let n = 0; n < children.length; n++) {
    let end = n;
    while (end < children.length && tagOf(tree.reading, children[end]!) === 'br') end++;
    const [before, after] = [children[n - 1], children[end]];
    if (end - n >= BREAKS && isBlock(before) && isBlock(after)) {
      const [above, below] = [laidAreas(tree, before), laidAreas(tree, after)];
      const by = below.rect.y - below.margin.top - above.rect.y - above.rect.height - above.margin.bottom;
      if (by >= LEAST)
        out.push(
          observed({
            px: by,
            axis: 'y',
            subject: children[n]!,
            other: container,
            what: `${end - n} line breaks take ${px(by)} px of height between ${boxName(analysis, before)} and ${boxName(analysis, after)}`,
            places: children.slice(n, end),
            boxes: children.slice(n, end),
            weight: 8 + by / 4,
          }),
        );
    }
    n = Math.max(n, end - 1);
  }
  return out;
}

export const rule: Rule<'gap/line-breaks'> = {
  id: 'gap/line-breaks',
  kind: 'gap',
  title: 'Line breaks make room between blocks',
  spec: ['CSS Text 3 §5.1'],
  why: 'Two `br` or more between blocks make lines that are there for their room alone.',
  usual: 'Use a margin in their place.',
  example: `<section><p>before</p><br><br><p>after</p></section>`,
  observe: inFlowContainers(breaks),
  drawn: beforeStart,
};
