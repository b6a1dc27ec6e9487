/** Boxes that reach into the padding at the end of what holds them, for they are wider than its content (CSS 2.2 §10.3.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import {
  boxName,
  hasBackground,
  isReplacedOrControl,
  isTransformed,
  overflowsLeft,
} from '../../visibility/visibility.ts';
import { beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';

const LEAST = 2;

function intoPadding(analysis: Analysis): Observed[] {
  const { tree, reading, styles } = analysis;
  const out: Observed[] = [];
  for (const i of new Set([
    ...declaring(styles, 'width', tree.count),
    ...declaring(styles, 'min-width', tree.count),
  ])) {
    const parent = reading.parent[i]!;
    if (parent < 0 || isUnseen(analysis, i)) continue;
    const isInFlow =
      /^(block|list-item|inline-block|inline-replaced|replaced|flex-item|grid-item|float|table)$/.test(
        tree.kinds[i]!,
      );
    if (stopsByGeometry(analysis, i, !isInFlow && 'it is a part of a line or a table, or is positioned'))
      continue;
    const isMoved = isTransformed(analysis, i) || usedText(reading, 'position', i) !== 'static';
    if (stopsByGeometry(analysis, i, isMoved && 'it is moved')) continue;
    const { rect, margin, border, padding } = laidAreas(tree, i);
    const around = laidAreas(tree, parent);
    const side = overflowsLeft(analysis, parent) ? 'left' : 'right';
    const by =
      side === 'right'
        ? rect.x + rect.width - around.content.x - around.content.width
        : around.content.x - rect.x;
    const room = around.padding[side] + around.border[side];
    const isInto = by >= LEAST && by <= room + 0.5 && margin[side] >= -0.5 && margin.left >= -0.5;
    if (
      stopsByGeometry(
        analysis,
        i,
        !isInto && 'it ends within the content of what holds it, or beyond its padding',
      )
    )
      continue;
    const isSeen =
      hasBackground(analysis, i) ||
      border.left + border.right + border.top + border.bottom > 0 ||
      isReplacedOrControl(tree, i);
    if (stopsByVisibility(analysis, i, !isSeen && 'it has no ground or border to be seen by')) continue;
    const edges = padding.left + padding.right + border.left + border.right;
    const width = authorDeclaration(analysis, i, 'width');
    const isWhole = width !== null && /^100(%|vw)$|^stretch$/.test(width.value);
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: i,
        other: parent,
        what: `${boxName(analysis, i)} reaches ${px(by)} px into the padding at the ${side} of ${boxName(analysis, parent)}`,
        evidence: facts([
          'edges-come-on-top-of-all',
          isWhole &&
            edges >= by - 0.5 &&
            `Its width is ${width.value}, and its padding and border come on top of that`,
        ]),
        boxes: [i],
        weight: 40 + by * 2,
      }),
    );
  }
  return out;
}

export const rule: Rule<'overflow/into-padding'> = {
  id: 'overflow/into-padding',
  // It sticks out of nothing: it is larger than its room.
  kind: 'size',
  title: 'A box reaches into the padding of what holds it',
  spec: ['CSS 2.2 §10.3.3', 'CSS Sizing 3 §3.3'],
  why: 'A width of the whole container, with padding and border on top of it, or a minimum, is more than the content of the container.',
  usual: 'Count padding and border in: `box-sizing: border-box`.',
  example: `<style>form { width: 300px; padding: 20px; background: linen } textarea { width: 100%; padding: 6px; box-sizing: content-box }</style><form><textarea></textarea></form>`,
  observe: intoPadding,
  drawn: beforeEnd,
};
