/** A reading made ready to be reasoned about: what each box is in layout, its edges, and what it hangs on. */
import type { Edges, Rect } from '../geometry/rect.ts';
import { isBuiltAlike } from '../reading/tree-reuse.ts';
import { findContainingBlock } from './formatting-contexts.ts';
import { insideOf, type Inside } from '../reading/contents.ts';
import { kindOf, type Kind } from './kinds.ts';
import type { RawReading } from '../reading/reading.ts';
import type { Areas } from './areas.ts';
import type { TableGrid } from './table-grid.ts';
import { framesOf, layoutRect, type Frames } from './transforms.ts';
import { tagOf } from '../reading/labels.ts';

export interface BoxTree {
  reading: RawReading;
  count: number;
  kinds: Kind[];
  /** Elements by parent: the children of `i` are `children[first[i]] ... children[first[i + 1] - 1]`. */
  first: Int32Array;
  children: Int32Array;
  /** Closest ancestor with a box, for what is positioned or sized; −1 is the initial containing block (CSS 2.2 §10.1). */
  containingBlock: Int32Array;
  /** What is worked out when first asked for. */
  late: Late;
}

interface Late {
  inside?: Inside;
  frames?: Frames;
  tables?: Map<number, TableGrid>;
  attributes?: Map<string, string> | undefined;
  areas?: Map<number, Areas>;
  /** 1 for elements that may hold fixed boxes: see `holdsFixed`. */
  holding?: Uint8Array | undefined;
}

export const inside = (tree: BoxTree): Inside => (tree.late.inside ??= insideOf(tree.reading));
export const frames = (tree: BoxTree): Frames => (tree.late.frames ??= framesOf(tree));

/** The border box as laid out, transforms undone. */
export const laidOut = (tree: BoxTree, element: number): Rect => layoutRect(tree, frames(tree), element);

/** `last`: of another reading of the same page; what its boxes are is taken over where nothing makes them others. */
export function makeTree(reading: RawReading, last: BoxTree | null = null): BoxTree {
  const kept = last && isBuiltAlike(last.reading, reading) ? last : null;
  const { count, parent } = reading;
  const { first, children } = kept ?? childrenByParent(reading);
  const tree: BoxTree = {
    reading,
    count,
    kinds: kept?.kinds ?? new Array<Kind>(count),
    first,
    children,
    containingBlock: kept?.containingBlock ?? new Int32Array(count),
    late: {},
  };
  if (kept) {
    tree.late.attributes = kept.late.attributes;
    tree.late.holding = kept.late.holding;
    return tree;
  }
  for (let i = 0; i < count; i++)
    tree.kinds[i] =
      (parent[i]! >= 0 && tree.kinds[parent[i]!] === 'none') || isShut(tree, i) ? 'none' : kindOf(reading, i);
  for (let i = 0; i < count; i++) tree.containingBlock[i] = findContainingBlock(tree, i);
  return tree;
}

function childrenByParent({ count, parent }: RawReading): Pick<BoxTree, 'first' | 'children'> {
  const first = new Int32Array(count + 1);
  for (let i = 0; i < count; i++) if (parent[i]! >= 0) first[parent[i]! + 1]!++;
  for (let i = 0; i < count; i++) first[i + 1]! += first[i]!;
  const fill = first.slice(0, count);
  const children = new Int32Array(first[count] ?? 0);
  for (let i = 0; i < count; i++) if (parent[i]! >= 0) children[fill[parent[i]!]!++] = i;
  return { first, children };
}

/** What a closed `details` holds is laid out by some engines and shown by none (HTML §4.11.1). */
function isShut(tree: BoxTree, element: number): boolean {
  const { reading } = tree;
  const tag = (element: number) => tagOf(reading, element);
  const parent = reading.parent[element]!;
  if (parent < 0 || tag(parent) !== 'details' || tag(element) === 'summary') return false;
  return attribute(tree, parent, 'open') === null;
}

