/** Distances between what follows what in a block container, and from its content edges to the first and last. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { relativeOffset, relativeShift } from '../../boxes/line-boxes.ts';
import { ahead, edgeOf, sizeOf, type FlowSides } from '../../geometry/writing-modes.ts';
import { frames, hasBox, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { px, same, type Axis } from '../../geometry/rect.ts';
import { betweenTerms, autoBlockSize, floatsContained, itemTerms } from '../sizing/auto-block-size.ts';
import { declaredOf } from '../sizing/declared.ts';
import { blockFlowOf, type BlockFlow } from './margins.ts';
import { lengthTerm, once } from '../model/term-builders.ts';
import { account, sumOf, term, type Account, type Lost, type Term } from '../model/term.ts';

export interface Gap extends Account {
  axis: Axis;
  container: number;
  /** The box before and after; null: the container's content edge. */
  before: number | null;
  after: number | null;
  /** Why the margins at the container's edge stay in it, or that they leave it. */
  edge: string | null;
}

/** Gaps of one block container down its block axis; none where it holds no blocks. */
export function gapsOf(analysis: Analysis, container: number): Gap[] {
  return once(analysis, `gaps ${container}`, () => {
    const { tree } = analysis;
    if (!hasBox(tree, container) || tree.kinds[container] === 'inline' || layoutOf(tree, container) !== 'flow')
      return [];
    const blockFlow = blockFlowOf(analysis, container);
    if (!blockFlow.items.some(({ what }) => what === 'block')) return [];
    return makeGaps(analysis, blockFlow);
  });
}

function makeGaps(analysis: Analysis, blockFlow: BlockFlow): Gap[] {
  const { container, sides, items } = blockFlow;
  const out: Gap[] = [];
  let before: number | null = null;
  let terms: Term[] = [...shiftTerms(analysis, blockFlow)];
  let lost: Lost[] = [];
  for (const between of blockFlow.betweens) {
    const content = betweenTerms(analysis, blockFlow, between);
    terms.push(...content.terms);
    lost.push(...content.lost);
    const item = items[between.after];
    if (item && item.what !== 'block') {
      terms.push(...itemTerms(analysis, blockFlow, between.after));
      continue;
    }
    const after = item?.what === 'block' ? item.element : null;
    if (after === null) terms.push(...restTerms(analysis, blockFlow));
    const gap = gapOf(analysis, blockFlow, before, after, terms, lost);
    if (!breaksColumn(analysis, before, after)) out.push(gap);
    before = after;
    terms = [];
    lost = [];
  }
  return out.map((gap) => ({ ...gap, axis: sides.block, container }));
}

/** Boxes in different columns of a multi-column box have no distance along the flow. */
function breaksColumn({ tree }: Analysis, before: number | null, after: number | null): boolean {
  const pieces = (element: number) => inside(tree).fragments.get(element) ?? [laidAreas(tree, element).rect];
  if (before === null) return false;
  const last = pieces(before).at(-1)!;
  if (after === null) return (inside(tree).fragments.get(tree.reading.parent[before]!)?.length ?? 0) > 1;
  const first = pieces(after)[0]!;
  return first.y + first.height <= last.y && first.x >= last.x + last.width;
}

function gapOf(
  analysis: Analysis,
  blockFlow: BlockFlow,
  before: number | null,
  after: number | null,
  terms: Term[],
  lost: Lost[],
): Gap {
  const { sides, container } = blockFlow;
  const moved = (element: number | null, sign: 1 | -1): Term[] =>
    element === null ? [] : offsetTerms(analysis, element, sides, sign);
  const all = [...terms, ...moved(before, -1), ...moved(after, 1)];
  const used = distance(analysis, blockFlow, before, after);
  const plain = distance(analysis, blockFlow, before, after, true);
  if (Math.abs(used - plain) > 0.005)
    all.push(
      term({
        px: used - plain,
        what: 'transform',
        rule: 'transform',
        box: after ?? before ?? container,
        note: `${px(plain)} in layout, painted ${px(used)} apart`,
      }),
    );
  const stop = before === null ? blockFlow.startStop : after === null ? blockFlow.endStop : null;
  const edge = before !== null && after !== null ? null : (stop ?? 'margins pass through this edge');
  return { ...account(used, all, lost), axis: sides.block, container, before, after, edge };
}

