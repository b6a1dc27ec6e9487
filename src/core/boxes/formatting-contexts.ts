/** Which boxes make formatting contexts and containing blocks for others, and why. */
import { flowSides } from '../geometry/writing-modes.ts';
import { fixedContainingBlocks, TRANSFORMS } from './fixed-containing-block.ts';
import { isReplaced } from './kinds.ts';
import { labelOf, tagOf } from '../reading/labels.ts';
import type { RawReading } from '../reading/reading.ts';
import { hasBox, usedText, type BoxTree } from './tree.ts';

const set = (value: string, ...none: string[]): boolean => value !== '' && !none.includes(value);

/** Why transforms, filters, containment and the like make a box the containing block of fixed ones too; null: they do not. */
export function holdsFixed(tree: BoxTree, element: number): string | null {
  const { reading, kinds, late } = tree;
  late.holding ??= fixedContainingBlocks(reading);
  if (kinds[element] === 'inline' || !late.holding[element]) return null;
  const text = (property: string) => usedText(reading, property, element);
  for (const property of TRANSFORMS)
    if (set(text(property), 'none')) return `${property} is not none (CSS Transforms 1 §3)`;
  const isRoot = reading.parent[element]! < 0;
  for (const property of ['filter', 'backdrop-filter'])
    if (!isRoot && set(text(property), 'none')) return `${property} is not none (Filter Effects 1 §5)`;
  const contain = text('contain');
  if (/\b(layout|paint|strict|content)\b/.test(contain)) return `contain: ${contain} (CSS Containment 2 §3)`;
  if (text('content-visibility') === 'auto') return 'content-visibility: auto (CSS Containment 2 §4)';
  const change = /\b(transform|translate|rotate|scale|perspective|filter|backdrop-filter|contain)\b/.exec(
    text('will-change'),
  )?.[1];
  return change ? `will-change: ${change} (CSS Will Change 1 §2)` : null;
}

/** Why a box is the containing block of absolutely positioned descendants; null: it is not. */
export function holdsAbsolute(tree: BoxTree, element: number): string | null {
  const position = usedText(tree.reading, 'position', element);
  if (position !== 'static' && position !== '') return `position: ${position} (CSS 2.2 §10.1)`;
  if (/\bposition\b/.test(usedText(tree.reading, 'will-change', element)) && tree.kinds[element] !== 'inline')
    return 'will-change: position (CSS Will Change 1 §2)';
  return holdsFixed(tree, element);
}

/** The containing block of every kind of box (CSS 2.2 §10.1); −1 is the initial one, or the viewport for fixed boxes. */
export function findContainingBlock(tree: BoxTree, element: number): number {
  const { reading } = tree;
  const position = usedText(reading, 'position', element);
  const holds =
    position === 'fixed'
      ? holdsFixed
      : position === 'absolute'
        ? holdsAbsolute
        : (_: BoxTree, at: number) => (tree.kinds[at] === 'inline' ? null : '');
  for (let at = reading.parent[element]!; at >= 0; at = reading.parent[at]!)
    if (hasBox(tree, at) && holds(tree, at) !== null) return at;
  return -1;
}

/** Why the containing block is the one it is, in words. */
export function containingWords(tree: BoxTree, element: number): string {
  const { reading } = tree;
  const position = usedText(reading, 'position', element);
  const block = tree.containingBlock[element]!;
  const whose = block < 0 ? '' : labelOf(reading, block);
  if (position === 'fixed')
    return block < 0
      ? 'position: fixed, and nothing around it is transformed or contained: the viewport'
      : `position: fixed, and ${whose} holds it: ${holdsFixed(tree, block)}`;
  if (position === 'absolute')
    return block < 0
      ? 'position: absolute, and nothing around it is positioned: the initial containing block'
      : `position: absolute, and ${whose} is the nearest that holds it: ${holdsAbsolute(tree, block)}`;
  return block < 0
    ? 'it is the root: the initial containing block (CSS 2.2 §10.1)'
    : `${whose} is the nearest block container around it (CSS 2.2 §10.1)`;
}

