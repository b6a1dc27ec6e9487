/** Sums told in one sentence: terms of one kind together, in the order in which they are asked about. */
import type { Analysis } from '../../analysis.ts';
import type { Areas } from '../../boxes/areas.ts';
import { labelOf } from '../../reading/labels.ts';
import { px, same, sidesOf, type Axis } from '../../geometry/rect.ts';
import type { Account, Term } from './term.ts';

interface Kind {
  /** What the group is called; `n` terms are in it. */
  words: (analysis: Analysis, terms: Term[]) => string;
  /** Every number is shown; else their sum. */
  each: boolean;
}

const plain = (words: string, each = true): Kind => ({ words: () => words, each });
const counted = (text: string, more: string): Kind => ({
  words: (_, terms) => (terms.length === 1 ? text : `for ${terms.length} ${more}`),
  each: false,
});
const named = (before: string, otherwise: string): Kind => ({
  words: ({ reading }, terms) => {
    const boxes = [...new Set(terms.map(({ box }) => box))];
    return boxes.length === 1 && boxes[0]! >= 0 ? `${before} ${labelOf(reading, boxes[0]!)}` : otherwise;
  },
  each: true,
});

const KINDS: Record<string, Kind> = {
  container: {
    words: ({ reading }, [first]) =>
      first!.box < 0
        ? 'room in the viewport'
        : first!.links?.some(({ area }) => area === 'area')
          ? 'room in its grid area'
          : `room in ${labelOf(reading, first!.box)}`,
    each: true,
  },
  content: plain('content'),
  'border-box': plain('border box'),
  text: plain('text', false),
  font: plain('font'),
  line: plain('lines', false),
  lines: plain('lines', false),
  child: counted('for the box in it', 'boxes in it'),
  sibling: named('taken by', 'taken by siblings'),
  share: { words: (_, [first]) => (first!.px < 0 ? 'of the missing space' : 'of the free space'), each: true },
  track: counted('for its track', 'tracks'),
  column: counted('for its column', 'columns'),
  row: counted('for its row', 'rows'),
  cell: named('for', 'for cells'),
  inline: plain('inline boxes', false),
  'inline-level': plain('inline-level boxes', false),
  gap: plain('gaps', false),
  spacing: plain('spacing', false),
  float: named('for the float', 'for floats'),
  padding: plain('padding'),
  border: plain('border'),
  scrollbar: plain('scrollbar'),
  margin: plain('margin'),
  offset: plain('relative offset'),
  transform: plain('by the transform'),
};

function kindOf(what: string): string {
  if (what in KINDS) return what;
  if (/^line-/.test(what)) return 'line';
  const area = what.split('-')[0]!;
  return area in KINDS ? area : what;
}

/** `10 + 10` for two, the sum for more than four. */
function numbers(terms: Term[], each: boolean): string {
  const shown = terms.filter((term) => !same(term.px, 0) || terms.length === 1);
  const list = shown.length > 0 ? shown : terms.slice(0, 1);
  if (!each || list.length > 4) return px(list.reduce((sum, term) => sum + term.px, 0));
  return list.map((term) => px(term.px)).join(' + ');
}

/** `720 wide = 1200 room in main, less 24 + 24 margin, 432 taken by aside.` */
export function sumSentence(analysis: Analysis, sum: Account, what: string): string {
  const groups = new Map<string, Term[]>();
  for (const term of sum.terms) {
    if (term.rule === 'margin-collapsed' && term.px === 0) continue;
    const key = `${term.px < 0 ? 'less' : 'more'} ${kindOf(term.what)}`;
    const cached = groups.get(key);
    if (cached) cached.push(term);
    else groups.set(key, [term]);
  }
  const order = Object.keys(KINDS);
  const rank = (key: string) => {
    const at = order.indexOf(key.slice(5));
    return at < 0 ? order.length : at;
  };
  const parts = (sign: 'more' | 'less') =>
    [...groups]
      .filter(([key]) => key.startsWith(sign))
      .sort(([a], [b]) => rank(a) - rank(b))
      .map(([key, terms]) => {
        const kind = KINDS[key.slice(5)] ?? plain(key.slice(5).replace(/-/g, ' '));
        const shown = sign === 'less' ? terms.map((term) => ({ ...term, px: -term.px })) : terms;
        return `${numbers(shown, kind.each)} ${kind.words(analysis, terms)}`;
      });
  const [more, less] = [parts('more'), parts('less')];
  const rest = same(sum.residual, 0) ? '' : `; ${px(sum.residual)} not explained`;
  const whole = `${more.join(', ') || '0 content'}${less.length > 0 ? `, less ${less.join(', ')}` : ''}`;
  return `${px(sum.used)} ${what} = ${whole}${rest}.`;
}

/** How the border box is divided: content, padding, border, scrollbar. */
export function innerSentence(areas: Areas, axis: Axis): string {
  const [start, end] = sidesOf(axis);
  const size = axis === 'x' ? areas.content.width : areas.content.height;
  const parts = [`${px(size)} content`];
  const add = (a: number, b: number, word: string) => {
    if (a !== 0 && b !== 0) parts.push(`${px(a)} + ${px(b)} ${word}`);
    else if (a + b !== 0) parts.push(`${px(a + b)} ${word}`);
  };
  add(areas.padding[start], areas.padding[end], 'padding');
  add(areas.border[start], areas.border[end], 'border');
  add(areas.scrollbar[start], areas.scrollbar[end], 'scrollbar');
  return `Inside: ${parts.join(', ')}.`;
}
