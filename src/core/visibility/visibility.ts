/** What of a page can be seen: which boxes, where they are clipped, and where their ink is. */
import type { Analysis } from '../analysis.ts';
import { columnTest, oncePerReading, type Test } from '../reading/column-predicates.ts';
import { isReplaced } from '../boxes/kinds.ts';
import { labelOf, tagOf } from '../reading/labels.ts';
import { transformed } from '../boxes/transforms.ts';
import { childrenOf, hasBox, inside, rectOf, usedText, type BoxTree } from '../boxes/tree.ts';
import { laidAreas } from '../boxes/areas.ts';
import { inset, type Rect } from '../geometry/rect.ts';
import { resolve } from '../css/cascade/cascade.ts';

export interface Visibility {
  /** Whether a box shows at all. */
  visible: boolean[];
  /** The box that clips another on either axis, −1: none but the page. */
  clipper: Int32Array;
  /** Whether a box clips what is in it: 1 across, 2 down, 3 both. */
  clipping: Uint8Array;
}

const cache = new WeakMap<Analysis, Visibility>();

const onX = (text: string): string => text.split(' ')[0]!;
const onY = (text: string): string => text.split(' ').at(-1)!;
const clipsOnX: Test = (text) => text !== '' && onX(text) !== 'visible';
const clipsOnY: Test = (text) => text !== '' && onY(text) !== 'visible';
const scrollsOnX: Test = (text) => /auto|scroll/.test(onX(text));
const scrollsOnY: Test = (text) => /auto|scroll/.test(onY(text));

const clippings = oncePerReading((reading) => ({
  x: columnTest(reading, 'overflow', clipsOnX),
  y: columnTest(reading, 'overflow', clipsOnY),
}));

export const clips = (tree: BoxTree, element: number, axis: 'x' | 'y'): boolean =>
  clippings(tree.reading)[axis][element] === 1 &&
  tree.kinds[element] !== 'inline' &&
  !/^(html|body)$/.test(tagOf(tree.reading, element));

export const scrollsOn = (tree: BoxTree, element: number, axis: 'x' | 'y'): boolean =>
  columnTest(tree.reading, 'overflow', axis === 'x' ? scrollsOnX : scrollsOnY)[element] === 1;

const SHOWN_BY_THEMSELVES =
  /^(button|input|select|textarea|meter|progress|img|svg|video|canvas|picture|object|iframe)$/;
/** Whether a box shows something by itself: a picture or a control. */
export const isReplacedOrControl = (tree: BoxTree, element: number): boolean =>
  isReplaced(tree.reading, element) || SHOWN_BY_THEMSELVES.test(tagOf(tree.reading, element));

