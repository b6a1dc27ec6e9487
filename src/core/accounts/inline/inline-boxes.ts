/** Sizes of inline boxes: their text and what lies in it along the line, their font across it (CSS 2.2 §10.3.1, §10.6.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { contentsOf, flowParent, levelOf } from '../../boxes/flow.ts';
import { fontKey } from '../../reading/contents.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { isBreakAsTallAsLine, metricsOf } from '../../boxes/line-boxes.ts';
import { layoutPiece } from '../../boxes/transforms.ts';
import { frames, inside, laidOut, pxOf, usedPx } from '../../boxes/tree.ts';
import { px, sidesOf, type Axis, type Rect } from '../../geometry/rect.ts';
import { declaredOf } from '../sizing/declared.ts';
import { blockFlowOf } from '../block/margins.ts';
import { boxTerm, edgeTerms, inheritedCauses, lengthTerm, marginTerms } from '../model/term-builders.ts';
import { term, type Term } from '../model/term.ts';
import type { Sum } from '../sizing/intrinsic-sizing.ts';

const middle = ({ x, y, width, height }: Rect, axis: Axis): number =>
  axis === 'x' ? x + width / 2 : y + height / 2;
const within = (piece: Rect, rect: Rect, axis: Axis): boolean => {
  const at = middle(piece, axis);
  const from = axis === 'x' ? rect.x : rect.y;
  return at >= from - 1 && at <= from + sizeOf(rect, axis) + 1;
};

/** What lies along the line in one piece of an inline box. */
function pieceTerms(
  analysis: Analysis,
  element: number,
  piece: Rect,
  axis: Axis,
  isFirst: boolean,
  isLast: boolean,
): Term[] {
  const { tree, reading } = analysis;
  const across = axis === 'x' ? 'y' : 'x';
  const sides = flowSides(reading, element);
  const out: Term[] = [];
  const edge = (at: 'inlineStart' | 'inlineEnd') => edgeTerms(analysis, element, sides[at]);
  if (isFirst) out.push(...edge('inlineStart'));
  let text = 0;
  const visit = (owner: number) => {
    for (const node of contentsOf(tree, owner)) {
      if (node.what === 'text') {
        for (const rect of node.pieces)
          if (within(rect, piece, across)) text += sizeOf(layoutPiece(frames(tree), element, rect), axis);
      } else if (node.what === 'generated') {
        const size = pxOf(node.pseudo.values[axis === 'x' ? 'width' : 'height'] ?? '');
        if (/^(absolute|fixed)$/.test(node.pseudo.values['position'] ?? '') || Number.isNaN(size)) continue;
        out.push(
          term({
            px: size,
            what: 'generated',
            rule: 'generated',
            box: element,
            note: `the ::${node.pseudo.name} of the box`,
          }),
        );
      } else inner(node.element);
    }
  };
  const inner = (child: number) => {
    const level = levelOf(tree, child);
    if (level === 'contents') visit(child);
    else if (level === 'inline') {
      const pieces = inside(tree).fragments.get(child) ?? [laidOut(tree, child)];
      const here = pieces.filter((rect) => within(rect, piece, across));
      const size = here.reduce((sum, rect) => sum + sizeOf(layoutPiece(frames(tree), child, rect), axis), 0);
      if (here.length === 0 || (size === 0 && pieces.length > 1)) return;
      const whole = here.length === pieces.length;
      out.push(
        whole
          ? boxTerm(child, axis, size, 'inline', 'inline', labelOf(reading, child))
          : term({
              px: size,
              what: 'inline',
              rule: 'inline',
              box: child,
              note: `a piece of ${labelOf(reading, child)}`,
            }),
      );
      if (within(pieces[0]!, piece, across)) out.push(...marginTerms(analysis, child, sides.inlineStart, 1));
      if (within(pieces.at(-1)!, piece, across)) out.push(...marginTerms(analysis, child, sides.inlineEnd, 1));
    } else if (level === 'atom') {
      const { rect } = laidAreas(tree, child);
      if (!within(rect, piece, across) && !(rect.y < piece.y + piece.height && rect.y + rect.height > piece.y))
        return;
      out.push(
        boxTerm(child, axis, sizeOf(rect, axis), 'inline-level', 'inline-level', labelOf(reading, child)),
      );
      for (const side of sidesOf(axis)) out.push(...marginTerms(analysis, child, side, 1));
    }
  };
  visit(element);
  if (text !== 0)
    out.push(
      term({
        px: text,
        what: 'text',
        rule: 'text',
        box: element,
        note: `its text in ${px(usedPx(reading, 'font-size', element))}px ${fontKey(reading, element).split('|')[0]?.split(',')[0]?.replace(/["']/g, '')}`,
        causes: inheritedCauses(analysis, element, 'font-size', text / usedPx(reading, 'font-size', element)),
      }),
    );
  if (isLast) out.push(...edge('inlineEnd'));
  return out;
}

