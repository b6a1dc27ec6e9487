/** What stands behind one used value: the declaration or default, and where a relative length comes from. */
import type { Analysis } from '../../analysis.ts';
import { columnTest, type Test } from '../../reading/column-predicates.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { areaOf } from '../../boxes/grid-tracks.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { computedText, inside, pxOf, usedPx, usedText, type BoxTree } from '../../boxes/tree.ts';
import { fontKey } from '../../reading/contents.ts';
import { resolve, sourceOf, type Resolution } from '../../css/cascade/cascade.ts';
import { type Source } from '../../css/cascade/styles.ts';
import { heightBasis, isAuto } from './percentage-definiteness.ts';
import {
  dimensionOf,
  lengthNote,
  lengthPx,
  shortNumber,
  type ContainerAxis,
  type LengthContext,
  type QueryContainer,
} from '../../css/values/lengths.ts';
import { inset, px, type Axis } from '../../geometry/rect.ts';

export interface Declared {
  property: string;
  /** As declared, `var()` substituted. */
  value: string;
  /** As the author wrote it, where that is another text (`var()`, a shorthand). */
  written: string | null;
  source: Source;
  from: Resolution['from'];
  /** Element whose declaration is inherited, −1 for none. */
  inheritedFrom: number;
  /** Where a relative length comes from. */
  note: string | null;
}

/** What percentages of a box's sizes are taken of, in CSS px: its containing block's box, or its grid area. */
export interface Basis {
  width: number;
  height: number;
  whose: string;
  /** −1: the viewport. */
  box: number;
  area: 'content' | 'padding' | 'border' | 'area';
}

const isSet: Test = (text) => text !== '' && text !== 'auto';

/** Width of one column of a box that is set in columns (Multi-column 1 §3.4); null: it is not. */
export function columnRoom(tree: BoxTree, element: number): number | null {
  const { reading } = tree;
  const isInColumns = ['column-count', 'column-width'].some(
    (property) => columnTest(reading, property, isSet)[element] === 1,
  );
  if (!isInColumns) return null;
  const [count, width] = [usedText(reading, 'column-count', element), usedPx(reading, 'column-width', element)];
  const wanted = Number(count);
  if (!wanted && Number.isNaN(width)) return null;
  const room = laidAreas(tree, element).content.width;
  const gap = usedText(reading, 'column-gap', element);
  const between = gap === 'normal' || gap === '' ? usedPx(reading, 'font-size', element) : pxOf(gap) || 0;
  const fit = Number.isNaN(width) ? Infinity : Math.max(1, Math.floor((room + between) / (width + between)));
  const columns = Math.min(wanted || Infinity, fit);
  return (room - between * (columns - 1)) / columns;
}

export function containingSize({ tree, reading }: Analysis, element: number): Basis {
  const block = tree.containingBlock[element]!;
  if (block < 0) {
    const { clientWidth, clientHeight } = reading.document;
    return { width: clientWidth, height: clientHeight, whose: 'the viewport', box: -1, area: 'content' };
  }
  if (tree.kinds[element] === 'table-caption') {
    const { width, height } = laidAreas(tree, block).rect;
    return { width, height, whose: labelOf(reading, block), box: block, area: 'border' };
  }
  const columns = columnRoom(tree, block);
  if (tree.kinds[element] === 'grid-item') {
    const area = areaOf(tree, element);
    if (area) {
      const { width, height } = area.rect;
      return { width, height, whose: `its grid area in ${labelOf(reading, block)}`, box: block, area: 'area' };
    }
  }
  const { rect, border, scrollbar, content } = laidAreas(tree, block);
  const positioned = tree.kinds[element] === 'absolute' || tree.kinds[element] === 'fixed';
  const box = positioned ? inset(inset(rect, border), scrollbar) : content;
  if (columns && !positioned)
    return {
      width: columns,
      height: box.height,
      whose: `a column of ${labelOf(reading, block)}`,
      box: block,
      area: 'content',
    };
  return {
    width: box.width,
    height: box.height,
    whose: labelOf(reading, block),
    box: block,
    area: positioned ? 'padding' : 'content',
  };
}

/** How a root font size came about, for the reason of a `rem`: `html font-size 0.875 × 16`. */
function rootFontWords(analysis: Analysis): string {
  const resolution = resolve(analysis.styles, 0, 'font-size');
  const dimension = resolution.from === 'declared' ? dimensionOf(resolution.value) : null;
  if (dimension && (dimension.unit === '%' || dimension.unit === 'em' || dimension.unit === 'rem'))
    return `html font-size ${shortNumber(dimension.unit === '%' ? dimension.number / 100 : dimension.number)} × 16`;
  return resolution.from === 'declared'
    ? `html font-size ${resolution.value}`
    : 'html font-size, the browser’s default';
}