/** A box that is kept for those who hear the page, and hidden from those who see it. */
function isHiddenHelper(analysis: Analysis, element: number, position: string): boolean {
  const { tree, reading } = analysis;
  const { width, height } = rectOf(reading, element);
  if (width <= 1.05 && height <= 1.05 && (clips(tree, element, 'x') || position === 'absolute')) return true;
  if (position !== 'absolute' && position !== 'fixed') return false;
  const clip = resolve(analysis.styles, element, 'clip').value;
  return /rect\(\s*(0|1)(px)?[\s,]+(0|1)/.test(clip);
}

/** Whether a fixed box waits beside the view, moved there by its own declarations: nothing scrolls it into sight. */
function waitsBeside(analysis: Analysis, element: number): boolean {
  const { reading, styles } = analysis;
  const { x, y, width, height } = rectOf(reading, element);
  const { scrollX, scrollY } = reading.document;
  const [left, top] = [x - scrollX, y - scrollY];
  const { viewport } = reading;
  if (left + width > 0 && left < viewport.width && top + height > 0 && top < viewport.height) return false;
  return (
    isTransformed(analysis, element) ||
    ['left', 'right', 'top', 'bottom'].some((side) => /^-|^100(%|v)/.test(resolve(styles, element, side).value))
  );
}

function clippingOf(tree: BoxTree): Uint8Array {
  const out = new Uint8Array(tree.count);
  for (let i = 0; i < out.length; i++) out[i] = (clips(tree, i, 'x') ? 1 : 0) + (clips(tree, i, 'y') ? 2 : 0);
  return out;
}

const isHidden: Test = (text) => text === 'hidden';
const isCollapsed: Test = (text) => text === 'collapse';
const isFaded: Test = (text) => !(Number(text || '1') > 0.01);

export function visibilityOf(analysis: Analysis): Visibility {
  const cached = cache.get(analysis);
  if (cached) return cached;
  const { tree, reading } = analysis;
  const visible = new Array<boolean>(tree.count).fill(false);
  const clipper = new Int32Array(tree.count).fill(-1);
  const clipping = clippingOf(tree);
  const [hidden, collapsed] = [
    columnTest(reading, 'visibility', isHidden),
    columnTest(reading, 'visibility', isCollapsed),
  ];
  const faded = columnTest(reading, 'opacity', isFaded);
  for (let i = 0; i < tree.count; i++) {
    const parent = reading.parent[i]!;
    const inSvg = parent >= 0 && /^(svg|g)$/.test(tagOf(tree.reading, parent));
    // What is hidden by visibility can show what is in it again (CSS Display 4 §4).
    const shown = parent < 0 || visible[parent]! || hidden[parent] === 1;
    const position = usedText(reading, 'position', i);
    visible[i] =
      shown &&
      !inSvg &&
      (hasBox(tree, i) || tree.kinds[i] === 'contents') &&
      hidden[i] === 0 &&
      collapsed[i] === 0 &&
      faded[i] === 0 &&
      !isHiddenHelper(analysis, i, position) &&
      !(position === 'fixed' && waitsBeside(analysis, i));
    // What is positioned is clipped from its containing block up (CSS Overflow 3 §3.1).
    const from = position === 'absolute' || position === 'fixed' ? tree.containingBlock[i]! : parent;
    clipper[i] = from < 0 ? -1 : clipping[from]! > 0 ? from : clipper[from]!;
  }
  const sight = { visible, clipper, clipping };
  cache.set(analysis, sight);
  return sight;
}

const inks = new WeakMap<Analysis, Rect[][]>();

/** Where a box's own ink is: its text, or itself where it shows something. */
export function inkOf(analysis: Analysis, element: number): readonly Rect[] {
  let cached = inks.get(analysis);
  if (!cached) inks.set(analysis, (cached = []));
  return (cached[element] ??= ownInk(analysis, element));
}

function ownInk({ tree, reading }: Analysis, element: number): Rect[] {
  return isReplacedOrControl(tree, element) ? [rectOf(reading, element)] : piecesOf(tree, element);
}

const NOTHING: Rect[] = [];
const piecesOf = (tree: BoxTree, element: number): Rect[] =>
  inside(tree)
    .texts.get(element)
    ?.filter(({ blank }) => !blank)
    .flatMap(({ pieces }) => pieces.filter(({ width, height }) => width > 0.5 && height > 0.5)) ?? NOTHING;

/** The text of a button: the one control that holds what is laid out like that of any other box. */
export const labelInk = ({ tree }: Analysis, element: number): Rect[] =>
  tagOf(tree.reading, element) === 'button' ? piecesOf(tree, element) : [];

/** The part of a line in which its letters stand: lines set close overlap in what is above and below. */
export function letterBand({ x, y, width, height }: Rect): Rect {
  return { x: x + 0.5, y: y + height * 0.22, width: width - 1, height: height * 0.56 };
}

/** Whether the text of two boxes is as large as the other's and in its place: the same is written over itself. */
export function isSameInk(analysis: Analysis, element: number, other: number): boolean {
  const [a, b] = [inkOf(analysis, element)[0], inkOf(analysis, other)[0]];
  return (
    element !== other &&
    a !== undefined &&
    b !== undefined &&
    (['x', 'y', 'width', 'height'] as const).every((side) => Math.abs(a[side] - b[side]) < 0.1)
  );
}

/** The padding box: where an overflow of `hidden` cuts. */
export function paddingBox({ tree }: Analysis, element: number): Rect {
  const { rect, border, scrollbar } = laidAreas(tree, element);
  return inset(inset(rect, border), scrollbar);
}

/** A rectangle as far as what clips a box lets it be seen; null: nothing of it. */
export function visiblePart(analysis: Analysis, element: number, rect: Rect): Rect | null {
  return seenWithin(analysis, visibilityOf(analysis).clipper[element]!, rect);
}

/** The same for ink of a box: its text is clipped by the box itself as well (CSS Overflow 3 §3). */
export function visibleInk(analysis: Analysis, element: number, ink: Rect): Rect | null {
  const { clipper, clipping } = visibilityOf(analysis);
  const isClipped = clipping[element]! > 0 && !isReplacedOrControl(analysis.tree, element);
  return seenWithin(analysis, isClipped ? element : clipper[element]!, ink);
}

function seenWithin(analysis: Analysis, first: number, rect: Rect): Rect | null {
  const { clipper, clipping } = visibilityOf(analysis);
  let out: Rect | null = rect;
  for (let at = first; at >= 0 && out; at = clipper[at]!) {
    const { x, y, width, height } = paddingBox(analysis, at);
    const [onX, onY] = [(clipping[at]! & 1) > 0, (clipping[at]! & 2) > 0];
    out = intersection(out, {
      x: onX ? x : out.x,
      y: onY ? y : out.y,
      width: onX ? width : out.width,
      height: onY ? height : out.height,
    });
  }
  return out;
}

export function intersection(a: Rect, b: Rect): Rect | null {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

const isGround: Test = (ground) => ground !== '' && ground !== 'transparent' && !/^rgba.*, 0\)$/.test(ground);
const grounds = oncePerReading((reading) => columnTest(reading, 'background-color', isGround));

/** Whether a box has a ground of its own to be seen by. */
export const hasBackground = ({ reading }: Analysis, element: number): boolean =>
  grounds(reading)[element] === 1;

/** Whether a picture is declared as the ground of a box. */
export const hasGroundPicture = ({ styles }: Analysis, element: number): boolean =>
  !/^(none|initial|)$/.test(resolve(styles, element, 'background-image').value);

const isSolidGround: Test = (ground) => isGround(ground) && !/, 0?\.[0-6]\d*\)$/.test(ground);
const solidGrounds = oncePerReading((reading) => columnTest(reading, 'background-color', isSolidGround));