/** An attribute that the reading holds; null: the element has none of that name. */
export function attribute(tree: BoxTree, element: number, name: string): string | null {
  if (!tree.late.attributes) {
    const { attributes, strings } = tree.reading;
    tree.late.attributes = new Map();
    for (let i = 0; i + 2 < attributes.length; i += 3)
      tree.late.attributes.set(
        `${attributes[i]} ${strings[attributes[i + 1]!]}`,
        strings[attributes[i + 2]!] ?? '',
      );
  }
  return tree.late.attributes.get(`${element} ${name}`) ?? null;
}

/** A used value as text, empty where the reading did not ask for it. */
export const usedText = (reading: RawReading, property: string, element: number): string =>
  reading.strings[reading.used[property]?.[element] ?? -1] ?? '';

/** A computed value as text, empty where the reading did not ask for it. */
export const computedText = (reading: RawReading, property: string, element: number): string =>
  reading.strings[reading.computed[property]?.[element] ?? -1] ?? '';

/** Lengths by the text that they were read of. */
const lengths = new Map<string, number>();
const MOST_LENGTHS = 20_000;

/** A length in px of a value such as `12.5px`; NaN for anything else. */
export function pxOf(value: string): number {
  let cached = lengths.get(value);
  if (cached === undefined) {
    if (lengths.size > MOST_LENGTHS) lengths.clear();
    cached = /^-?[\d.]+(e[-+]?\d+)?px$/.test(value) ? Number.parseFloat(value) : NaN;
    lengths.set(value, cached);
  }
  return cached;
}

export const usedPx = (reading: RawReading, property: string, element: number): number =>
  pxOf(usedText(reading, property, element));

export function rectOf(reading: RawReading, element: number): Rect {
  const { rects } = reading;
  const at = element * 4;
  return { x: rects[at]!, y: rects[at + 1]!, width: rects[at + 2]!, height: rects[at + 3]! };
}

/** Sides by the text that they were read of: most boxes of a page share a few. */
const edges = new Map<string, Edges>();
const MOST_EDGES = 4000;

/** The four sides of a shorthand of lengths; a side that is not a length in px counts as 0. The same of all boxes with that text. */
export const edgesOf = (
  reading: RawReading,
  property: 'margin' | 'padding' | 'border-width',
  element: number,
): Readonly<Edges> => edgesFrom(usedText(reading, property, element));

/** The same of the text of such a shorthand. */
export function edgesFrom(text: string): Readonly<Edges> {
  let cached = edges.get(text);
  if (!cached) {
    if (edges.size > MOST_EDGES) edges.clear();
    const [top = 0, right = top, bottom = top, left = right] = text.split(' ').map((part) => pxOf(part) || 0);
    edges.set(text, (cached = { top, right, bottom, left }));
  }
  return cached;
}

export function childrenOf({ children, first }: BoxTree, element: number): number[] {
  const out: number[] = [];
  for (let at = first[element]!; at < first[element + 1]!; at++) out.push(children[at]!);
  return out;
}

/** The boxes in a box, with those in elements that have none of their own (`display: contents`), in their order. */
export function boxesIn(tree: BoxTree, element: number): number[] {
  return childrenOf(tree, element).flatMap((child) =>
    tree.kinds[child] === 'contents' ? boxesIn(tree, child) : [child],
  );
}

export const hasBox = (tree: BoxTree, element: number): boolean =>
  tree.kinds[element] !== 'none' && tree.kinds[element] !== 'contents';

/** Whether a box has more in it than it shows down the page, so that it can be scrolled (CSS Overflow 3 §2.2). */
export function scrollsDown({ scrolls }: RawReading, element: number): boolean {
  for (let at = 0; at + 4 < scrolls.length; at += 5)
    if (scrolls[at] === element) return scrolls[at + 4]! > scrolls[at + 2]! + 1;
  return false;
}
