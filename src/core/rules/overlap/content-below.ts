/** Lines that hang out of a box of fixed height, over what comes next (CSS 2.2 §10.6.3). */
import { columnMinimum } from '../overflow/column-minimum.ts';
import type { Analysis } from '../../analysis.ts';
import { overlapIntent } from '../../evidence/overlap-intent.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { hangings } from '../overflow/line-overflow.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';

/** Lines that hang out below a box of fixed height, into what comes next; the text beside a float goes around it. */
function overhangs(analysis: Analysis): Observed[] {
  return hangings(analysis).flatMap(({ box, deep, by, float, next }) =>
    next === null || float >= 0
      ? []
      : [
          observed({
            px: by,
            axis: 'y',
            subject: box,
            other: next,
            what: `What is in ${boxName(analysis, box)} hangs ${px(by)} px out of it, over ${boxName(analysis, next)}`,
            evidence: overlapIntent(analysis, box, next, deep, next),
            boxes: [
              ...selfAndAncestors(analysis, deep, analysis.reading.parent[box]!).reverse(),
              ...rowsOf(analysis, box),
            ],
            weight: 120 + by,
          }),
        ],
  );
}

/** The grid whose rows a box is an item of. */
const rowsOf = ({ tree, reading }: Analysis, box: number): number[] =>
  tree.kinds[box] === 'grid-item' ? [reading.parent[box]!] : [];

export const rule: Rule<'overlap/content-below'> = {
  id: 'overlap/content-below',
  kind: 'overlap',
  title: 'Content hangs out of its box, over what comes next',
  spec: ['CSS 2.2 §10.6.3'],
  why: 'A height or a maximum is smaller than what is in the box, and what comes next begins where the box ends.',
  usual: 'Let the box be as tall as what is in it: `min-height` in the place of `height`.',
  example: `<style>.card { height: 24px; width: 150px; background: linen }</style><div class="card">More words than there is room for in a box of this height</div><p>What comes next</p>`,
  observe: overhangs,
  suspects: columnMinimum,
  drawn: afterEnd,
};
