/** Whose room a point of the page is: which area of which box, what lies between its neighbours, or a line's own room. */
import { authorDeclaration, cite } from '../accounts/author-declaration.ts';
import { boxAccount } from '../accounts/box.ts';
import { distanceAccount } from '../accounts/distance.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { childrenOf, hasBox, inside, rectOf, usedPx } from '../boxes/tree.ts';
import {
  contains,
  endOf,
  inset,
  outset,
  px,
  sidesOf,
  startOf,
  type Axis,
  type Edges,
  type Rect,
  type Side,
} from '../geometry/rect.ts';
import { labelOf } from '../reading/labels.ts';
import { isReplacedOrControl, visibilityOf, visiblePart } from '../visibility/visibility.ts';

export type RoomKind =
  'text' | 'line' | 'border' | 'scrollbar' | 'padding' | 'margin' | 'picture' | 'between' | 'leftover';

export interface Room {
  kind: RoomKind;
  /** The box whose room it is. */
  element: number;
  /** In one sentence without a full stop. */
  words: string;
}

const sideOf = (outer: Rect, inner: Rect, x: number, y: number): Side =>
  y < inner.y ? 'top' : y >= inner.y + inner.height ? 'bottom' : x < inner.x ? 'left' : 'right';

/** What is seen of the document at a point, in CSS px: the rooms of the box that holds it, the most particular first. */
export function roomsAt(analysis: Analysis, x: number, y: number): Room[] {
  const { tree, reading } = analysis;
  const holder = holderAt(analysis, x, y);
  const label = labelOf(reading, holder);
  const { border, scrollbar, padding } = laidAreas(tree, holder);
  const rect = rectOf(reading, holder);
  const inBorder = inset(rect, border);
  const inScrollbar = inset(inBorder, scrollbar);
  const content = inset(inScrollbar, padding);
  const piece = textAt(analysis, holder, x, y);
  if (piece) return [{ kind: 'text', element: holder, words: `It is a line of text of ${label}` }];
  if (isReplacedOrControl(tree, holder) && contains(content, x, y))
    return [{ kind: 'picture', element: holder, words: `It is what ${label} shows by itself` }];
  if (holder > 0 && !contains(inBorder, x, y) && contains(rect, x, y))
    return [edge(analysis, holder, 'border', sideOf(rect, inBorder, x, y), border)];
  if (holder > 0 && !contains(inScrollbar, x, y) && contains(rect, x, y))
    return [{ kind: 'scrollbar', element: holder, words: `It is the room of a scrollbar of ${label}` }];
  const out: Room[] = [];
  if (contains(rect, x, y) && !contains(content, x, y))
    out.push(edge(analysis, holder, 'padding', sideOf(inScrollbar, content, x, y), padding));
  const margins = marginsAt(analysis, holder, x, y);
  out.push(...margins);
  const line = lineAt(analysis, holder, x, y);
  if (line) out.push(line);
  out.push(...betweens(analysis, holder, x, y));
  if (out.length === 0) out.push(leftover(analysis, holder, x, y));
  return out;
}

/** The innermost visible box whose border box holds a point; the root where none does. */
function holderAt(analysis: Analysis, x: number, y: number): number {
  const { reading, tree, order } = analysis;
  const { visible } = visibilityOf(analysis);
  let best = 0;
  for (let i = 1; i < reading.count; i++) {
    if (!hasBox(tree, i) || !visible[i] || order[i]! < order[best]!) continue;
    const seen = visiblePart(analysis, i, rectOf(reading, i));
    const isInPieces = tree.kinds[i] === 'inline';
    if (seen && contains(seen, x, y) && (!isInPieces || textAt(analysis, i, x, y))) best = i;
  }
  return best;
}

function textAt({ tree }: Analysis, element: number, x: number, y: number): Rect | null {
  for (const { pieces, blank } of inside(tree).texts.get(element) ?? [])
    if (!blank) for (const piece of pieces) if (contains(piece, x, y)) return piece;
  return null;
}

function edge(
  analysis: Analysis,
  element: number,
  area: 'border' | 'padding' | 'margin',
  side: Side,
  edges: Edges,
): Room {
  const property = area === 'border' ? `border-${side}-width` : `${area}-${side}`;
  const declaration = authorDeclaration(analysis, element, property);
  const label = labelOf(analysis.reading, element);
  const by = declaration ? ` ${cite(declaration)}` : ', which is the browser’s default';
  return {
    kind: area,
    element,
    words: `It is the ${area} of ${label} at the ${side}: ${px(edges[side])} px${by}`,
  };
}

/** Margins of boxes in a box, and of what lies in these, that hold a point which is in none of these boxes. */
function marginsAt(analysis: Analysis, holder: number, x: number, y: number): Room[] {
  const { tree, reading } = analysis;
  const out: Room[] = [];
  for (let i = holder + 1; i < reading.count; i++) {
    if (!hasBox(tree, i) || !isIn(analysis, holder, i) || tree.kinds[i] === 'inline') continue;
    const { margin } = laidAreas(tree, i);
    const rect = rectOf(reading, i);
    const positive = {
      top: Math.max(0, margin.top),
      right: Math.max(0, margin.right),
      bottom: Math.max(0, margin.bottom),
      left: Math.max(0, margin.left),
    };
    if (contains(rect, x, y) || !contains(outset(rect, positive), x, y)) continue;
    out.push(edge(analysis, i, 'margin', sideOf(outset(rect, positive), rect, x, y), margin));
  }
  return out;
}

