/** Margins that leave their box (CSS 2.2 §8.3.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd, beforeStart } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { hasBackground, boxName } from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** A margin that leaves its box at the start, where the box has a ground of its own to be seen (CSS 2.2 §8.3.1). */
function escaped(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  if (
    stopsByVisibility(
      analysis,
      container,
      !hasBackground(analysis, container) && 'it has no background to show where it ends',
    )
  )
    return [];
  const children = flowContents(analysis, container);
  if (!children || children.length === 0) {
    stopsByGeometry(analysis, container, 'it holds no boxes in the flow, or text beside them');
    return [];
  }
  if (
    stopsByGeometry(
      analysis,
      container,
      /^(html|body)$/.test(tagOf(tree.reading, container)) && 'it is html or body',
    )
  )
    return [];
  const areas = laidAreas(tree, container);
  const ground = (element: number) => usedText(reading, 'background-color', element);
  const parent = reading.parent[container]!;
  const isSameGround = parent >= 0 && ground(parent) === ground(container);
  if (stopsByVisibility(analysis, container, isSameGround && 'what it lies in has the same background'))
    return [];
  const out: Observed[] = [];
  for (const [child, side] of [
    [children[0]!, 'top'],
    [children.at(-1)!, 'bottom'],
  ] as const) {
    const { rect, margin } = laidAreas(tree, child);
    const flush =
      side === 'top' ? rect.y - areas.content.y : areas.content.y + areas.content.height - rect.y - rect.height;
    const isHeld =
      margin[side] < 4 || Math.abs(flush) > 0.5 || areas.padding[side] > 0 || areas.border[side] > 0;
    if (stopsByGeometry(analysis, container, isHeld && `no ${side} margin of what is in it lies outside of it`))
      continue;
    const isRoot = /flex-item|grid-item|float|inline-block|table-cell|absolute|fixed/.test(
      tree.kinds[container]!,
    );
    if (stopsByGeometry(analysis, container, isRoot && 'no margin leaves this kind of box')) continue;
    if (
      stopsByGeometry(
        analysis,
        container,
        !/^(block|list-item)$/.test(usedText(reading, 'display', child)) && 'what is in it is no block',
      )
    )
      continue;
    if (
      stopsByGeometry(analysis, container, areas.margin[side] >= margin[side] && 'its own margin is as large')
    )
      continue;
    out.push(
      observed({
        px: margin[side] - Math.max(0, areas.margin[side]),
        axis: 'y',
        subject: container,
        other: child,
        what: `The ${side} margin of ${boxName(analysis, child)}, ${px(margin[side])} px, lies outside of ${boxName(analysis, container)}, whose ground ends without it`,
        variant: side,
        boxes: [child, container],
        weight: 12 + margin[side] / 2,
      }),
    );
  }
  return out;
}

export const rule: Rule<'gap/escaped-margin'> = {
  id: 'gap/escaped-margin',
  kind: 'gap',
  title: 'A margin lies outside of its box',
  spec: ['CSS 2.2 §8.3.1'],
  why: 'The margin of a first or last child collapses through its parent, which has no padding and no border there.',
  usual: 'Let the parent contain its margins: `display: flow-root`, or a padding.',
  example: `<style>section { background: tan } h2 { margin: 24px 0 }</style><p>before</p><section><h2>Heading</h2></section><p>after</p>`,
  observe: inFlowContainers(escaped),
  drawn: (analysis, observation) =>
    observation.variant === 'bottom' ? afterEnd(analysis, observation) : beforeStart(analysis, observation),
};
