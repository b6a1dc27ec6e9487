/** What is painted at a spot, the uppermost first, and by which step of painting each lies over the next (CSS 2.2 Appendix E). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { makesContext, zIndexOf } from '../boxes/paint-order.ts';
import { hasBox, inside, rectOf, usedText } from '../boxes/tree.ts';
import { OPERATED } from '../boxes/kinds.ts';
import type { Rect } from '../geometry/rect.ts';
import { labelOf, tagOf } from '../reading/labels.ts';
import {
  hasBackground,
  hasGroundPicture,
  intersection,
  isReplacedOrControl,
  selfAndAncestors,
  visibilityOf,
  visibleInk,
  visiblePart,
} from '../visibility/visibility.ts';

export type Painted = 'text' | 'picture' | 'control' | 'ground' | 'border';

export interface Layer {
  element: number;
  painted: Painted[];
  /** Why it lies over the next one, in words without a full stop; '': it is the lowest. */
  over: string;
}

/** One thing that a box paints. */
interface Paint {
  element: number;
  painted: Painted;
}

/** Layers at a rectangle of the document, in CSS px. A box whose ground and text have others between them is in it twice. */
export function layersAt(analysis: Analysis, spot: Rect): Layer[] {
  const { reading } = analysis;
  const paints: Paint[] = [];
  for (let element = 0; element < reading.count; element++)
    for (const painted of paintedAt(analysis, element, spot)) paints.push({ element, painted });
  paints.sort((a, b) => (isOver(analysis, a, b) ? -1 : 1));
  const groups: Paint[][] = [];
  for (const paint of paints) {
    const last = groups.at(-1);
    if (last?.[0]!.element === paint.element) last.push(paint);
    else groups.push([paint]);
  }
  return groups.map((group, n) => {
    const below = groups[n + 1];
    return {
      element: group[0]!.element,
      painted: group.map(({ painted }) => painted),
      over: below ? overWords(analysis, group.at(-1)!, below[0]!) : '',
    };
  });
}

function paintedAt(analysis: Analysis, element: number, spot: Rect): Painted[] {
  const { reading, tree } = analysis;
  if (!hasBox(tree, element) || !visibilityOf(analysis).visible[element]) return [];
  const out: Painted[] = [];
  const texts = (inside(tree).texts.get(element) ?? []).flatMap(({ pieces, blank }) => (blank ? [] : pieces));
  const isSeen = (rect: Rect | null): boolean => rect !== null && intersection(rect, spot) !== null;
  if (texts.some((piece) => isSeen(visibleInk(analysis, element, piece)))) out.push('text');
  const rect = rectOf(reading, element);
  if (!isSeen(visiblePart(analysis, element, rect))) return out;
  if (isReplacedOrControl(tree, element))
    out.push(OPERATED.test(tagOf(reading, element)) ? 'control' : 'picture');
  if (hasBackground(analysis, element) || hasGroundPicture(analysis, element)) out.push('ground');
  const { border } = laidAreas(tree, element);
  const inner = {
    x: rect.x + border.left,
    y: rect.y + border.top,
    width: rect.width - border.left - border.right,
    height: rect.height - border.top - border.bottom,
  };
  const hasBorder = border.left + border.right + border.top + border.bottom > 0;
  if (hasBorder && !isWithin(spot, inner) && isBorderSeen(analysis, element)) out.push('border');
  return out;
}

const isWithin = (rect: Rect, around: Rect): boolean =>
  rect.x >= around.x &&
  rect.y >= around.y &&
  rect.x + rect.width <= around.x + around.width &&
  rect.y + rect.height <= around.y + around.height;

const isBorderSeen = ({ reading }: Analysis, element: number): boolean =>
  ['top', 'right', 'bottom', 'left'].some(
    (side) => !/^(none|hidden|)$/.test(usedText(reading, `border-${side}-style`, element)),
  );

/** The box by which a paint takes part in the painting of the stacking context that two have in common, and in which step. */
interface Part {
  element: number;
  /** The z-index of a positioned box or of a stacking context; null: it is painted in the flow. */
  level: number | null;
  step: keyof typeof STEP_WORDS;
}

