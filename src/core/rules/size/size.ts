/** Boxes that are not as large as their author declared (CSS Sizing 3 §3, Flexbox 1 §9.7). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isOneRow } from '../../boxes/formatting-contexts.ts';
import { childrenOf, hasBox, inside, usedText } from '../../boxes/tree.ts';
import { candidates } from '../../css/cascade/candidates.ts';
import { resolve, type Resolution } from '../../css/cascade/cascade.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import { said } from '../../remedies/model.ts';
import { px, type Axis } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { isThing, name, sightOf, tagOf, upward, widestIn } from '../../visibility/visibility.ts';

export const kind = 'size';

const LENGTH = /^\d*\.?\d+(px|rem|em|pt|ch|vw|vh)$/;
/** Less than this in CSS px is a hairline that nobody measures. */
const LEAST = 1;

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    if (isThing(tree, i)) {
      out.push(...outOfShape(analysis, i));
      continue;
    }
    const kinds = tree.kinds[i]!;
    if (kinds === 'inline' || kinds.startsWith('table-')) continue;
    const asked = candidates(analysis.styles, i);
    if (!asked.has('width') && !asked.has('height')) continue;
    const square = squareOf(analysis, i) ?? offRatio(analysis, i);
    if (square) out.push(square);
    else out.push(...(['x', 'y'] as const).flatMap((axis) => ofAxis(analysis, i, axis)));
  }
  return out;
}

const declared = (analysis: Analysis, element: number, property: string): Resolution | null => {
  const made = resolve(analysis.styles, element, property);
  return made.winner && made.from === 'declared' && LENGTH.test(made.value) ? made : null;
};

/** Whether an item gave all that it could and its line, or one around it, is still too long: that is told of what sticks out of the line. */
const isSqueezed = (analysis: Analysis, element: number): boolean =>
  upward(analysis, element).some((at) => isInLongLine(analysis, at));

function isInLongLine({ tree, reading }: Analysis, element: number): boolean {
  if (tree.kinds[element] !== 'flex-item') return false;
  const line = reading.parent[element]!;
  if (!isOneRow(tree, line)) return false;
  const { content } = laidAreas(tree, line);
  return childrenOf(tree, line).some((one) => {
    if (tree.kinds[one] !== 'flex-item') return false;
    const { rect, margin } = laidAreas(tree, one);
    return rect.x + rect.width + margin.right > content.x + content.width + LEAST;
  });
}

/** Both sides say the same, and it is not a square. */
function squareOf(analysis: Analysis, element: number): Suspect | null {
  const [width, height] = [declared(analysis, element, 'width'), declared(analysis, element, 'height')];
  if (!width || !height || width.value !== height.value) return null;
  const { rect } = laidAreas(analysis.tree, element);
  const off = rect.width - rect.height;
  if (Math.abs(off) < LEAST || (off < 0 && isSqueezed(analysis, element))) return null;
  return suspect({
    kind,
    px: Math.abs(off),
    axis: off > 0 ? 'x' : 'y',
    subject: element,
    what: `${name(analysis, element)} is ${px(rect.width)} × ${px(rect.height)}, and both sides say ${width.value}`,
    form: off > 0 ? 'larger' : 'smaller',
    weight: 40 + Math.abs(off),
    source: width.winner!.source,
  });
}

/** By this part a picture can be off its shape before anyone sees it. */
const OFF_SHAPE = 0.03;

/** A picture that is drawn in another shape than its own (CSS Images 3 §5.5: `object-fit: fill`). */
function outOfShape(analysis: Analysis, element: number): Suspect[] {
  const { tree } = analysis;
  const natural = inside(tree).natural.get(element);
  if (tagOf(tree, element) !== 'img' || !natural || natural.width < 2 || natural.height < 2) return [];
  // What has no size of its own is given 300 × 150 (CSS Images 3 §4.4).
  if (natural.width === 300 && natural.height === 150) return [];
  const fit = resolve(analysis.styles, element, 'object-fit').value;
  if (!/^(fill|initial|)$/.test(fit)) return [];
  const { width, height } = laidAreas(tree, element).content;
  if (width < 16 || height < 16) return [];
  const wanted = (width * natural.height) / natural.width;
  if (Math.abs(height / wanted - 1) < OFF_SHAPE || Math.abs(height - wanted) < 2) return [];
  return [
    suspect({
      kind,
      px: Math.abs(height - wanted),
      axis: 'y',
      subject: element,
      what: `${name(analysis, element)} is drawn ${px(width)} × ${px(height)}, and its own shape is ${px(natural.width)} × ${px(natural.height)}`,
      form: 'shape',
      weight: 40 + Math.abs(height - wanted) / 4,
    }),
  ];
}

