/**
 * The shape of a layout: what of it does not slide along with the width but is one thing or another. Each part of it is
 * a word under a key: what it is of, and an element or a number.
 */
import type { Analysis } from '../analysis.ts';
import { scrollableBy } from '../boxes/viewport-overflow.ts';
import { textLines } from '../boxes/text-lines.ts';
import { columnTest, type Test } from '../reading/column-predicates.ts';
import type { RawReading } from '../reading/reading.ts';
import { childrenOf, hasBox, rectOf, usedText, type BoxTree } from '../boxes/tree.ts';
import { scrollsOn } from '../visibility/visibility.ts';
import { linedOf, widthToGainItem, textItems, type Lined } from './distance-to-change.ts';
import { tagOf } from '../reading/labels.ts';

/** `page`: sideways scroll; `shown`, `flow`, `rows`, `lines`, `scroll`: of an element; `media`, `container`: of a condition. */
export const PARTS = ['page', 'media', 'container', 'shown', 'flow', 'rows', 'lines', 'scroll'] as const;
export type Part = (typeof PARTS)[number];

const keys = Object.fromEntries(PARTS.map((part) => [part, []])) as unknown as Record<Part, string[]>;
/** The same text each time, since it is made for every element at every width. */
export const keyOfPart = (part: Part, of: number): string => (keys[part][of] ??= `${part} ${of}`);
export function partOfKey(key: string): { part: Part; of: number } {
  const [part, of] = key.split(' ');
  return { part: part as Part, of: Number(of) };
}

const isHidden: Test = (text) => text === 'hidden' || text === 'collapse';

/** Px that the page must scroll by to count. */
const LEAST = 0.5;

/** Tags of which the text is written to stand on one line, wherever they are. */
const LINED = new Set('button label th legend summary h1 h2 h3 h4 h5 h6 dt caption figcaption'.split(' '));
/** Tags of what is never seen. */
const UNSEEN = new Set('head script style link meta title template noscript'.split(' '));
/** More lines than this are as good as this many. */
const MOST_LINES = 3;
/** Of more boxes than this only the number of rows is told. */
const MOST_BOXES = 12;

/**
 * `short`: px by which what a key is of must be wider, or about so many, for its word to be another; `lined`: by element,
 * texts of several lines.
 */
export function layoutSignature({ reading, tree }: Analysis): {
  shape: Map<string, string>;
  short: Map<string, number>;
  lined: Map<number, Lined>;
} {
  const { words, shown } = standingOf(reading, tree);
  const out = new Map(words);
  const short = new Map<string, number>();
  const lined = new Map<number, Lined>();
  const put = (part: Part, of: number, word: string, lacks = 0) => {
    const key = keyOfPart(part, of);
    out.set(key, word);
    if (lacks > 0) short.set(key, lacks);
  };
  const beyond = scrollableBy(reading, 'x');
  put('page', 0, beyond >= LEAST ? 'scrolls' : 'fits', beyond);
  reading.media.forEach((holds, i) => put('media', i, holds ? 'holds' : 'fails'));
  reading.containers.forEach((list, i) => put('container', i, String(list.length)));
  for (let i = 0; i < tree.count; i++) {
    if (!shown[i] || !hasOneLine(tree, i) || UNSEEN.has(tagOf(tree.reading, i))) continue;
    const lines = textLines(tree, i);
    if (lines > 0) put('lines', i, String(Math.min(lines, MOST_LINES)));
    if (lines > 1) lined.set(i, linedOf(tree, i));
  }
  for (let i = 0; i < tree.count; i++) {
    if (!shown[i]) continue;
    const rows = rowsOf(tree, i, shown);
    if (rows) put('rows', i, rows.words, rows.short);
  }
  const { scrolls } = reading;
  for (let at = 0; at + 4 < scrolls.length; at += 5) {
    const element = scrolls[at]!;
    if (!shown[element] || !scrollsOn(tree, element, 'x') || /^(html|body)$/.test(tagOf(tree.reading, element)))
      continue;
    const more = scrolls[at + 3]! - scrolls[at + 1]!;
    put('scroll', element, more >= 1 ? 'scrolls' : 'fits', more);
  }
  return { shape: out, short, lined };
}

/** What is shown, and how it is set: that does not depend on where it lies. */
interface Standing {
  words: ReadonlyMap<string, string>;
  /** 1 for what is shown. */
  shown: Uint8Array;
}

/** By what boxes are (`makeTree`), with the flags of those that are not visible: readings of one page share both. */
const cache = new WeakMap<BoxTree['kinds'], { hidden: Uint8Array; standing: Standing }>();