function isIn({ reading }: Analysis, above: number, element: number): boolean {
  for (let at = element; at >= above; at = reading.parent[at]!) if (at === above) return true;
  return false;
}

/** The room that a line has above, below and beside its letters, or below a picture that stands on its baseline (CSS Inline 3 §5). */
function lineAt(analysis: Analysis, element: number, x: number, y: number): Room | null {
  const { tree, reading } = analysis;
  const label = labelOf(reading, element);
  const line = (words: string): Room => ({ kind: 'line', element, words });
  const height = usedPx(reading, 'line-height', element);
  for (const { pieces, blank } of inside(tree).texts.get(element) ?? []) {
    if (blank) continue;
    for (const piece of pieces) {
      const [right, bottom] = [endOf(piece, 'x'), endOf(piece, 'y')];
      if (y >= piece.y && y < bottom)
        return line(
          `It lies beside a line of text of ${label}, ${px(x < piece.x ? piece.x - x : x - right)} px from its letters`,
        );
      // Half of what a line is taller than its font lies above the letters, and half below (§5.1).
      const leading = Math.max(0, (height - piece.height) / 2);
      const away = y < piece.y ? piece.y - y : y - bottom;
      if (x >= piece.x && x < right && away <= leading) {
        const declaration = authorDeclaration(analysis, element, 'line-height');
        return line(
          `It is room of a line of text of ${label}, ${y < piece.y ? 'above' : 'below'} its letters: the line is ${px(height)} px tall${declaration ? ` ${cite(declaration)}` : ''}`,
        );
      }
    }
  }
  for (const child of childrenOf(tree, element)) {
    const rect = rectOf(reading, child);
    if (!/^inline-(block|replaced)$/.test(tree.kinds[child]!)) continue;
    if (x < rect.x || x >= endOf(rect, 'x') || y < endOf(rect, 'y') || y > endOf(rect, 'y') + height) continue;
    return line(
      `It lies under ${labelOf(reading, child)}, which stands on the baseline of its line: the room below it is for letters that reach down there`,
    );
  }
  return null;
}

/** The two boxes in a box between which a point lies, on each axis, with what keeps them apart. */
function betweens(analysis: Analysis, holder: number, x: number, y: number): Room[] {
  const out: Room[] = [];
  for (const axis of ['y', 'x'] as const) {
    const at = axis === 'x' ? x : y;
    const aside = axis === 'x' ? y : x;
    const neighbours = neighboursAt(analysis, holder, axis, at, aside);
    const [before, after] = neighbours;
    if (before < 0 || after < 0) continue;
    const [low, high] = sidesOf(axis);
    const { sentence, used, terms } = distanceAccount(
      analysis,
      { element: before, area: 'border', side: high },
      { element: after, area: 'border', side: low },
    );
    // Where others lie between them it is not these that the room is between.
    if (used <= 0 || terms.some(({ what }) => what === 'child')) continue;
    const words = sentence.replace(/\.$/, '');
    out.push({ kind: 'between', element: holder, words: `It lies between two boxes: ${words}` });
  }
  return out;
}

/** The nearest boxes in a box that end before and begin after a place on an axis; −1: there is none. */
function neighboursAt(
  { tree, reading }: Analysis,
  holder: number,
  axis: Axis,
  at: number,
  aside: number,
): [number, number] {
  const other: Axis = axis === 'x' ? 'y' : 'x';
  let [before, after] = [-1, -1];
  for (const child of childrenOf(tree, holder)) {
    if (!hasBox(tree, child)) continue;
    const rect = rectOf(reading, child);
    if (aside < startOf(rect, other) || aside >= endOf(rect, other)) continue;
    if (endOf(rect, axis) <= at && (before < 0 || endOf(rect, axis) > endOf(rectOf(reading, before), axis)))
      before = child;
    if (startOf(rect, axis) >= at && (after < 0 || startOf(rect, axis) < startOf(rectOf(reading, after), axis)))
      after = child;
  }
  return [before, after];
}

/** Room that is left beside a box that ends before it, or that nothing takes. */
function leftover(analysis: Analysis, element: number, x: number, y: number): Room {
  const { reading } = analysis;
  const label = labelOf(reading, element);
  const [before] = neighboursAt(analysis, element, 'x', x, y);
  if (before >= 0) {
    const away = px(x - endOf(rectOf(reading, before), 'x'));
    return {
      kind: 'leftover',
      element,
      words: `It is room in ${label} beside ${labelOf(reading, before)}, which ends ${away} px before it: ${boxAccount(analysis, before).width.sentence.replace(/\.$/, '')}`,
    };
  }
  const height =
    authorDeclaration(analysis, element, 'height') ?? authorDeclaration(analysis, element, 'min-height');
  const declared = height && height.value !== 'auto' ? `; how tall it is, is declared ${cite(height)}` : '';
  return { kind: 'leftover', element, words: `It is room in ${label} that nothing in it takes${declared}` };
}
