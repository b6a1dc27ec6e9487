/** The four areas of a box as used, and the sum over one axis of its border box. */
import type { Analysis } from '../analysis.ts';
import { hasBox, edgesOf, pxOf, rectOf, usedText, type BoxTree } from '../boxes/tree.ts';
import { inset, sidesOf, type Axis, type Edges, type Rect, type Side } from '../geometry/rect.ts';
import { declaredOf, type Declared } from './declared.ts';
import { account, type Account, type Term } from './term.ts';

export interface Areas {
  margin: Edges;
  border: Edges;
  padding: Edges;
  /** Room that scrollbars take between border and padding. */
  scrollbar: Edges;
  rect: Rect;
  content: Rect;
}

const half = (edges: Edges): Edges => ({
  top: edges.top / 2,
  right: edges.right / 2,
  bottom: edges.bottom / 2,
  left: edges.left / 2,
});
const NONE: Edges = { top: 0, right: 0, bottom: 0, left: 0 };

function tableAbove({ reading, kinds }: BoxTree, element: number): number {
  let at = reading.parent[element]!;
  while (at >= 0 && kinds[at] !== 'table') at = reading.parent[at]!;
  return at;
}

/** In the collapsing model a cell owns half of each border around it, and its table has no padding (CSS 2.2 §17.6.2). */
export function isCollapsed(tree: BoxTree, element: number): boolean {
  const kind = tree.kinds[element];
  const table = kind === 'table-cell' ? tableAbove(tree, element) : kind === 'table' ? element : -1;
  return table >= 0 && usedText(tree.reading, 'border-collapse', table) === 'collapse';
}

const hasNoEdges = (kind: string): boolean =>
  kind === 'table-row' || kind === 'table-row-group' || kind === 'table-column';

/** Room of scrollbars on the right and at the bottom (on the left in RTL), from the client size that was read. */
function scrollbars({ reading }: BoxTree, element: number, paddingBox: Rect): Edges {
  const { scrolls } = reading;
  for (let i = 0; i + 4 < scrolls.length; i += 5) {
    if (scrolls[i] !== element) continue;
    const width = paddingBox.width - scrolls[i + 1]!;
    const height = paddingBox.height - scrolls[i + 2]!;
    const rtl = usedText(reading, 'direction', element) === 'rtl';
    // Client sizes are whole px: less than one is rounding.
    const across = width >= 1 ? Math.round(width) : 0;
    return { ...NONE, bottom: height >= 1 ? Math.round(height) : 0, [rtl ? 'left' : 'right']: across };
  }
  return NONE;
}

export function areasOf(tree: BoxTree, element: number): Areas {
  const { reading } = tree;
  const rect = rectOf(reading, element);
  const kind = tree.kinds[element]!;
  if (!hasBox(tree, element))
    return { margin: NONE, border: NONE, padding: NONE, scrollbar: NONE, rect, content: rect };
  const bare = hasNoEdges(kind);
  const collapsed = isCollapsed(tree, element);
  const read = edgesOf(reading, 'border-width', element);
  const border = bare ? NONE : collapsed ? half(read) : read;
  const padding = bare || (collapsed && kind === 'table') ? NONE : edgesOf(reading, 'padding', element);
  const margin = bare || kind === 'table-cell' ? NONE : edgesOf(reading, 'margin', element);
  const paddingBox = inset(rect, border);
  const scrollbar = scrollbars(tree, element, paddingBox);
  return { margin, border, padding, scrollbar, rect, content: inset(inset(paddingBox, scrollbar), padding) };
}

/** The content size that the engine says it used; NaN where it says none (inline boxes, boxes that are not there). */
function contentSize({ tree, reading }: Analysis, element: number, axis: Axis, areas: Areas): number {
  const size = pxOf(usedText(reading, axis === 'x' ? 'width' : 'height', element));
  if (Number.isNaN(size) || tree.kinds[element] === 'inline') return NaN;
  const [start, end] = sidesOf(axis);
  const edges = areas.padding[start] + areas.padding[end] + areas.border[start] + areas.border[end];
  const bars = areas.scrollbar[start] + areas.scrollbar[end];
  return usedText(reading, 'box-sizing', element) === 'border-box' ? size - edges - bars : size;
}