function standingOf(reading: RawReading, tree: BoxTree): Standing {
  const hidden = columnTest(reading, 'visibility', isHidden);
  const cached = cache.get(tree.kinds);
  if (cached?.hidden === hidden) return cached.standing;
  const words = new Map<string, string>();
  const shown = new Uint8Array(tree.count);
  for (let i = 0; i < tree.count; i++) {
    const parent = reading.parent[i]!;
    if (parent >= 0 && !shown[parent]) continue;
    const isShown = tree.kinds[i] !== 'none' && hidden[i] === 0;
    if (isShown) shown[i] = 1;
    if (UNSEEN.has(tagOf(tree.reading, i))) continue;
    words.set(keyOfPart('shown', i), isShown ? 'shown' : 'hidden');
    if (!isShown) continue;
    const flow = ['display', 'position', 'float'].map((property) => usedText(reading, property, i)).join(' ');
    words.set(keyOfPart('flow', i), flow);
  }
  const standing = { words, shown };
  cache.set(tree.kinds, { hidden, standing });
  return standing;
}

/** Whether a text is of the kind that is meant to stand on one line: a heading, a control, an entry of a bar. */
function hasOneLine(tree: BoxTree, element: number): boolean {
  const tag = tagOf(tree.reading, element);
  if (LINED.has(tag)) return true;
  const kind = tree.kinds[element]!;
  if (kind === 'inline-block' || kind === 'flex-item') return true;
  const parent = tree.reading.parent[element]!;
  return tag === 'a' && parent >= 0 && textLines(tree, parent) === 0;
}

/** Boxes that can stand beside each other. */
const IN_ROWS = new Set(['flex-item', 'grid-item', 'float', 'inline-block']);

/** How boxes that can stand beside each other are set: how many in each row, and their order where it is not their own. */
function rowsOf(tree: BoxTree, element: number, shown: Uint8Array): { words: string; short: number } | null {
  const { children, first, kinds } = tree;
  if (first[element + 1]! - first[element]! < 2) return null;
  let hasRows = false;
  for (let at = first[element]!; at < first[element + 1]! && !hasRows; at++)
    hasRows = IN_ROWS.has(kinds[children[at]!]!);
  if (!hasRows) return null;
  const boxes: { nth: number; child: number; x: number; width: number; top: number; bottom: number }[] = [];
  let isSet = false;
  for (const [nth, child] of childrenOf(tree, element).entries()) {
    if (!shown[child] || !hasBox(tree, child)) continue;
    const kind = tree.kinds[child]!;
    if (kind === 'absolute' || kind === 'fixed' || kind === 'inline') continue;
    const { x, y, width, height } = rectOf(tree.reading, child);
    if (width < 1 || height < 1) continue;
    if (IN_ROWS.has(kind)) isSet = true;
    boxes.push({ nth, child, x, width, top: y, bottom: y + height });
  }
  if (!isSet || boxes.length < 2) return null;
  const rows: (typeof boxes)[] = [];
  let bottom = 0;
  for (const box of [...boxes].sort((a, b) => a.top - b.top || a.x - b.x)) {
    const row = rows.at(-1);
    const shared = Math.min(bottom, box.bottom) - box.top;
    if (row && shared > Math.min(box.bottom - box.top, bottom - row[0]!.top) / 2) {
      row.push(box);
      bottom = Math.max(bottom, box.bottom);
    } else {
      rows.push([box]);
      bottom = box.bottom;
    }
  }
  for (const row of rows) row.sort((a, b) => a.x - b.x);
  const counts = rows.map(({ length }) => length);
  const order = rows.flatMap((row) => row.map(({ nth }) => nth));
  const isOwn = order.every((nth, i) => i === 0 || nth > order[i - 1]!);
  const most = Math.max(...counts);
  for (const { x, y, width, height } of rows.length > 1 ? textItems(tree, element) : []) {
    const row =
      rows.find((row) => y + height / 2 < Math.max(...row.map(({ bottom }) => bottom))) ?? rows.at(-1)!;
    row.push({ nth: -1, child: -1, x, width, top: y, bottom: y + height });
    row.sort((a, b) => a.x - b.x);
  }
  const short = Math.min(
    ...rows.map((row, i) => widthToGainItem(tree, element, row, rows[i + 1] ?? [])).filter((px) => px > 0),
  );
  const words =
    boxes.length > MOST_BOXES
      ? `${most} of ${boxes.length}, ${counts.length} rows`
      : `${counts.join('+')}${isOwn || most === 1 ? '' : ` (${order.map((nth) => nth + 1).join(' ')})`}`;
  return { words, short: Number.isFinite(short) ? short : 0 };
}
