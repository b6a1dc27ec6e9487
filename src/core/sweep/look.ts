/** What a sweep keeps of the reading at one width. */
import type { Analysis } from '../analysis.ts';
import { labelOf } from '../boxes/label.ts';
import { linesOfEach } from '../boxes/ownlines.ts';
import type { FindingKind, Suspect } from '../findings/finding.ts';
import { detectAll } from '../findings/index.ts';
import type { Axis } from '../geometry/rect.ts';
import type { Near } from '../search/scan.ts';
import { shapeOf } from './shape.ts';
import type { Lined } from './short.ts';

/** A finding as it is at one width. */
export interface FoundAt {
  kind: FindingKind;
  axis: Axis;
  px: number;
  /** How many places it has, and px where it is least wrong. */
  places: number;
  least: number;
  subject: number;
  other: number | null;
  what: string;
  form: string;
}

/** What is laid out at one width. */
export interface Outline {
  width: number;
  /** CSS px of the page: what it scrolls over, and what is seen of it. */
  scrollWidth: number;
  scrollHeight: number;
  clientWidth: number;
  clientHeight: number;
  shape: Map<string, string>;
  /** By keys of the shape: px by which something must be wider, or about so many, for what is said of it to change. */
  short: Map<string, number>;
  /** By element: texts that take several lines. */
  lined: Map<number, Lined>;
  /** Border boxes as in a reading. */
  rects: Float32Array;
  /** Lines of the text of each element and of what lies in it. */
  lines: Uint8Array;
}

export interface Look extends Outline {
  found: Map<string, FoundAt>;
  /** Whether findings are those of another width, at which they are not as large. */
  isTaken: boolean;
  /** The same for two widths where nothing but sizes and places is different: of the shape, and of findings. */
  signs: { shape: string; found: string };
}

/** By what a finding is known again at another width, where another of several alike boxes may be the worst. */
export function bandKey({ reading }: Analysis, { kind, axis, subject, source }: Suspect): string {
  if (source && (kind === 'inert' || kind === 'dropped'))
    return `${kind} ${source.sheet} ${source.line} ${source.column} ${source.property}`;
  const parent = reading.parent[subject]!;
  return `${kind} ${axis} ${labelOf(reading, subject)} in ${parent < 0 ? '' : labelOf(reading, parent)}`;
}

/** Px below which nothing is told. */
const LEAST = 1;
/** The same where a page scrolls by its last px: for half of one it does. */
const LAST = 0.4;

export function outlineOf(analysis: Analysis): Outline {
  const { reading, tree } = analysis;
  const { document, viewport } = reading;
  const lines = new Uint8Array(reading.count);
  linesOfEach(tree).forEach((number, i) => (lines[i] = Math.min(255, number)));
  return {
    width: viewport.width,
    scrollWidth: document.scrollWidth,
    scrollHeight: document.scrollHeight,
    clientWidth: document.clientWidth,
    clientHeight: document.clientHeight,
    ...shapeOf(analysis),
    rects: Float32Array.from(reading.rects),
    lines,
  };
}

/** `found`: what is wrong at that width. */
export function lookAt(
  analysis: Analysis,
  found: readonly Suspect[] = detectAll(analysis),
  outline = outlineOf(analysis),
): Look {
  const least = outline.scrollWidth - outline.clientWidth <= 1 ? LAST : LEAST;
  const bands = new Map<string, FoundAt>();
  for (const one of found) {
    if (one.meant !== '' || (one.px !== 0 && one.px < least)) continue;
    const key = bandKey(analysis, one);
    const { kind, axis, px, subject, other, what, form } = one;
    const known = bands.get(key);
    const places = one.places.length + (known?.places ?? 0);
    const lightest = Math.min(one.least, known?.least ?? Infinity);
    const worst = known && known.px >= px ? known : { kind, axis, px, subject, other, what, form };
    bands.set(key, { ...worst, places, least: lightest });
  }
  // What is too large at one width and too small at another is right somewhere between. Where one place of several gets
  // better, it may go through something else on the way.
  const signs = [...bands].map(([key, { form, places }]) => `${key} ${form} ${places}`);
  return {
    ...outline,
    found: bands,
    isTaken: false,
    signs: { shape: shapeSign(outline), found: signs.sort().join('\n') },
  };
}

const shapeSign = ({ shape }: Outline): string => [...shape].map(([key, word]) => `${key} ${word}`).join('\n');

/**
 * The look at a width between two others of different shapes at which the same is found, where its shape is that of one of them:
 * so, most likely, is what is found. null: it must be looked for.
 */
export function lookBetween(outline: Outline, { below, above }: Near<Look>): Look | null {
  if (!below || !above || below.signs.found !== above.signs.found) return null;
  if (below.signs.shape === above.signs.shape) return null;
  const shape = shapeSign(outline);
  const like = [below, above].find(({ signs }) => signs.shape === shape);
  return like ? { ...outline, found: like.found, isTaken: true, signs: like.signs } : null;
}

export const isSameLook = ({ signs: a }: Look, { signs: b }: Look): boolean =>
  a.shape === b.shape && a.found === b.found;
