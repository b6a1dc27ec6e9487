/** Px that boxes lack, as far as one reading tells, for their text to take fewer lines or for a row in them to take one more. */
import { fontKey } from '../reading/contents.ts';
import { childrenOf, edgesOf, hasBox, inside, rectOf, usedPx, usedText, type BoxTree } from '../boxes/tree.ts';
import type { Rect } from '../geometry/rect.ts';

/** The text of a box that takes several lines, in CSS px. */
export interface Lined {
  /** Of the first line. */
  first: number;
  /** Of all its lines if they were one. */
  all: number;
  /** That there is for a line. */
  room: number;
}

/** Width of the content box. */
function contentWidth({ reading }: BoxTree, element: number): number {
  const padding = edgesOf(reading, 'padding', element);
  const border = edgesOf(reading, 'border-width', element);
  return rectOf(reading, element).width - padding.left - padding.right - border.left - border.right;
}

const isRowOf = ({ reading }: BoxTree, element: number): boolean =>
  /flex$/.test(usedText(reading, 'display', element)) &&
  !usedText(reading, 'flex-direction', element).startsWith('column');

const isOutOfFlow = ({ kinds }: BoxTree, element: number): boolean =>
  kinds[element] === 'absolute' || kinds[element] === 'fixed';

const spaceIn = (tree: BoxTree, element: number): number =>
  inside(tree).fonts.get(fontKey(tree.reading, element))?.space ?? 0;

/** Pieces of an element's own text, and of what stands before the end of that in its lines, in any order. */
function piecesIn(tree: BoxTree, element: number): Rect[] {
  const out: Rect[] = [];
  let end = 0;
  for (const { blank, pieces, before } of inside(tree).texts.get(element) ?? [])
    if (!blank) {
      out.push(...pieces);
      end = before;
    }
  for (const child of childrenOf(tree, element).slice(0, end)) {
    if (!tree.kinds[child]!.startsWith('inline')) continue;
    out.push(...(inside(tree).fragments.get(child) ?? [rectOf(tree.reading, child)]));
  }
  return out;
}

/** Where the lines are that pieces stand in. */
function linesOf(pieces: Rect[]): { left: number; right: number; top: number; bottom: number }[] {
  const out: { left: number; right: number; top: number; bottom: number }[] = [];
  for (const { x, y, width, height } of pieces.sort((a, b) => a.y + a.height / 2 - b.y - b.height / 2)) {
    const line = out.at(-1);
    if (line && Math.min(line.bottom, y + height) - y > Math.min(height, line.bottom - line.top) / 2) {
      line.left = Math.min(line.left, x);
      line.right = Math.max(line.right, x + width);
      line.bottom = Math.max(line.bottom, y + height);
    } else out.push({ left: x, right: x + width, top: y, bottom: y + height });
  }
  return out;
}

export function linedOf(tree: BoxTree, element: number): Lined {
  let room = contentWidth(tree, element);
  let texts = [piecesIn(tree, element)];
  const isRow = isRowOf(tree, element);
  const gap = isRow ? usedPx(tree.reading, 'column-gap', element) || 0 : 0;
  if (isRow) {
    // Each text beside the items of a flex container is an item of its own (Flexbox 1 §4).
    for (const child of childrenOf(tree, element))
      if (hasBox(tree, child) && !isOutOfFlow(tree, child)) room -= outerWidth(tree, child) + gap;
    texts = (inside(tree).texts.get(element) ?? []).flatMap(({ blank, pieces }) => (blank ? [] : [pieces]));
  }
  const space = spaceIn(tree, element);
  const all = texts.map((pieces) => {
    const lines = linesOf(pieces.filter(({ width, height }) => width > 0 && height > 0));
    // Where a line ends, a space is left out.
    const sum = lines.reduce((sum, { left, right }) => sum + right - left, (lines.length - 1) * space);
    return { first: lines[0] ? lines[0].right - lines[0].left : 0, sum };
  });
  return {
    first: all[0]?.first ?? 0,
    all: all.reduce((sum, entry) => sum + entry.sum, (all.length - 1) * gap),
    room,
  };
}

/**
 * Px by which a text must have more room to take fewer lines: one in place of two, or two in place of more. The first line of
 * two ends where a word does: as at the lower width, or, at best by what the higher one shows, as there. `high`: null, it
 * takes one line there.
 */
export function widthToLoseLine(low: Lined, high: Lined | null): number {
  if (!high) return low.all - low.room;
  return Math.min(low.all - low.first, Math.max(high.first, high.all - high.first)) - low.room;
}

function outerWidth({ reading }: BoxTree, element: number): number {
  const { left, right } = edgesOf(reading, 'margin', element);
  return rectOf(reading, element).width + left + right;
}

interface Span {
  /** −1: a text. */
  child: number;
  x: number;
  width: number;
}

/** Px by which a box must be wider for a row in it to take a box of the next as well, with the texts before that. */
export function widthToGainItem(
  tree: BoxTree,
  element: number,
  row: readonly Span[],
  below: readonly Span[],
): number {
  const nth = below.findIndex(({ child }) => child >= 0);
  const next = below[nth];
  if (!next) return Infinity;
  const room = contentWidth(tree, element);
  const outer = ({ child, width }: Span): number => {
    if (child < 0) return width;
    const basis = usedPx(tree.reading, 'flex-basis', child);
    const { left, right } = edgesOf(tree.reading, 'margin', child);
    return (basis >= 0 ? basis : width) + left + right;
  };
  if (isRowOf(tree, element)) {
    const gap = usedPx(tree.reading, 'column-gap', element) || 0;
    return [...row, ...below.slice(0, nth)].reduce((sum, span) => sum + outer(span) + gap, outer(next)) - room;
  }
  const [first, second] = [row[0]!, row[1]];
  // As far apart as those in it are.
  const space = tree.kinds[first.child] === 'inline-block' ? spaceIn(tree, element) : 0;
  const gap = second ? Math.max(0, second.x - first.x - first.width) : space;
  const end = row.at(-1)!;
  return end.x + end.width - first.x + gap + next.width - room;
}

/** Texts of a flex container that are items of their own, as boxes. */
export function textItems(tree: BoxTree, element: number): Rect[] {
  if (!isRowOf(tree, element)) return [];
  return (inside(tree).texts.get(element) ?? []).flatMap(({ blank, pieces }) => {
    const shown = blank ? [] : pieces.filter(({ width }) => width > 0);
    if (shown.length === 0) return [];
    const x = Math.min(...shown.map((rect) => rect.x));
    const y = Math.min(...shown.map((rect) => rect.y));
    return [
      {
        x,
        y,
        width: Math.max(...shown.map((rect) => rect.x + rect.width)) - x,
        height: Math.max(...shown.map((rect) => rect.y + rect.height)) - y,
      },
    ];
  });
}
