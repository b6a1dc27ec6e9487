/**
 * Heights as they are while those around them are still being worked out: percentages of a height count as auto
 * (Sizing 3 §5.2.1; Flexbox 1 §9.4; Grid 2 §12.5). What is stretched afterwards has its percentages taken anew.
 */
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { labelOf } from '../../reading/labels.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { childrenOf, hasBox } from '../../boxes/tree.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { sidesOf, type Axis } from '../../geometry/rect.ts';
import { betweenTerms, autoBlockSize, floatsContained, itemTerms } from './auto-block-size.ts';
import { declaredOf } from './declared.ts';
import { flexOf } from '../flex/flex-lines.ts';
import { gapTerm } from '../flex/flex.ts';
import { alignSelf, hasPercent, isAuto, isIndefinite, isStretch } from './percentage-definiteness.ts';
import { blockFlowOf } from '../block/margins.ts';
import { around, boxTerm, marginTerms, once } from '../model/term-builders.ts';
import { declaredTerms } from './size.ts';
import { sumOf, type Term } from '../model/term.ts';

const BOUNDS = ['height', 'min-height', 'max-height'];

const asksPercent = (analysis: Analysis, element: number): boolean =>
  BOUNDS.some((property) => hasPercent(declaredOf(analysis, element, property).value));

/** Whether something in a box takes a percentage of the box's own height. */
function holdsPercent(analysis: Analysis, element: number): boolean {
  return once(analysis, `percent in ${element}`, () =>
    childrenOf(analysis.tree, element).some((child) => {
      const { tree } = analysis;
      if (!hasBox(tree, child) || tree.kinds[child] === 'absolute' || tree.kinds[child] === 'fixed')
        return false;
      if (asksPercent(analysis, child)) return true;
      // Only what is stretched hands a height on that it does not have itself.
      const handsOn = layoutOf(tree, element) === 'flex' && isAuto(declaredOf(analysis, child, 'height').value);
      return handsOn && holdsPercent(analysis, child);
    }),
  );
}

/** Height of what is in a box, percentages of its height taken as auto. */
export function indefiniteContentHeight(analysis: Analysis, element: number): Term[] {
  const { tree, reading } = analysis;
  const previous = () => autoBlockSize(analysis, element).terms;
  if (flowSides(reading, element).block !== 'y' || !holdsPercent(analysis, element)) return previous();
  const layout = layoutOf(tree, element);
  if (layout === 'flow') {
    const blockFlow = blockFlowOf(analysis, element);
    const out: Term[] = [];
    for (const between of blockFlow.betweens) {
      out.push(...betweenTerms(analysis, blockFlow, between).terms);
      const item = blockFlow.items[between.after];
      out.push(
        ...(item?.what === 'block'
          ? unresolvedChild(analysis, item.element)
          : itemTerms(analysis, blockFlow, between.after)),
      );
    }
    return [...out, ...floatsContained(analysis, blockFlow, out)];
  }
  if (layout !== 'flex') return previous();
  const box = flexOf(analysis, element);
  const outer = (item: { element: number; base: Term[]; across: Term[] }): Term[] =>
    item.element < 0
      ? box.main === 'y'
        ? item.base
        : item.across
      : [
          ...unresolvedChild(analysis, item.element),
          ...sidesOf('y').flatMap((side) => marginTerms(analysis, item.element, side, 1)),
        ];
  if (box.main === 'y') {
    const items = box.lines[0]?.items ?? [];
    const gaps =
      box.gap && items.length > 1 ? [gapTerm(analysis, box, box.gap, items.length - 1, 1, true)] : [];
    return [...items.flatMap(outer), ...gaps];
  }
  const gaps =
    box.crossGap && box.lines.length > 1
      ? [gapTerm(analysis, box, box.crossGap, box.lines.length - 1, 1, false)]
      : [];
  const tallest = box.lines.flatMap(({ items }) =>
    items.map(outer).reduce<Term[]>((best, entry) => (sumOf(entry) > sumOf(best) ? entry : best), []),
  );
  return [...tallest, ...gaps];
}

/** The border box of something in a box whose height is not known yet. */
function unresolvedChild(analysis: Analysis, element: number): Term[] {
  const { tree, reading } = analysis;
  const { value } = declaredOf(analysis, element, 'height');
  const size = laidAreas(tree, element).rect.height;
  const stays =
    isReplaced(reading, element) ||
    (!isAuto(value) && !hasPercent(value)) ||
    !(asksPercent(analysis, element) || holdsPercent(analysis, element) || isStretched(analysis, element));
  if (stays)
    return size === 0 ? [] : [boxTerm(element, 'y', size, 'child', 'in-flow', labelOf(reading, element))];
  const contentTerms = around(analysis, element, 'y', indefiniteContentHeight(analysis, element));
  return atLeast(analysis, element, 'y', contentTerms, (bound) => !hasPercent(bound));
}

const isStretched = (analysis: Analysis, element: number): boolean =>
  analysis.tree.kinds[element] === 'flex-item' && isStretch(alignSelf(analysis, element));

/** Terms of a border box, or those of the minimum or maximum that is in force; percentages count where they are of something. */
export function atLeast(
  analysis: Analysis,
  element: number,
  axis: Axis,
  own: Term[],
  isOf = (value: string) => !isIndefinite(analysis, element, axis, value),
): Term[] {
  const bound = (which: 'min' | 'max'): Term[] | null => {
    const property = `${which}-${axis === 'x' ? 'width' : 'height'}`;
    const { value } = declaredOf(analysis, element, property);
    return /^(none|auto|initial|0(px)?)$/i.test(value) || !/\d/.test(value) || !isOf(value)
      ? null
      : declaredTerms(analysis, element, axis, property);
  };
  const [least, most] = [bound('min'), bound('max')];
  const limited = most && sumOf(own) > sumOf(most) ? most : own;
  return least && sumOf(limited) < sumOf(least) ? least : limited;
}