/** In the order of painting. Of a box that holds the other it is its own ground that is painted first. */
const STEP_WORDS = {
  own: 'what holds it',
  block: 'the ground of a block in the flow',
  float: 'a float',
  inline: 'text or inline content',
  positioned: 'positioned',
};
const STEPS = Object.keys(STEP_WORDS);

const isInk = (painted: Painted): boolean => painted !== 'ground' && painted !== 'border';

function partOf({ tree, reading }: Analysis, { element, painted }: Paint, above: number): Part {
  const chain: number[] = [];
  for (let at = element; at >= 0 && at !== above; at = reading.parent[at]!) chain.unshift(at);
  const context = chain.find((at) => makesContext(tree, at));
  if (context !== undefined)
    return { element: context, level: zIndexOf(tree, context) ?? 0, step: 'positioned' };
  const positioned = chain.find((at) => !/^(static|)$/.test(usedText(reading, 'position', at)));
  if (positioned !== undefined) return { element: positioned, level: 0, step: 'positioned' };
  const kinds = chain.map((at) => tree.kinds[at]!);
  const isInline = isInk(painted) || kinds.some((kind) => kind.startsWith('inline'));
  const step = kinds.includes('float') ? 'float' : isInline ? 'inline' : chain.length === 0 ? 'own' : 'block';
  return { element: chain[0] ?? element, level: null, step };
}

/** The parts of two in the painting of what holds both. */
function partsOf(analysis: Analysis, a: Paint, b: Paint): [Part, Part] {
  const above = new Set(selfAndAncestors(analysis, b.element));
  const common = selfAndAncestors(analysis, a.element).find((at) => above.has(at)) ?? -1;
  return [partOf(analysis, a, common), partOf(analysis, b, common)];
}

/** Whether one is painted after the other. */
function isOver(analysis: Analysis, a: Paint, b: Paint): boolean {
  if (a.element === b.element) return isInk(a.painted) && !isInk(b.painted);
  const [one, other] = partsOf(analysis, a, b);
  const isGround = (part: Part): boolean => part.step === 'own';
  // What is below 0 is painted over the ground of the stacking context that it is in, and below all else (Appendix E, steps 1 to 3).
  if (isGround(other)) return (one.level ?? 0) >= 0 || makesContext(analysis.tree, b.element);
  if (isGround(one)) return (other.level ?? 0) < 0 && !makesContext(analysis.tree, a.element);
  if ((one.level ?? 0) !== (other.level ?? 0)) return (one.level ?? 0) > (other.level ?? 0);
  if (one.step !== other.step) return STEPS.indexOf(one.step) > STEPS.indexOf(other.step);
  return analysis.order[a.element]! > analysis.order[b.element]!;
}

/** Why the first is painted over the second, in words without a full stop. */
function overWords(analysis: Analysis, upper: Paint, lower: Paint): string {
  const { reading } = analysis;
  const [over, under] = [upper, lower].map(({ element }) => labelOf(reading, element));
  if (upper.element === lower.element) return `it is its own ${lower.painted}`;
  const [a, b] = partsOf(analysis, upper, lower);
  if (b.step === 'own') return `it lies in ${under}`;
  if (a.step === 'own') return `${under} lies in it with ${levelWords(analysis, b)}, and is painted below it`;
  const nameOf = (part: Part, whole: number): string =>
    part.element === whole
      ? labelOf(reading, whole)
      : `${labelOf(reading, part.element)}, in which ${labelOf(reading, whole)} lies,`;
  const [first, second] = [nameOf(a, upper.element), nameOf(b, lower.element)];
  if ((a.level ?? 0) !== (b.level ?? 0))
    return `${first} has ${levelWords(analysis, a)}, and ${second} ${levelWords(analysis, b)}`;
  if (a.step !== b.step)
    return `${first} is ${STEP_WORDS[a.step]}, and ${second} is ${STEP_WORDS[b.step]}: that is painted before`;
  return `${over} comes later in the document, and both are painted in one step`;
}

function levelWords(analysis: Analysis, { element, level }: Part): string {
  if (level === null) return 'no z-index: it is painted in the flow';
  const declaration = authorDeclaration(analysis, element, 'z-index');
  return declaration && declaration.value !== 'auto'
    ? `z-index ${level} ${cite(declaration)}`
    : `z-index ${level}`;
}
