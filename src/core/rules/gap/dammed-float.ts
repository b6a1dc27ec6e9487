/** Floats that a taller one before them keeps from the start of their row (CSS 2.2 §9.5.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { isSameSort, itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

/** CSS px of an empty place from which on it is seen. */
const LEAST = 24;

function dammed(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const floats = itemsOf(analysis, container).filter((child) => tree.kinds[child] === 'float');
  if (stopsByGeometry(analysis, container, floats.length < 3 && 'fewer than three floats stand in it'))
    return [];
  const isRight = /right|inline-end/.test(usedText(reading, 'float', floats[0]!));
  const { content } = laidAreas(tree, container);
  const outer = floats.map((element) => {
    const { rect, margin } = laidAreas(tree, element);
    const [left, right] = [rect.x - margin.left, rect.x + rect.width + margin.right];
    return {
      element,
      /** From the side to which they float. */
      start: isRight ? content.x + content.width - right : left - content.x,
      end: isRight ? content.x + content.width - left : right - content.x,
      top: rect.y - margin.top,
      bottom: rect.y + rect.height + margin.bottom,
    };
  });
  for (const [n, at] of outer.entries()) {
    const before = outer[n - 1];
    // The first of a row that does not begin where rows begin, for one of a row above reaches down beside it.
    if (!before || at.top <= before.top + 1 || at.start < LEAST) continue;
    const dam = outer
      .slice(0, n)
      .find((other) => other.bottom > at.top + 0.5 && Math.abs(other.end - at.start) < 1.5);
    if (!dam) continue;
    const isAlike = isSameSort(analysis, at.element, dam.element);
    return [
      observed({
        px: at.start,
        axis: 'x',
        subject: at.element,
        other: dam.element,
        what: `${boxName(analysis, at.element)} stands ${px(at.start)} px in from where its row begins: ${boxName(analysis, dam.element)} before it is ${px(dam.bottom - at.top)} px too tall to let it pass`,
        evidence: facts(
          ['unlike-its-sort', isAlike && 'Boxes of its sort begin their rows at the edge'],
          [
            'of-another-sort',
            !isAlike && `${boxName(analysis, dam.element)} is of another sort: a column of its own`,
          ],
        ),
        places: [at.element, dam.element],
        boxes: [at.element, dam.element, container],
        weight: 60 + at.start / 4,
      }),
    ];
  }
  return [];
}

export const rule: Rule<'gap/dammed-float'> = {
  id: 'gap/dammed-float',
  kind: 'gap',
  title: 'A float is kept from the start of its row',
  spec: ['CSS 2.2 §9.5.1'],
  why: 'A float goes as high and as far to its side as it can, and no higher than those before it: a taller one stands in its way.',
  usual: 'Lay the container out as a flex container that wraps, or as a grid.',
  example: `<style>section { width: 330px } div { float: left; width: 100px; height: 60px; background: tan } .tall { height: 80px }</style><section><div class="tall">1</div><div>2</div><div>3</div><div>4</div></section>`,
  observe: inContainers(dammed),
  suspects: (analysis, { subject }) => {
    const parent = analysis.reading.parent[subject]!;
    const because = `${boxName(analysis, subject)} floats, and a float is stopped by a taller one before it`;
    return [
      suspect(analysis, subject, 'float', because, [
        {
          words: 'let the container lay them out in rows',
          puts: [
            { element: parent, property: 'display', value: 'flex' },
            { element: parent, property: 'flex-wrap', value: 'wrap' },
          ],
          rank: 104,
        },
        fix(
          'let it begin a row of its own',
          subject,
          'clear',
          /right|end/.test(usedText(analysis.reading, 'float', subject)) ? 'right' : 'left',
          96,
        ),
      ]),
    ];
  },
  drawn: beforeStart,
};
