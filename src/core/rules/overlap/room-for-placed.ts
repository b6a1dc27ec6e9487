/** The padding that should leave room for what is placed in a box, and takes no room in its flow (CSS Positioned Layout 3 §4). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf } from '../../boxes/tree.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Axis, type Rect, px } from '../../geometry/rect.ts';
import { inUnit } from '../../trials/side-edits.ts';
import { boxName, isSelfOrAncestor } from '../../visibility/visibility.ts';
import { fix, suspect } from '../suspects.ts';

/** CSS px left between what is placed and what stands beside it. */
const BESIDE = 4;

/** `name`: of what is placed, which lies at `placed`. The side is that at which it lies; null: it reaches over more than half. */
export function roomForPlaced(
  analysis: Analysis,
  block: number,
  placed: Rect,
  name: string,
  axis: Axis,
): Suspect | null {
  const { rect, border, padding } = laidAreas(analysis.tree, block);
  const fromStart =
    axis === 'x'
      ? placed.x + placed.width - rect.x - border.left
      : placed.y + placed.height - rect.y - border.top;
  const fromEnd =
    axis === 'x'
      ? rect.x + rect.width - border.right - placed.x
      : rect.y + rect.height - border.bottom - placed.y;
  const isAtStart = fromStart <= fromEnd;
  const needed = Math.min(fromStart, fromEnd);
  if (needed <= 0 || needed > (axis === 'x' ? rect.width : rect.height) / 2) return null;
  const side = axis === 'x' ? (isAtStart ? 'left' : 'right') : isAtStart ? 'top' : 'bottom';
  const property = `padding-${side}`;
  const declaration = authorDeclaration(analysis, block, property);
  const room = Math.ceil(needed + BESIDE);
  const exact = declaration?.owner === block ? inUnit(declaration.value, padding[side], room) : `${room}px`;
  // In steps that somebody would write.
  const value = exact.replace(/^[\d.]+/, (number) => String(Math.ceil(Number(number) * 20) / 20));
  return suspect(
    analysis,
    block,
    property,
    `${name} takes ${px(needed)} px at that side of ${boxName(analysis, block)}, and the padding there is ${px(padding[side])} px`,
    [fix('leave it its room', block, property, value, 106)],
  );
}

/** What is placed by hand in the box that holds the text it lies over, outside of what is placed itself. */
export const suspectsOfPlaced = (analysis: Analysis, { boxes, other, axis }: Observation): Suspect[] =>
  boxes.flatMap((placed) => {
    const { tree, reading } = analysis;
    const block = tree.containingBlock[placed]!;
    if (tree.kinds[placed] !== 'absolute' || block < 0) return [];
    const isOverText = [...boxes, ...(other === null ? [] : [other])].some(
      (at) => !isSelfOrAncestor(analysis, placed, at) && at !== block && isSelfOrAncestor(analysis, block, at),
    );
    // Text of the block itself lies in no box within it.
    const isOverOwn = boxes.includes(block) || other === block;
    if (!isOverText && !isOverOwn) return [];
    return roomForPlaced(analysis, block, rectOf(reading, placed), boxName(analysis, placed), axis) ?? [];
  });
