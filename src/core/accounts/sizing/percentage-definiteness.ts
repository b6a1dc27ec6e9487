/**
 * Whether a box has a height that percentages can be taken of, and by which rule: a ladder from the box to the viewport
 * (CSS 2.2 §10.5; Sizing 3 §5.2.1; Flexbox 1 §9.8; Grid 2 §6.6; Tables 3 §3.9; Quirks Mode §3.5).
 */
import type { Analysis } from '../../analysis.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { boxAbove, isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { usedText } from '../../boxes/tree.ts';
import type { Axis } from '../../geometry/rect.ts';
import { type Source } from '../../css/cascade/styles.ts';
import { declaredOf } from './declared.ts';

export interface Rung {
  /** −1: the viewport. */
  element: number;
  label: string;
  definite: boolean;
  /** The declared height, as written; empty for the viewport. */
  value: string;
  rule: string;
  source: Source | null;
}

const AUTO =
  /^(auto|initial|unset|revert|(min|max)-content|fit-content.*|-webkit-(min|max)-content|-webkit-fit-content)$/i;
export const isAuto = (value: string): boolean => AUTO.test(value);
export const hasPercent = (value: string): boolean => /%/.test(value);
const STRETCH = /^(stretch|-webkit-fill-available)$/i;

/** Whether a value of `align-self` stretches an item (Box Alignment 3 §6.1). */
export const isStretch = (align: string): boolean => /^(stretch|normal|auto|)$/.test(align);

/** How a flex item's cross axis is aligned: its own word, or its container's (Flexbox 1 §8.3). */
export function alignSelf(analysis: Analysis, element: number): string {
  const { reading, tree } = analysis;
  const text = usedText(reading, 'align-self', element);
  return text === 'auto' || text === '' ? usedText(reading, 'align-items', boxAbove(tree, element)) : text;
}

/** The rung of one box; what it says of boxes further up is their own rungs' business. */
function rungOf(analysis: Analysis, element: number): Rung & { goesUp: boolean } {
  const { reading, tree } = analysis;
  const base = { element, label: labelOf(reading, element) };
  const declared = declaredOf(analysis, element, 'height');
  const { value } = declared;
  const auto = isAuto(value);
  const source = auto ? null : declared.source;
  const kind = tree.kinds[element]!;
  const result = (definite: boolean, rule: string, goesUp = false) => ({
    ...base,
    definite,
    rule,
    value,
    source,
    goesUp,
  });
  if (!auto && !hasPercent(value) && !STRETCH.test(value)) return result(true, `height: ${value} is a length`);
  const positioned = kind === 'absolute' || kind === 'fixed';
  if (!auto && positioned)
    return result(
      true,
      `${value} of its containing block’s padding box, whose height is known by then (CSS 2.2 §10.5)`,
    );
  const above = boxAbove(tree, element);
  if (kind === 'grid-item') {
    if (!auto) return result(true, `${value} of its grid area (Grid 2 §6.6)`);
    const align = usedText(reading, 'align-self', element);
    const word = align === 'auto' || align === '' ? usedText(reading, 'align-items', above) : align;
    return isStretch(word)
      ? result(true, 'it is stretched to its grid area (Grid 2 §6.6)')
      : result(false, `height is auto, and align-self ${word} keeps it from being stretched`);
  }
  if (!auto) return result(true, `${value} of the height of what it lies in`, true);
  if (positioned) {
    const inset = (side: string) =>
      usedText(reading, side, element) !== 'auto' && isSet(analysis, element, side);
    return inset('top') && inset('bottom')
      ? result(true, 'top and bottom are both set, so its height is known (CSS 2.2 §10.6.4)')
      : result(false, 'height is auto, and top and bottom do not both set it');
  }
  const ratio = usedText(reading, 'aspect-ratio', element);
  if (ratio !== '' && ratio !== 'auto')
    return result(true, `aspect-ratio ${ratio} gives it a height from its width`);
  if (kind === 'flex-item') {
    const column = isMainAxisVertical(analysis, above);
    const align = alignSelf(analysis, element);
    if (column) return result(true, 'its height is what the column of flex items gives it', true);
    if (!isStretch(align))
      return result(false, `height is auto, and align-self ${align} keeps it from being stretched`);
    return result(true, 'it is stretched to its flex line, whose height is known by then (Flexbox 1 §9.8)');
  }
  if (kind === 'table-cell') {
    const table = closest(analysis, element, 'table');
    const row = closest(analysis, element, 'table-row');
    for (const at of [row, table])
      if (at >= 0 && !isAuto(declaredOf(analysis, at, 'height').value))
        return result(true, `${labelOf(reading, at)} has a height, so its cells have one (Tables 3 §3.9)`);
    return result(false, 'no height is declared on the cell, its row or its table');
  }
  const minimum = declaredOf(analysis, element, 'min-height').value;
  const counts = /^(auto|initial|0(px|%)?)$/i.test(minimum) ? '' : ` (min-height ${minimum} does not count)`;
  if (reading.document.mode === 'quirks' && /^(html|body)$/.test(tagOf(reading, element)))
    return result(true, 'in quirks mode html and body fill the viewport (Quirks Mode §3.6, §3.7)');
  return result(false, `its height is auto${counts}`);
}