/** Pieces that lie in one line are one: engines break them where the direction of text or an element ends. */
function perLine(pieces: Rect[], across: Axis): Rect[] {
  const out: Rect[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    if (!last || !within(piece, last, across)) {
      out.push(piece);
      continue;
    }
    const [x, y] = [Math.min(last.x, piece.x), Math.min(last.y, piece.y)];
    const right = Math.max(last.x + last.width, piece.x + piece.width);
    const bottom = Math.max(last.y + last.height, piece.y + piece.height);
    out[out.length - 1] = { x, y, width: right - x, height: bottom - y };
  }
  return out;
}

export function inlineTerms(analysis: Analysis, element: number, axis: Axis): Sum {
  const { tree, reading } = analysis;
  const sides = flowSides(reading, element);
  const rect = laidOut(tree, element);
  if (rect.width === 0 && rect.height === 0) return { terms: [], lost: [] };
  const pieces = perLine(
    (inside(tree).fragments.get(element) ?? [rect]).map((rect) => layoutPiece(frames(tree), element, rect)),
    axis === sides.block ? axis : sides.block,
  );
  if (axis === sides.block) return { terms: acrossTerms(analysis, element, axis, pieces), lost: [] };
  if (pieces.length === 1) return { terms: pieceTerms(analysis, element, rect, axis, true, true), lost: [] };
  // From the piece that reaches furthest to the start to the one that reaches furthest to the end.
  const from = axis === 'x' ? rect.x : rect.y;
  const ends = pieces.map((piece) => (axis === 'x' ? piece.x + piece.width : piece.y + piece.height));
  const far = ends.indexOf(Math.max(...ends));
  const piece = pieces[far]!;
  const before = (axis === 'x' ? piece.x : piece.y) - from;
  const terms = pieceTerms(analysis, element, piece, axis, far === 0, far === pieces.length - 1);
  return {
    terms: [
      ...(Math.abs(before) > 0.005
        ? [
            term({
              px: before,
              what: 'indent',
              rule: 'pieces',
              box: element,
              note: `of its ${pieces.length} pieces another begins further to the start`,
            }),
          ]
        : []),
      ...terms,
    ],
    lost: [],
  };
}

/** Across the lines an inline box is as tall as its font, whatever the line height (CSS 2.2 §10.6.1). */
function acrossTerms(analysis: Analysis, element: number, axis: Axis, pieces: Rect[]): Term[] {
  const { tree, reading } = analysis;
  const [start, end] = sidesOf(axis);
  const owner = tagOf(reading, element) === 'br' ? reading.parent[element]! : element;
  if (isBreakAsTallAsLine(reading, element)) {
    const { lineHeight } = metricsOf(tree, owner);
    return [{ ...lengthTerm(analysis, owner, 'line-height', lineHeight, 'line'), rule: 'line-height' }];
  }
  const font = inside(tree).fonts.get(fontKey(reading, owner));
  const size = usedPx(reading, 'font-size', owner);
  const height = font ? font.ascent + font.descent : NaN;
  const out = [
    ...edgeTerms(analysis, element, start),
    term({
      px: height,
      what: 'font',
      rule: 'font',
      box: element,
      source: declaredOf(analysis, owner, 'font-size').source,
      note: `ascent and descent of its ${px(size)}px font, whatever the line height (CSS 2.2 §10.6.1)`,
      causes: inheritedCauses(analysis, owner, 'font-size', height / size),
    }),
    ...edgeTerms(analysis, element, end),
  ];
  if (pieces.length === 1) return out;
  const tops = pieces.map((piece) => (axis === 'x' ? piece.x : piece.y));
  const [low, high] = [Math.min(...tops), Math.max(...tops)];
  if (high - low < 0.05) return out;
  return [...out, linesBetween(analysis, element, axis, low, high, pieces[0]!)];
}

/** Distance between two lines as the lines between them say. */
function linesBetween(
  analysis: Analysis,
  element: number,
  axis: Axis,
  low: number,
  high: number,
  piece: Rect,
): Term {
  const { tree, reading } = analysis;
  const container = flowParent(tree, element);
  const lines = blockFlowOf(analysis, Math.max(0, container)).lines.flat();
  const centre = sizeOf(piece, axis) / 2;
  const reversed = flowSides(reading, Math.max(0, container)).blockStart === 'right';
  const at = (place: number) =>
    lines.findIndex(({ start, end }) => {
      const middleOf = reversed ? -(place + centre) : place + centre;
      return middleOf >= start - 0.5 && middleOf <= end + 0.5;
    });
  const [first, last] = reversed ? [at(high), at(low)] : [at(low), at(high)];
  const [a, b] = [lines[first], lines[last]];
  let sum = NaN;
  if (a && b && last > first) {
    sum = a.end - a.baseline + (b.baseline - b.start);
    for (let i = first + 1; i < last; i++) sum += lines[i]!.end - lines[i]!.start;
  }
  return term({
    px: Number.isNaN(sum) ? 0 : sum,
    what: 'lines',
    rule: 'lines',
    box: container,
    note: `it goes on for ${last - first} more ${last - first === 1 ? 'line' : 'lines'}`,
  });
}
