/** Sizes that are declared as lengths, and what may make a box another size all the same. */
import { oncePerAnalysis } from '../model.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isSingleLineRow } from '../../boxes/formatting-contexts.ts';
import { childrenOf, usedText } from '../../boxes/tree.ts';
import { candidates } from '../../css/cascade/candidates.ts';
import { type Resolution, resolve } from '../../css/cascade/cascade.ts';
import type { Source } from '../../css/cascade/styles.ts';
import { type Axis } from '../../geometry/rect.ts';
import { isReplacedOrControl, selfAndAncestors } from '../../visibility/visibility.ts';
import { isUnseen, stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

const LENGTH = /^\d*\.?\d+(px|rem|em|pt|ch|vw|vh)$/;

/** Less than this in CSS px is a hairline that nobody measures. */
export const LEAST = 1;

export const declared = (analysis: Analysis, element: number, property: string): Resolution | null => {
  const resolution = resolve(analysis.styles, element, property);
  return resolution.winner && resolution.from === 'declared' && LENGTH.test(resolution.value)
    ? resolution
    : null;
};

/** Whether an item gave all that it could and its line, or one around it, is still too long: that is told of what sticks out of the line. */
export const isSqueezed = (analysis: Analysis, element: number): boolean =>
  selfAndAncestors(analysis, element).some((at) => isInLongLine(analysis, at));

function isInLongLine({ tree, reading }: Analysis, element: number): boolean {
  if (tree.kinds[element] !== 'flex-item') return false;
  const line = reading.parent[element]!;
  if (!isSingleLineRow(tree, line)) return false;
  const { content } = laidAreas(tree, line);
  return childrenOf(tree, line).some((child) => {
    if (tree.kinds[child] !== 'flex-item') return false;
    const { rect, margin } = laidAreas(tree, child);
    return rect.x + rect.width + margin.right > content.x + content.width + LEAST;
  });
}

/** By this part a picture can be off its shape before anyone sees it. */
export const OFF_SHAPE = 0.03;

export const LIMITS = ['min-width', 'max-width', 'min-height', 'max-height'];

export const isGiven = (analysis: Analysis, element: number, property: string): boolean =>
  authorDeclaration(analysis, element, property)?.owner === element &&
  !/^(auto|none|0)/.test(authorDeclaration(analysis, element, property)!.value);

/** Boxes that can be seen and of which a width or a height is declared: no parts of lines or tables, pictures or controls. */
export const sizedBoxes = oncePerAnalysis((analysis): number[] => {
  const { tree } = analysis;
  const out: number[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    if (stopsByGeometry(analysis, i, isReplacedOrControl(tree, i) && 'it is a picture or a control')) continue;
    const kind = tree.kinds[i]!;
    if (
      stopsByGeometry(
        analysis,
        i,
        (kind === 'inline' || kind.startsWith('table-')) && 'it is a part of a line or a table',
      )
    )
      continue;
    const asked = candidates(analysis.styles, i);
    if (
      stopsByGeometry(
        analysis,
        i,
        !asked.has('width') && !asked.has('height') && 'no width or height of it is declared',
      )
    )
      continue;
    out.push(i);
  }
  return out;
});

export interface OffDeclared {
  property: 'width' | 'height';
  value: string;
  source: Source;
  /** CSS px: what is declared, what is used, and the padding and border of the axis. */
  wanted: number;
  used: number;
  edges: number;
  /** Positive: larger than declared. */
  off: number;
  isBorderBox: boolean;
  isItem: boolean;
  /** By default it is no narrower than what is in it. */
  needsMore: boolean;
  /** It is off by its padding and border. */
  inflated: boolean;
}

/** What an axis of a box is off from what is declared of it, in CSS px; null: it is not, or it is meant to be. */
export function offDeclared(analysis: Analysis, element: number, axis: Axis): OffDeclared | null {
  const property = axis === 'x' ? 'width' : 'height';
  const resolution = declared(analysis, element, property);
  if (!resolution) {
    stopsByGeometry(analysis, element, `no ${property} of it is declared as a length`);
    return null;
  }
  const isBorderBox = usedText(analysis.reading, 'box-sizing', element) === 'border-box';
  const isItem = analysis.tree.kinds[element] === 'flex-item';
  const needsMore = axis === 'x' && hasMinimum(analysis, element);
  if (
    stopsByGeometry(
      analysis,
      element,
      isBorderBox &&
        !isItem &&
        !needsMore &&
        `its ${property} is that of its border box, and nothing around it changes it`,
    )
  )
    return null;
  const wanted = declaredPx(analysis, element, property, resolution.value);
  const { rect, border, padding } = laidAreas(analysis.tree, element);
  const used = axis === 'x' ? rect.width : rect.height;
  const [start, end] = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
  const edges = border[start] + border[end] + padding[start] + padding[end];
  const off = used - wanted;
  if (
    stopsByGeometry(
      analysis,
      element,
      (!Number.isFinite(off) || Math.abs(off) < LEAST) && `it has the ${property} that is declared`,
    )
  )
    return null;
  if (stopsByVisibility(analysis, element, wanted < 16 && `its declared ${property} is less than 16 px`))
    return null;
  const limit = resolve(analysis.styles, element, off > 0 ? `min-${property}` : `max-${property}`);
  const isLimited = limit.winner !== null && !/^(auto|none|0)/.test(limit.value);
  if (
    stopsByEvidence(
      analysis,
      element,
      isLimited && `a ${off > 0 ? 'minimum' : 'maximum'} of its ${property} is declared`,
    )
  )
    return null;
  const inflated = !isBorderBox && Math.abs(off - edges) < 0.5;
  // Of heights the edges are most often meant to come on top: rows of text are made so.
  if (
    stopsByEvidence(
      analysis,
      element,
      inflated &&
        (axis === 'y' || off < 8) &&
        `padding and border come on top of its ${property}, which is common`,
    )
  )
    return null;
  return {
    property,
    value: resolution.value,
    source: resolution.winner!.source,
    wanted,
    used,
    edges,
    off,
    isBorderBox,
    isItem,
    needsMore,
    inflated,
  };
}

/** Whether a box is by default no narrower than what is in it, whatever is declared (CSS Tables 3 §4.3, HTML §15.3.13). */
const hasMinimum = ({ tree, reading }: Analysis, element: number): boolean =>
  /^(inline-)?table$/.test(usedText(reading, 'display', element)) ||
  tagOf(tree.reading, element) === 'fieldset';
