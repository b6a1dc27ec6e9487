/** What stands behind one used value: the declaration or default, and where a relative length comes from. */
import type { Analysis } from '../analysis.ts';
import { KIND_WORDS } from '../boxes/kind.ts';
import { labelOf } from '../boxes/label.ts';
import { edgesOf, rectOf, usedPx, usedText } from '../boxes/tree.ts';
import { resolve, sourceOf, type Resolution } from '../css/cascade.ts';
import type { Origin, Source } from '../css/styles.ts';
import { dimensionOf, lengthNote, lengthPx, shortNumber, type LengthContext } from '../css/lengths.ts';
import { inset, px } from '../geometry/rect.ts';

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

const ORIGIN_WORDS: Record<Origin, string> = {
  author: '',
  inline: '',
  attribute: '',
  trial: '',
  browser: 'by the browser’s default',
};

export function originWords(source: Source): string {
  return ORIGIN_WORDS[source.origin];
}

/** Content box of the containing block; the viewport for the initial one. */
export function containingSize(
  { tree, reading }: Analysis,
  element: number,
): { width: number; height: number; whose: string } {
  const block = tree.containingBlock[element]!;
  if (block < 0) {
    const { clientWidth, clientHeight } = reading.document;
    return { width: clientWidth, height: clientHeight, whose: 'the viewport' };
  }
  const positioned = tree.kinds[element] === 'absolute' || tree.kinds[element] === 'fixed';
  const paddingBox = inset(rectOf(reading, block), edgesOf(reading, 'border-width', block));
  const box = positioned ? paddingBox : inset(paddingBox, edgesOf(reading, 'padding', block));
  return { width: box.width, height: box.height, whose: labelOf(reading, block) };
}

const lineHeightPx = (analysis: Analysis, element: number): number => {
  const { reading } = analysis;
  return usedPx(reading, 'line-height', element);
};

/** How a root font size came about, for the reason of a `rem`: `html font-size 0.875 × 16`. */
function rootFontWords(analysis: Analysis): string {
  const own = resolve(analysis.styles, 0, 'font-size');
  const dimension = own.from === 'declared' ? dimensionOf(own.value) : null;
  if (dimension && (dimension.unit === '%' || dimension.unit === 'em' || dimension.unit === 'rem'))
    return `html font-size ${shortNumber(dimension.unit === '%' ? dimension.number / 100 : dimension.number)} × 16`;
  return own.from === 'declared' ? `html font-size ${own.value}` : 'html font-size, the browser’s default';
}

const VERTICAL_PERCENT = /^(min-|max-)?(height|block-size)$|^(top|bottom)$/;

export function lengthContext(analysis: Analysis, element: number, property: string): LengthContext {
  const { reading } = analysis;
  const parent = reading.parent[element]!;
  const ofFont = property === 'font-size';
  const fontOwner = ofFont ? parent : element;
  const containing = containingSize(analysis, element);
  const vertical = VERTICAL_PERCENT.test(property);
  let percentBase = vertical ? containing.height : containing.width;
  let percentOf = `${vertical ? 'height' : 'width'} of ${containing.whose}`;
  if (ofFont) {
    percentBase = fontOwner < 0 ? 16 : usedPx(reading, 'font-size', fontOwner);
    percentOf = fontOwner < 0 ? 'the browser’s font size' : `font size of ${labelOf(reading, fontOwner)}`;
  } else if (property === 'line-height') {
    percentBase = usedPx(reading, 'font-size', element);
    percentOf = 'own font size';
  }
  return {
    em: fontOwner < 0 ? 16 : usedPx(reading, 'font-size', fontOwner),
    emOf: ofFont
      ? fontOwner < 0
        ? 'the browser’s font size'
        : `font size of ${labelOf(reading, fontOwner)}`
      : 'own font size',
    rem: ofFont && element === 0 ? 16 : usedPx(reading, 'font-size', 0),
    remOf: ofFont && element === 0 ? 'the browser’s font size' : rootFontWords(analysis),
    lineHeight: lineHeightPx(analysis, element),
    rootLineHeight: lineHeightPx(analysis, 0),
    viewport: reading.viewport,
    percentBase,
    percentOf,
  };
}

/** The length in px that a value of this property comes to by its own arithmetic; NaN where it has none. */
export const declaredPx = (analysis: Analysis, element: number, property: string, value: string): number =>
  lengthPx(value, lengthContext(analysis, element, property));

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
  const owner =
    resolution.from === 'inherited' && resolution.inheritedFrom >= 0 ? resolution.inheritedFrom : element;
  return {
    property,
    value,
    written,
    source,
    from: resolution.from,
    inheritedFrom: resolution.from === 'inherited' ? resolution.inheritedFrom : -1,
    note: lengthNote(value, lengthContext(analysis, owner, property)),
  };
}

/** `fares.css:12` or what stands in its place for what no sheet says. */
export function placeOf(source: Source): string {
  if (source.origin === 'browser') return 'browser';
  if (source.line === 0) return source.sheet;
  return `${source.sheet}:${source.line}:${source.column}`;
}

/** In one phrase what declared a value: `.fare { width: 300px }, css/fares.css:12:3`. */
export function citation({ source, value }: Pick<Declared, 'source' | 'value'>): string {
  if (source.origin === 'browser') return `${source.property}: ${value}, ${originWords(source)}`;
  return `${source.selector || 'style attribute'}, ${placeOf(source)}`;
}

export const kindPhrase = ({ tree }: Analysis, element: number): string => KIND_WORDS[tree.kinds[element]!];

export const fontWords = ({ reading }: Analysis, element: number): string => {
  const family = usedText(reading, 'font-family', element).split(',')[0]?.replace(/["']/g, '') ?? '';
  return `${px(usedPx(reading, 'font-size', element))}px ${family}`;
};
