/** Margins that leave their box. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { hasGround, name, tagOf } from '../../visibility/visibility.ts';
import { contents } from '../../visibility/flow-contents.ts';

/** A margin that leaves its box at the start, where the box has a ground of its own to be seen (CSS 2.2 §8.3.1). */
export function escaped(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  if (!hasGround(analysis, container)) return [];
  const own = contents(analysis, container);
  if (!own || own.length === 0 || /^(html|body)$/.test(tagOf(tree, container))) return [];
  const areas = laidAreas(tree, container);
  const ground = (one: number) => usedText(reading, 'background-color', one);
  const parent = reading.parent[container]!;
  if (parent >= 0 && ground(parent) === ground(container)) return [];
  const out: Suspect[] = [];
  for (const [child, side] of [
    [own[0]!, 'top'],
    [own.at(-1)!, 'bottom'],
  ] as const) {
    const { rect, margin } = laidAreas(tree, child);
    const flush =
      side === 'top' ? rect.y - areas.content.y : areas.content.y + areas.content.height - rect.y - rect.height;
    if (margin[side] < 4 || Math.abs(flush) > 0.5 || areas.padding[side] > 0 || areas.border[side] > 0)
      continue;
    if (/flex-item|grid-item|float|inline-block|table-cell|absolute|fixed/.test(tree.kinds[container]!))
      continue;
    if (!/^(block|list-item)$/.test(usedText(reading, 'display', child)) || areas.margin[side] >= margin[side])
      continue;
    out.push(
      suspect({
        kind: 'gap',
        px: margin[side] - Math.max(0, areas.margin[side]),
        axis: 'y',
        subject: container,
        other: child,
        what: `The ${side} margin of ${name(analysis, child)}, ${px(margin[side])} px, lies outside of ${name(analysis, container)}, whose ground ends without it`,
        form: `escaped-${side}`,
        boxes: [child, container],
        weight: 12 + margin[side] / 2,
      }),
    );
  }
  return out;
}