/** Whether the ground of a box hides what lies under it. */
export const hasSolidGround = ({ reading }: Analysis, element: number): boolean =>
  solidGrounds(reading)[element] === 1;

/** Whether what does not fit in a box goes out of it on the left. */
export const overflowsLeft = ({ reading }: Analysis, element: number): boolean =>
  usedText(reading, 'direction', element) === 'rtl';

/** Whether a transform paints a box elsewhere than it was laid out. */
export const isTransformed = ({ reading }: Analysis, element: number): boolean =>
  transformed(reading)[element] === 1;

/** Whether `above` is an element or lies around it. */
export function isSelfOrAncestor({ reading }: Analysis, above: number, element: number): boolean {
  for (let at = element; at >= above; at = reading.parent[at]!) if (at === above) return true;
  return false;
}

const shownBoxes = new WeakMap<Analysis, (readonly number[] | undefined)[]>();

/** The children of a box that have boxes and can be seen. */
export function visibleChildren(analysis: Analysis, container: number): readonly number[] {
  let all = shownBoxes.get(analysis);
  if (!all) shownBoxes.set(analysis, (all = []));
  const { visible } = visibilityOf(analysis);
  return (all[container] ??= childrenOf(analysis.tree, container).filter(
    (child) => visible[child] && hasBox(analysis.tree, child),
  ));
}

/** Elements from a box upward, itself first, up to and without `end`. */
export function selfAndAncestors({ reading }: Analysis, element: number, end = -1): number[] {
  const out: number[] = [];
  for (let at = element; at >= 0 && at !== end; at = reading.parent[at]!) out.push(at);
  return out;
}

export const boxName = ({ reading }: Analysis, element: number): string => labelOf(reading, element);

/** Boxes that are looked at for what a box cannot become narrower than. */
const MOST = 40;

/** Whether a box has a width of its own, in a unit of length: it keeps what is around it wide, though nothing is in it. */
const hasWidth = ({ styles }: Analysis, element: number): boolean =>
  ['width', 'min-width'].some((name) => /^[\d.]+[a-z]+$/i.test(resolve(styles, element, name).value));

/** Cells, boxes with widths of their own and what shows something in a box, the widest first: what keeps it wide is among them (CSS Tables 3 §4.3). */
export function widestIn(analysis: Analysis, element: number): number[] {
  const { tree, reading } = analysis;
  const out: number[] = [];
  for (let i = element + 1; i < tree.count && isSelfOrAncestor(analysis, element, i); i++)
    if (
      tree.kinds[i] === 'table-cell' ||
      isReplacedOrControl(tree, i) ||
      inkOf(analysis, i).length > 0 ||
      hasWidth(analysis, i)
    )
      out.push(i);
  const width = (element: number): number => rectOf(reading, element).width;
  return out.sort((a, b) => width(b) - width(a)).slice(0, MOST);
}
