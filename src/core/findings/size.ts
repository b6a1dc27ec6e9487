/** Boxes that are not as large as their author declared (CSS Sizing 3 §3, Flexbox 1 §9.7). */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { hasBox, usedText } from '../boxes/tree.ts';
import { candidates, resolve, type Resolution } from '../css/cascade.ts';
import { declaredPx } from '../accounts/declared.ts';
import { px, type Axis } from '../geometry/rect.ts';
import { suspect, type Suspect } from './finding.ts';
import { isThing, name, sightOf } from './sight.ts';

export const kind = 'size';

const LENGTH = /^\d*\.?\d+(px|rem|em|pt|ch|vw|vh)$/;
/** Less than this in CSS px is a hairline that nobody measures. */
const LEAST = 1;

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || isThing(tree, i)) continue;
    const kinds = tree.kinds[i]!;
    if (kinds === 'inline' || kinds.startsWith('table')) continue;
    const asked = candidates(analysis.styles, i);
    if (!asked.has('width') && !asked.has('height')) continue;
    const square = squareOf(analysis, i);
    if (square) out.push(square);
    else out.push(...(['x', 'y'] as const).flatMap((axis) => ofAxis(analysis, i, axis)));
  }
  return out;
}

const declared = (analysis: Analysis, element: number, property: string): Resolution | null => {
  const made = resolve(analysis.styles, element, property);
  return made.winner && made.from === 'declared' && LENGTH.test(made.value) ? made : null;
};

/** Both sides say the same, and it is not a square. */
function squareOf(analysis: Analysis, element: number): Suspect | null {
  const [width, height] = [declared(analysis, element, 'width'), declared(analysis, element, 'height')];
  if (!width || !height || width.value !== height.value) return null;
  const { rect } = laidAreas(analysis.tree, element);
  const off = rect.width - rect.height;
  if (Math.abs(off) < LEAST) return null;
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

function ofAxis(analysis: Analysis, element: number, axis: Axis): Suspect[] {
  const property = axis === 'x' ? 'width' : 'height';
  const own = declared(analysis, element, property);
  if (!own) return [];
  const wanted = declaredPx(analysis, element, property, own.value);
  const { rect, border, padding } = laidAreas(analysis.tree, element);
  const used = axis === 'x' ? rect.width : rect.height;
  const [start, end] = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
  const edges = border[start] + border[end] + padding[start] + padding[end];
  const off = used - wanted;
  if (!Number.isFinite(off) || Math.abs(off) < LEAST || wanted < 16) return [];
  const limit = resolve(analysis.styles, element, off > 0 ? `min-${property}` : `max-${property}`);
  if (limit.winner && !/^(auto|none|0)/.test(limit.value)) return [];
  const isBorderBox = usedText(analysis.reading, 'box-sizing', element) === 'border-box';
  const inflated = !isBorderBox && Math.abs(off - edges) < 0.5;
  // Of heights the edges are most often meant to come on top: rows of text are made so.
  if (inflated && (axis === 'y' || off < 8)) return [];
  const isItem = analysis.tree.kinds[element] === 'flex-item';
  if (!inflated && !isItem) return [];
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
