/** Lines that hang out of a box of fixed height, over what comes next. */
import type { Analysis } from '../../analysis.ts';
import { px } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { hangings } from '../overflow/line-overflow.ts';
import { name, upward } from '../../visibility/visibility.ts';
import { meantBy } from '../../evidence/overlap-intent.ts';

/** Lines that hang out below a box of fixed height, into what comes next; the text beside a float goes around it. */
export function overhangs(analysis: Analysis): Suspect[] {
  return hangings(analysis).flatMap(({ box, deep, by, float, next }) =>
    next === null || float >= 0
      ? []
      : [
          suspect({
            kind: 'overlap',
            px: by,
            axis: 'y',
            subject: box,
            other: next,
            form: 'hangs',
            what: `What is in ${name(analysis, box)} hangs ${px(by)} px out of it, over ${name(analysis, next)}`,
            meant: meantBy(analysis, box, next, deep, next),
            boxes: [
              ...upward(analysis, deep, analysis.reading.parent[box]!).reverse(),
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