/** Properties whose values are lengths, so that a relative one comes from something. */
const LENGTHS =
  /^((min-|max-)?(width|height)|(margin|padding)-(top|right|bottom|left)|border-(top|right|bottom|left)-width|top|right|bottom|left|font-size|line-height|text-indent|letter-spacing|word-spacing|row-gap|column-gap|column-width|flex-basis|vertical-align|border-spacing)$/;
const OF_HEIGHT = /^(min-|max-)?height$|^(top|bottom)$/;
const OF_FONT = /^(line-height|letter-spacing|word-spacing)$/;
const LINE_WIDTHS: Record<string, number> = { thin: 1, medium: 3, thick: 5 };

/**
 * In quirks mode heights in percent are taken of the next box that has one; body and html have the viewport's (Quirks
 * Mode §3.5). `fills`: the viewport's, less what the box takes for its edges. null: no quirk applies.
 */
export function quirkBasis(analysis: Analysis, element: number): { box: number; fills: boolean } | null {
  const { tree, reading } = analysis;
  if (reading.document.mode !== 'quirks') return null;
  const { element: box, definite } = heightBasis(analysis, element);
  if (!definite || box === tree.containingBlock[element]!) {
    if (box < 0 || tagOf(reading, box) !== 'body') return null;
  }
  const fills =
    box < 0 || (/^(html|body)$/.test(tagOf(reading, box)) && isAuto(declaredOf(analysis, box, 'height').value));
  return { box, fills };
}

function quirkHeight(analysis: Analysis, element: number): { base: number; of: string } | null {
  const { tree, reading } = analysis;
  const basis = quirkBasis(analysis, element);
  if (!basis) return null;
  if (basis.box < 0) return { base: reading.document.clientHeight, of: 'height of the viewport' };
  const { content, margin, border, padding } = laidAreas(tree, basis.box);
  const whose = labelOf(reading, basis.box);
  if (!basis.fills) return { base: content.height, of: `height of ${whose}` };
  const edges = margin.top + margin.bottom + border.top + border.bottom + padding.top + padding.bottom;
  return {
    base: reading.document.clientHeight - edges,
    of: `height of the viewport, as ${whose} has it in quirks mode`,
  };
}

/** What a percentage of the property refers to: each property's own definition says it. NaN: it cannot be told here. */
function percentage(analysis: Analysis, element: number, property: string): { base: number; of: string } {
  const { reading, tree } = analysis;
  const parent = reading.parent[element]!;
  if (property === 'font-size')
    return parent < 0
      ? { base: 16, of: 'the browser’s font size' }
      : { base: usedPx(reading, 'font-size', parent), of: `font size of ${labelOf(reading, parent)}` };
  if (OF_FONT.test(property)) return { base: usedPx(reading, 'font-size', element), of: 'own font size' };
  if (property === 'vertical-align')
    return { base: usedPx(reading, 'line-height', element), of: 'own line height' };
  if (/gap$|^border-spacing$/.test(property)) return { base: NaN, of: '' };
  const column =
    property === 'flex-basis' &&
    /^column/.test(usedText(reading, 'flex-direction', tree.containingBlock[element]!));
  const { width, height, whose, box } = containingSize(analysis, element);
  if (OF_HEIGHT.test(property) && /height$/.test(property)) {
    const quirk = quirkHeight(analysis, element);
    if (quirk) return quirk;
  }
  // Margins and paddings are taken of the inline size, which is the height in vertical writing (CSS Box 4 §3.1).
  const upright = /^(margin|padding)/.test(property) && box >= 0 && flowSides(reading, box).inline === 'y';
  return OF_HEIGHT.test(property) || column || upright
    ? { base: height, of: `height of ${whose}` }
    : { base: width, of: `width of ${whose}` };
}

export function lengthContext(analysis: Analysis, element: number, property: string): LengthContext {
  const { reading } = analysis;
  const ofFont = property === 'font-size';
  const fontOwner = ofFont ? reading.parent[element]! : element;
  const { base, of } = percentage(analysis, element, property);
  const font = fontOwner < 0 ? undefined : inside(analysis.tree).fonts.get(fontKey(reading, fontOwner));
  return {
    em: fontOwner < 0 ? 16 : usedPx(reading, 'font-size', fontOwner),
    emOf: ofFont ? percentage(analysis, element, 'font-size').of : 'own font size',
    rem: ofFont && element === 0 ? 16 : usedPx(reading, 'font-size', 0),
    remOf: ofFont && element === 0 ? 'the browser’s font size' : rootFontWords(analysis),
    zero: font?.zero ?? NaN,
    xHeight: font?.xHeight ?? NaN,
    lineHeight: usedPx(reading, 'line-height', element),
    rootLineHeight: usedPx(reading, 'line-height', 0),
    viewport: reading.viewport,
    percentBase: base,
    percentOf: of,
    container: (axis) => queryContainer(analysis, element, axis),
  };
}