function isSet(analysis: Analysis, element: number, side: string): boolean {
  return !/^(auto|initial)$/i.test(declaredOf(analysis, element, side).value);
}

function closest({ tree, reading }: Analysis, element: number, kind: string): number {
  let at = reading.parent[element]!;
  while (at >= 0 && tree.kinds[at] !== kind) at = reading.parent[at]!;
  return at;
}

/** The box whose height the rung above stands for: the containing block, or in quirks mode the next that is not auto. */
function next(analysis: Analysis, element: number): number {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (kind === 'flex-item') return boxAbove(tree, element);
  let at = tree.containingBlock[element]!;
  if (reading.document.mode !== 'quirks') return at;
  while (at >= 0) {
    const kind = tree.kinds[at]!;
    const skips = kind === 'block' || kind === 'list-item';
    if (!skips || tagOf(reading, at) === 'body' || !isAuto(declaredOf(analysis, at, 'height').value)) break;
    at = tree.containingBlock[at]!;
  }
  return at;
}

const VIEWPORT: Rung = {
  element: -1,
  label: 'the viewport',
  definite: true,
  value: '',
  rule: 'the initial containing block has the height of the viewport (CSS 2.2 §10.1)',
  source: null,
};

/** From the box itself upwards. The last rung is the one that settles it: one with a height, or the one that breaks. */
export function heightLadder(analysis: Analysis, element: number): Rung[] {
  const out: Rung[] = [];
  let at = element;
  for (;;) {
    if (at < 0) {
      out.push(VIEWPORT);
      return out;
    }
    const { goesUp, ...rung } = rungOf(analysis, at);
    out.push(rung);
    if (!rung.definite || !goesUp) return out;
    at = next(analysis, at);
  }
}

/** Whether percentages of this box's height mean something; −1 is the viewport. */
export function hasDefiniteHeight(analysis: Analysis, element: number): boolean {
  return element < 0 || (heightLadder(analysis, element).at(-1)?.definite ?? false);
}

/** The box that a percentage height of this one is taken of, and whether it has a height at all. */
export function heightBasis(analysis: Analysis, element: number): { element: number; definite: boolean } {
  const { tree } = analysis;
  const kind = tree.kinds[element]!;
  if (kind === 'absolute' || kind === 'fixed' || kind === 'grid-item')
    return { element: tree.containingBlock[element]!, definite: true };
  const at = next(analysis, element);
  return { element: at, definite: hasDefiniteHeight(analysis, at) };
}

/** Whether a percentage of a box's size on an axis is taken of nothing: then it counts as auto, or as none. */
export function isIndefinite(analysis: Analysis, element: number, axis: Axis, value: string): boolean {
  if (!hasPercent(value)) return false;
  const block = analysis.tree.containingBlock[element]!;
  const vertical = block >= 0 && flowSides(analysis.reading, block).block === 'x';
  if (!vertical) return axis === 'y' && !heightBasis(analysis, element).definite;
  const kind = analysis.tree.kinds[element]!;
  if (axis === 'y' || kind === 'absolute' || kind === 'fixed' || kind === 'grid-item') return false;
  const text = declaredOf(analysis, block, 'width').value;
  return isAuto(text) || isIndefinite(analysis, block, axis, text);
}

/** The ladder in one sentence: where it breaks, or what it comes to. */
export function ladderSentence(rungs: Rung[]): string {
  const first = rungs[0]!;
  const last = rungs.at(-1)!;
  const broken = !last.definite;
  if (!broken) {
    const up = rungs.slice(1).map(({ label }) => label);
    return up.length > 0
      ? `height: ${first.value} holds: its ladder reaches ${last.label}.`
      : `${first.label} has a height: ${first.rule}.`;
  }
  const block = rungs[1];
  if (!block) return `${first.label} has no height of its own: ${first.rule}.`;
  const chain = rungs.length > 2 ? `; the chain breaks at ${last.label} (${last.rule})` : `: ${last.rule}`;
  return `height ${first.value} is ignored: its containing block ${block.label} has no height of its own${chain}.`;
}