function ofAxis(analysis: Analysis, element: number, axis: Axis): Suspect[] {
  const property = axis === 'x' ? 'width' : 'height';
  const own = declared(analysis, element, property);
  if (!own) return [];
  const isBorderBox = usedText(analysis.reading, 'box-sizing', element) === 'border-box';
  const isItem = analysis.tree.kinds[element] === 'flex-item';
  const needsMore = axis === 'x' && hasMinimum(analysis, element);
  if (isBorderBox && !isItem && !needsMore) return [];
  const wanted = declaredPx(analysis, element, property, own.value);
  const { rect, border, padding } = laidAreas(analysis.tree, element);
  const used = axis === 'x' ? rect.width : rect.height;
  const [start, end] = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
  const edges = border[start] + border[end] + padding[start] + padding[end];
  const off = used - wanted;
  if (!Number.isFinite(off) || Math.abs(off) < LEAST || wanted < 16) return [];
  const limit = resolve(analysis.styles, element, off > 0 ? `min-${property}` : `max-${property}`);
  if (limit.winner && !/^(auto|none|0)/.test(limit.value)) return [];
  const inflated = !isBorderBox && Math.abs(off - edges) < 0.5;
  // Of heights the edges are most often meant to come on top: rows of text are made so.
  if (inflated && (axis === 'y' || off < 8)) return [];
  if (needsMore) {
    const more = off - (isBorderBox ? 0 : edges);
    if (more < LEAST) return [];
    return [
      suspect({
        kind,
        px: more,
        axis,
        subject: element,
        what: `${name(analysis, element)} is ${px(used)} px wide, and width: ${own.value} says ${px(wanted)}: what is in it needs more`,
        form: 'content',
        boxes: [element, ...widestIn(analysis, element)],
        weight: 20 + more,
        source: own.winner!.source,
      }),
    ];
  }
  if (!inflated && (!isItem || (axis === 'x' && off < 0 && isSqueezed(analysis, element)))) return [];
  return [
    suspect({
      kind,
      px: Math.abs(off),
      axis,
      subject: element,
      what: `${name(analysis, element)} is ${px(used)} px ${axis === 'x' ? 'wide' : 'tall'}, and ${property}: ${own.value} says ${px(wanted)}`,
      form: off > 0 ? 'larger' : 'smaller',
      weight: inflated ? Math.abs(off) / 2 : Math.abs(off),
      source: own.winner!.source,
    }),
  ];
}

/** Whether a box is by default no narrower than what is in it, whatever is declared (CSS Tables 3 §4.3, HTML §15.3.13). */
const hasMinimum = ({ tree, reading }: Analysis, element: number): boolean =>
  /^(inline-)?table$/.test(usedText(reading, 'display', element)) || tagOf(tree, element) === 'fieldset';

/** A box with an aspect ratio of its own that what is in it, or what is around it, makes another (CSS Sizing 4 §5.1). */
function offRatio(analysis: Analysis, element: number): Suspect | null {
  const { tree, reading } = analysis;
  const ratio = resolve(analysis.styles, element, 'aspect-ratio');
  const numbers = /^([\d.]+)\s*(?:\/\s*([\d.]+))?$/.exec(ratio.value);
  if (!ratio.winner || ratio.from !== 'declared' || !numbers) return null;
  // Where both sides are given it has no say.
  if (['width', 'height'].every((property) => isGiven(analysis, element, property))) return null;
  if (LIMITS.some((property) => isGiven(analysis, element, property))) return null;
  const { rect, content } = laidAreas(tree, element);
  const { width, height } = usedText(reading, 'box-sizing', element) === 'border-box' ? rect : content;
  const wanted = width / (Number(numbers[1]) / Number(numbers[2] ?? 1));
  const off = height - wanted;
  if (!Number.isFinite(off) || Math.abs(off) < 2 || Math.abs(off) < wanted * OFF_SHAPE) return null;
  return suspect({
    kind,
    px: Math.abs(off),
    axis: 'y',
    subject: element,
    what: `${name(analysis, element)} is ${px(width)} × ${px(height)}, and aspect-ratio: ${ratio.value} says ${px(width)} × ${px(wanted)}`,
    form: off > 0 ? 'ratio-larger' : 'ratio-smaller',
    weight: 30 + Math.abs(off),
    source: ratio.winner.source,
  });
}

const LIMITS = ['min-width', 'max-width', 'min-height', 'max-height'];

const isGiven = (analysis: Analysis, element: number, property: string): boolean =>
  said(analysis, element, property)?.owner === element &&
  !/^(auto|none|0)/.test(said(analysis, element, property)!.value);