const OWN_KINDS: Record<string, string> = {
  root: 'it is the root',
  float: 'it floats',
  absolute: 'it is absolutely positioned',
  fixed: 'it is fixed',
  'inline-block': 'it is an inline-block',
  'table-cell': 'it is a table cell',
  'table-caption': 'it is a table caption',
  'flex-item': 'it is a flex item',
  'grid-item': 'it is a grid item',
  replaced: 'it is replaced',
  'inline-replaced': 'it is replaced',
};

const CONTROLS = new Set(['button', 'fieldset', 'input', 'textarea', 'select', 'meter', 'progress']);

/** Why a box has a formatting context of its own, so that margins and floats stay in it; null: it has none (CSS Display 3 §4.1). */
export function independence(tree: BoxTree, element: number): string | null {
  const { reading, kinds } = tree;
  const kind = kinds[element]!;
  if (OWN_KINDS[kind]) return OWN_KINDS[kind];
  const text = (property: string) => usedText(reading, property, element);
  const display = text('display');
  if (kind === 'inline' || kind === 'none' || kind === 'contents') return null;
  if (/flex$|grid$|^table$|^inline-table$|^flow-root$/.test(display)) return `display: ${display}`;
  const overflow = text('overflow').split(' ');
  if (overflow.some((text) => set(text, 'visible', 'clip'))) return `overflow: ${text('overflow')}`;
  if (/\b(layout|paint|strict|content)\b/.test(text('contain'))) return `contain: ${text('contain')}`;
  if (/^(auto|hidden)$/.test(text('content-visibility')))
    return `content-visibility: ${text('content-visibility')}`;
  if (/\b(size|inline-size)\b/.test(text('container-type'))) return `container-type: ${text('container-type')}`;
  if (set(text('column-count'), 'auto') || set(text('column-width'), 'auto')) return 'it is set in columns';
  if (text('column-span') === 'all') return 'column-span: all';
  if (set(text('align-content'), 'normal'))
    return `align-content: ${text('align-content')} (CSS Box Alignment 3 §5.1)`;
  const tag = tagOf(reading, element);
  if (CONTROLS.has(tag)) return `it is a ${tag}`;
  const above = reading.parent[element]!;
  if (above >= 0 && isOrthogonal(reading, element, above)) return 'its writing mode is not its parent’s';
  return null;
}

function isOrthogonal(reading: RawReading, element: number, above: number): boolean {
  const mode = (element: number) => usedText(reading, 'writing-mode', element) || 'horizontal-tb';
  return mode(element) !== mode(above);
}

export type Layout = 'flow' | 'lines' | 'flex' | 'grid' | 'table' | 'replaced' | 'none';

/** How what is in a box is laid out. */
export function layoutOf(tree: BoxTree, element: number): Layout {
  const kind = tree.kinds[element]!;
  const display = usedText(tree.reading, 'display', element);
  if (kind === 'none' || kind === 'contents') return 'none';
  if (kind === 'inline') return 'lines';
  if (/flex$/.test(display)) return 'flex';
  if (/grid$/.test(display)) return 'grid';
  if (isReplaced(tree.reading, element)) return 'replaced';
  if (/^table|^inline-table$/.test(display) && !/^table-(cell|caption)$/.test(display)) return 'table';
  return 'flow';
}

/** Nearest box around an element, whatever it is; −1 for the root. */
export function boxAbove(tree: BoxTree, element: number): number {
  let at = tree.reading.parent[element]!;
  while (at >= 0 && !hasBox(tree, at)) at = tree.reading.parent[at]!;
  return at;
}

/** Whether the main axis of a flex container goes down the page: a column, or a row in a vertical writing mode (Flexbox 1 §5.1, Writing Modes 4 §6). */
export const isMainAxisVertical = ({ reading }: Pick<BoxTree, 'reading'>, container: number): boolean =>
  usedText(reading, 'flex-direction', container).startsWith('column') ===
  (flowSides(reading, container).block === 'y');

/** Whether the items of a flex container stand beside each other, and may not go on in a second line (Flexbox 1 §5.2). */
export const isSingleLineRow = (tree: BoxTree, container: number): boolean =>
  !isMainAxisVertical(tree, container) && usedText(tree.reading, 'flex-wrap', container) === 'nowrap';