const edgeTerm = (what: string, value: number, declared: Declared, element: number): Term => ({
  px: value,
  what,
  rule: declared.source.origin === 'browser' ? 'default' : 'declared',
  box: element,
  source: declared.source,
  note: declared.note ?? '',
});

/** Border-box width or height as border, padding, scrollbar and content, in physical order. */
export function sizeAccount(analysis: Analysis, element: number, axis: Axis, areas: Areas): Account {
  const { tree } = analysis;
  const [start, end] = sidesOf(axis);
  const property = axis === 'x' ? 'width' : 'height';
  const used = areas.rect[property];
  const terms: Term[] = [];
  const side = (area: 'border' | 'padding', at: Side) => {
    const name = area === 'border' ? `border-${at}-width` : `padding-${at}`;
    const term = edgeTerm(`${area}-${at}`, areas[area][at], declaredOf(analysis, element, name), element);
    if (area === 'border' && isCollapsed(tree, element))
      term.note = 'half of the collapsed border belongs to this cell (CSS 2.2 §17.6.2)';
    if (term.px !== 0) terms.push(term);
  };
  const bar = (at: Side) => {
    if (areas.scrollbar[at] > 0)
      terms.push({
        px: areas.scrollbar[at],
        what: 'scrollbar',
        rule: 'scrollbar',
        box: element,
        source: declaredOf(analysis, element, axis === 'x' ? 'overflow-y' : 'overflow-x').source,
        note: '',
      });
  };
  side('border', start);
  bar(start);
  side('padding', start);
  const own = contentSize(analysis, element, axis, areas);
  const declared = declaredOf(analysis, element, property);
  const auto = /^(auto|initial)$/i.test(declared.value);
  if (Number.isNaN(own))
    terms.push({
      px: areas.content[property],
      what: 'content',
      rule: 'measured',
      box: element,
      source: null,
      note: 'as measured: the engine names no size of its own for this kind of box',
    });
  else
    terms.push({
      px: own,
      what: 'content',
      rule: auto ? 'auto' : declared.source.origin === 'browser' ? 'default' : 'declared',
      box: element,
      source: auto ? null : declared.source,
      note: declared.note ?? (auto ? autoWords(analysis, element, axis) : ''),
    });
  side('padding', end);
  bar(end);
  side('border', end);
  return account(used, terms);
}

/** Why an `auto` size is what it is, as far as the kind of box tells (CSS 2.2 §10.3, §10.6; Flexbox 1 §9; Grid 2 §11). */
function autoWords({ tree, reading }: Analysis, element: number, axis: Axis): string {
  const kind = tree.kinds[element]!;
  if (kind === 'flex-item' || kind === 'grid-item')
    return `auto: what is in it, and what the ${kind.slice(0, 4)} container gives or takes`;
  if (kind.startsWith('table')) return 'auto: the table’s layout gives it';
  if (kind === 'inline-replaced' || kind === 'replaced') return 'auto: its own size or ratio';
  if (axis === 'y') return 'auto: as tall as what is in it';
  if (kind === 'float' || kind === 'inline-block') return 'auto: shrinks to fit what is in it';
  if (kind === 'absolute' || kind === 'fixed')
    return usedText(reading, 'left', element) === 'auto'
      ? 'auto: shrinks to fit what is in it'
      : 'auto: what its insets leave, or what is in it';
  return 'auto: what its containing block leaves';
}

export const edgeDeclared = (
  analysis: Analysis,
  element: number,
  area: 'margin' | 'border' | 'padding',
  side: Side,
): Declared => declaredOf(analysis, element, area === 'border' ? `border-${side}-width` : `${area}-${side}`);