/** The nearest box around an element whose size along an axis can be asked about (Conditional 5 §7). */
function queryContainer(analysis: Analysis, element: number, axis: ContainerAxis): QueryContainer {
  const { reading, tree } = analysis;
  for (let at = reading.parent[element]!; at >= 0; at = reading.parent[at]!) {
    const type = usedText(reading, 'container-type', at);
    if (!/\b(inline-)?size\b/.test(type)) continue;
    const { inline, block } = flowSides(reading, at);
    const physical: Axis = axis === 'w' ? 'x' : axis === 'h' ? 'y' : axis === 'i' ? inline : block;
    if (!/(^|\s)size\b/.test(type) && physical !== inline) continue;
    const { content } = laidAreas(tree, at);
    const word = physical === 'x' ? 'width' : 'height';
    return { size: content[word], whose: `${word} of ${labelOf(reading, at)}`, box: at };
  }
  const { width, height } = reading.viewport;
  const isAcross = axis === 'w' || (axis === 'i') === (flowSides(reading, element).inline === 'x');
  const isWidth = axis === 'h' ? false : isAcross;
  return { size: isWidth ? width : height, whose: `viewport ${isWidth ? 'width' : 'height'}`, box: -1 };
}

/** Where a value of this property has its px from; null where it says so itself or is no length. */
function noteOf(analysis: Analysis, element: number, property: string, value: string): string | null {
  if (!LENGTHS.test(property)) return null;
  const width = property.startsWith('border') ? LINE_WIDTHS[value.toLowerCase()] : undefined;
  if (width !== undefined) return `${value} = ${width}px`;
  const context = lengthContext(analysis, element, property);
  // A number alone is a multiple of the font size of each element that inherits it (CSS Inline 3 §5.1).
  if (property === 'line-height' && /^[\d.]+$/.test(value))
    return `${value} = ${px(Number(value) * context.em)}px: ${value} × ${px(context.em)} (own font size)`;
  return lengthNote(value, context);
}

const COMPUTED_SIZES = /^(min-|max-)?(width|height)$/;

/**
 * The length in px that a value of this property comes to: by its own arithmetic, or, whatever function it is written with, as
 * the engine has computed it. NaN where it is no length.
 */
export function declaredPx(analysis: Analysis, element: number, property: string, value: string): number {
  const length = lengthPx(value, lengthContext(analysis, element, property));
  if (!Number.isNaN(length) || !COMPUTED_SIZES.test(property) || !value.includes('(')) return length;
  const computed = computedText(analysis.reading, property, element);
  return /^[\d.]+px$/.test(computed) ? pxOf(computed) : NaN;
}

export function declaredOf(analysis: Analysis, element: number, property: string): Declared {
  const resolution = resolve(analysis.styles, element, property);
  return describeResolution(analysis, element, resolution);
}

export function describeResolution(analysis: Analysis, element: number, resolution: Resolution): Declared {
  const { styles } = analysis;
  const source = sourceOf(styles, element, resolution);
  const { property, winner, value } = resolution;
  const written =
    winner && resolution.from === 'declared' && winner.declaration.value !== value
      ? winner.declaration.value
      : null;
  // A line height that is a number is a multiple of the font size of whoever inherits it.
  const multiple = property === 'line-height' && /^[\d.]+$/.test(value);
  const inherited = resolution.from === 'inherited' && resolution.inheritedFrom >= 0 && !multiple;
  const owner = inherited ? resolution.inheritedFrom : element;
  return {
    property,
    value,
    written,
    source,
    from: resolution.from,
    inheritedFrom: resolution.from === 'inherited' ? resolution.inheritedFrom : -1,
    note: noteOf(analysis, owner, property, value),
  };
}

/** `fares.css:12` or what stands in its place for what no sheet says. */
export function placeOf(source: Source): string {
  if (source.origin === 'browser') return 'browser';
  if (source.line === 0) return source.sheet;
  return `${source.sheet}:${source.line}:${source.column}`;
}

export const fontWords = ({ reading }: Analysis, element: number): string => {
  const family = usedText(reading, 'font-family', element).split(',')[0]?.replace(/["']/g, '') ?? '';
  return `${px(usedPx(reading, 'font-size', element))}px ${family}`;
};