/** Distance along the block axis; `plain`: as laid out, transforms undone. */
function distance(
  analysis: Analysis,
  { container, sides }: BlockFlow,
  before: number | null,
  after: number | null,
  plain = false,
): number {
  const { tree, reading } = analysis;
  const rect = (element: number) => (plain ? laidAreas(tree, element).rect : rectOf(reading, element));
  const areas = laidAreas(tree, container);
  const scale =
    plain || !frames(tree).has(container)
      ? 1
      : sizeOf(rectOf(reading, container), sides.block) / (sizeOf(areas.rect, sides.block) || 1);
  const inner = (side: 'blockStart' | 'blockEnd') => {
    const whole = rect(container);
    const room = areas.border[sides[side]] + areas.padding[sides[side]] + areas.scrollbar[sides[side]];
    const inwards = side === 'blockStart' ? 1 : -1;
    return ahead(sides.blockStart, 0, edgeOf(whole, sides[side])) + inwards * room * scale;
  };
  const from =
    before === null ? inner('blockStart') : ahead(sides.blockStart, 0, edgeOf(rect(before), sides.blockEnd));
  const to =
    after === null ? inner('blockEnd') : ahead(sides.blockStart, 0, edgeOf(rect(after), sides.blockStart));
  return to - from;
}

/** What `position: relative` adds to a distance. */
export function offsetTerms(analysis: Analysis, element: number, sides: FlowSides, sign: 1 | -1): Term[] {
  const offset = relativeOffset(analysis.tree, element, sides);
  if (offset === 0) return [];
  const side = relativeShift(analysis.tree, element, sides.block).side ?? sides.blockStart;
  const term = lengthTerm(analysis, element, side, offset * sign, 'offset');
  term.rule = 'relative';
  term.causes = (term.causes ?? []).map((cause) => ({
    ...cause,
    rate: cause.rate * sign * (side === sides.blockStart ? 1 : -1),
  }));
  term.note = `position: relative moves ${labelOf(analysis.reading, element)} by ${px(offset)}; nothing else makes room for it`;
  return [term];
}

/** How far the content of a cell or a button lies from its start: in the middle or at the end of what is free. */
export function shiftTerms(analysis: Analysis, { container, sides }: BlockFlow): Term[] {
  const free = freeIn(analysis, container, sides);
  if (free < 0.05) return [];
  const { tree, reading } = analysis;
  const align = usedText(reading, 'vertical-align', container);
  const isButton = tagOf(reading, container) === 'button';
  if (tree.kinds[container] !== 'table-cell' && !isButton) return [];
  const part = isButton || align === 'middle' ? 0.5 : align === 'bottom' ? 1 : 0;
  if (part === 0) return [];
  return [
    term({
      px: Math.floor(free * part * 64) / 64,
      what: 'free',
      rule: 'aligned',
      box: container,
      source: declaredOf(analysis, container, 'vertical-align').source,
      note: isButton
        ? `half of the ${px(free)} that its text leaves`
        : `vertical-align ${align}: ${px(free * part)} of the ${px(free)} that its content leaves`,
    }),
  ];
}

/** Room along the block axis that a box has beyond what is in it. */
function freeIn(analysis: Analysis, container: number, sides: FlowSides): number {
  const size = sizeOf(laidAreas(analysis.tree, container).content, sides.block);
  return size - sumOf(autoBlockSize(analysis, container).terms);
}

/** What lies below the last box: floats that are contained, and what a size from elsewhere leaves. */
function restTerms(analysis: Analysis, blockFlow: BlockFlow): Term[] {
  const { container, sides } = blockFlow;
  const floats = floatsContained(analysis, blockFlow);
  const free = freeIn(analysis, container, sides);
  if (same(free, 0)) return floats;
  const size = sizeOf(laidAreas(analysis.tree, container).content, sides.block);
  const name = labelOf(analysis.reading, container);
  const inner = size - free;
  const shift = sumOf(shiftTerms(analysis, blockFlow));
  return [
    ...floats,
    term({
      px: size,
      what: 'container',
      rule: 'room',
      box: container,
      note: `content box of ${name}, which does not have its size from this`,
      links: [{ box: container, axis: sides.block, area: 'content', rate: 1 }],
    }),
    term({
      px: -inner - shift,
      what: 'content',
      rule: 'in-flow',
      box: container,
      note: `what is in it, with the margins between`,
    }),
  ];
}
