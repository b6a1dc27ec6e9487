/** What a sweep keeps of the reading at one width. */
import type { Source } from '../css/cascade/styles.ts';
import { isWorseGrade, type Fact, type Grade } from '../evidence/model.ts';
import type { FindingKind, Observation, Variant } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { scrollableBy } from '../boxes/viewport-overflow.ts';
import { labelOf } from '../reading/labels.ts';
import { linesOfEach } from '../boxes/text-lines.ts';
import { mediaWithoutEffect } from '../css/media/media-without-effect.ts';
import { observeAll, type RuleId } from '../rules/index.ts';
import type { Axis } from '../geometry/rect.ts';
import { keyOfPart, layoutSignature } from './layout-signature.ts';
import type { Lined } from './distance-to-change.ts';

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
  rule: RuleId;
  variant: Variant | null;
  grade: Grade;
  evidence: readonly Fact[];
  /** Where the user has graded it: what the evidence came to, and why they say otherwise. */
  said?: { was: Grade; why: string };
  source: Source | null;
}

export interface Snapshot {
  width: number;
  /** CSS px over which a user can scroll the page. */
  scrollableX: number;
  scrollableY: number;
  /** CSS px of the page: what it reaches to, and what is seen of it. */
  scrollWidth: number;
  scrollHeight: number;
  clientWidth: number;
  clientHeight: number;
  shape: Map<string, string>;
  /** By keys of the shape: px by which something must be wider, or about so many, for what is said of it to change. */
  short: Map<string, number>;
  /** By element: texts that take several lines. */
  lined: Map<number, Lined>;
  found: Map<string, FoundAt>;
  /** The same for two widths where nothing but sizes and places is different, and conditions of which nothing comes. */
  sign: string;
  /** Border boxes as in a reading. */
  rects: Float32Array;
  /** Lines of the text of each element and of what lies in it. */
  lines: Uint8Array;
}

/** By what a finding is known again at another width, where another of several alike boxes may be the worst. */
export function bandKey({ reading }: Analysis, { kind, axis, subject, source }: Observation): string {
  if (source && (kind === 'inert' || kind === 'dropped'))
    return `${kind} ${source.sheet} ${source.line} ${source.column} ${source.property}`;
  const parent = reading.parent[subject]!;
  return `${kind} ${axis} ${labelOf(reading, subject)} in ${parent < 0 ? '' : labelOf(reading, parent)}`;
}

/** Px below which nothing is told. */
const LEAST = 1;
/** The same where a page scrolls by its last px: for half of one it does. */
const LAST = 0.4;

export function snapshotOf(analysis: Analysis, found: readonly Observation[] = observeAll(analysis)): Snapshot {
  const { reading, tree, sources } = analysis;
  const { document, viewport } = reading;
  const { shape, short, lined } = layoutSignature(analysis);
  const least = document.scrollWidth - document.clientWidth <= 1 ? LAST : LEAST;
  const bands = new Map<string, FoundAt>();
  for (const observation of found) {
    if (observation.grade === 'meant' || (observation.px !== 0 && observation.px < least)) continue;
    const key = bandKey(analysis, observation);
    const { kind, axis, px, subject, other, what, rule, variant, grade, evidence, source } = observation;
    const cached = bands.get(key);
    const places = observation.places.length + (cached?.places ?? 0);
    const lightest = Math.min(observation.least, cached?.least ?? Infinity);
    const isCachedWorse =
      cached && (isWorseGrade(cached.grade, grade) || (cached.grade === grade && cached.px >= px));
    const worst = isCachedWorse
      ? cached
      : { kind, axis, px, subject, other, what, rule, variant, grade, evidence, source };
    bands.set(key, { ...worst, places, least: lightest });
  }
  const lines = new Uint8Array(reading.count);
  linesOfEach(tree).forEach((number, i) => (lines[i] = Math.min(255, number)));
  return {
    width: viewport.width,
    scrollableX: scrollableBy(reading, 'x'),
    scrollableY: scrollableBy(reading, 'y'),
    scrollWidth: document.scrollWidth,
    scrollHeight: document.scrollHeight,
    clientWidth: document.clientWidth,
    clientHeight: document.clientHeight,
    shape,
    short,
    lined,
    found: bands,
    // What is too large at one width and too small at another is right somewhere between. Where one place of several gets
    // better, it may go through something else on the way.
    sign: signOf(
      shape,
      new Set(
        mediaWithoutEffect(sources.plan, reading).flatMap((is, i) => (is ? [keyOfPart('media', i)] : [])),
      ),
      [...bands].map(([key, { rule, variant, places }]) => `${key} ${rule} ${variant ?? ''} ${places}`),
    ),
    rects: Float32Array.from(reading.rects),
    lines,
  };
}

function signOf(shape: ReadonlyMap<string, string>, silent: ReadonlySet<string>, bands: string[]): string {
  const parts = bands.sort();
  for (const [key, word] of shape) if (!silent.has(key)) parts.push(`${key} ${word}`);
  return parts.join('\n');
}

export const isSameSnapshot = (a: Snapshot, b: Snapshot): boolean => a.sign === b.sign;
