/** A sweep as a document: `normetra: "sweep/1"`. */
import { GRADES } from '../evidence/model.ts';
import { KINDS } from '../finding.ts';
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { pathOf } from '../reading/labels.ts';
import { engineSchema } from '../reading/reading.ts';
import type { Across, Run } from '../sweep/across.ts';
import { sourceSchema } from './reading.ts';

const whole = z.number().int();
const run = z.object({ from: whole, to: whole });

export const sweepDocumentSchema = z.object({
  normetra: z.literal('sweep/1'),
  page: z.string(),
  engine: engineSchema,
  defaults: z.string(),
  from: whole,
  to: whole,
  /** Widths that were measured. */
  readings: whole,
  /** Every width, to 1 px, at which the page scrolls sideways. */
  overflow: z.array(run),
  bands: z.array(
    z.object({
      kind: z.enum(KINDS),
      rule: z.string(),
      grade: z.enum(GRADES),
      /** Where the user has graded it: what the evidence came to, and why they say otherwise. */
      said: z.object({ was: z.enum(GRADES), why: z.string() }).optional(),
      subject: z.string(),
      other: z.string().nullable(),
      from: whole,
      to: whole,
      /** The most that it comes to, and at which width. */
      px: z.number(),
      worst: whole,
      what: z.string(),
    }),
  ),
  /** `width`: the first one, going up, at which the new state holds. */
  flips: z.array(
    z.object({
      width: whole,
      what: z.string(),
      path: z.string().nullable(),
      places: whole,
      condition: z.string().nullable(),
      source: sourceSchema.nullable(),
    }),
  ),
  breakpoints: z.array(
    z.object({
      width: z.number(),
      condition: z.string(),
      sheet: z.string(),
      /** Whether something of the layout changes there. */
      changes: z.boolean(),
    }),
  ),
  /** Conditions on the width that hold nowhere in the range. */
  never: z.array(z.string()),
});
export type SweepDocument = z.infer<typeof sweepDocumentSchema>;

export function sweepDocument(
  { reading }: Analysis,
  { from, to, widths, overflow, bands, flips, breakpoints, never }: Across,
  named: { page: string; defaults: string },
): SweepDocument {
  const path = (element: number): string => pathOf(reading, element);
  return {
    normetra: 'sweep/1',
    page: named.page,
    engine: reading.engine,
    defaults: named.defaults,
    from,
    to,
    readings: widths.length,
    overflow,
    bands: bands.map(({ kind, rule, grade, said, subject, other, from: low, to: high, px, worst, what }) => ({
      kind,
      rule,
      grade,
      ...(said && { said }),
      subject: path(subject),
      other: other === null ? null : path(other),
      from: low,
      to: high,
      px: Math.round(px * 10_000) / 10_000,
      worst,
      what,
    })),
    flips: flips.map(({ width, what, element, places, condition, source }) => ({
      width,
      what,
      path: element === null ? null : path(element),
      places,
      condition,
      source,
    })),
    breakpoints: breakpoints.map(({ width, text, file, isIdle }) => ({
      width,
      condition: text,
      sheet: file,
      changes: !isIdle,
    })),
    never,
  };
}

const rangeText = ({ from, to }: Run): string => (from === to ? `${from}` : `${from}–${to}`);
const placeText = (source: SweepDocument['flips'][number]['source']): string =>
  source && source.line > 0
    ? `${source.selector} { ${source.property}: ${source.value} }, ${source.sheet}:${source.line}:${source.column}`
    : '';

/** A sweep in words: where it scrolls sideways, what is wrong where, what changes at which width. */
export function sweepText(document: SweepDocument): string {
  const { page, from, to, readings, overflow, bands, flips, breakpoints, never } = document;
  const head = `${page}: ${from}–${to} px, ${readings} widths measured.`;
  const scrolls =
    overflow.length === 0
      ? 'Scrolls sideways at no width.'
      : `Scrolls sideways at ${overflow.map(rangeText).join(', ')} px.`;
  const section = (title: string, lines: string[]): string[] =>
    lines.length > 0 ? [`${title}\n${lines.map((line) => `  ${line}`).join('\n')}`] : [];
  const bandText = (band: SweepDocument['bands'][number]): string => {
    const most = band.px > 0 ? ` (most at ${band.worst} px)` : '';
    return `${rangeText(band).padEnd(wide)}  ${band.kind}: ${band.what}${most}`;
  };
  const wide = Math.max(0, ...bands.map((band) => rangeText(band).length));
  return [
    `${head} ${scrolls}`,
    ...section('What is wrong, and where', bands.filter(({ grade }) => grade === 'wrong').map(bandText)),
    ...section('What is doubtful, and where', bands.filter(({ grade }) => grade === 'doubtful').map(bandText)),
    ...section(
      'What is meant, as you say',
      bands.filter(({ grade }) => grade === 'meant').map((band) => `${bandText(band)}. ${band.said?.why}`),
    ),
    ...section(
      'What changes, going up',
      flips.map(({ width, what, places, condition, source }) => {
        const because = [condition, placeText(source)].filter(Boolean).join(' ');
        return `${width}  ${what}${places > 1 ? `, and ${places - 1} more like it` : ''}${because ? `\n      ${because}` : ''}`;
      }),
    ),
    ...section(
      'Breakpoints at which nothing of the layout changes',
      breakpoints
        .filter(({ changes }) => !changes)
        .map(({ width, condition, sheet }) => `${width}  ${condition}, ${sheet}`),
    ),
    ...section('Conditions that hold at none of these widths', never),
  ].join('\n\n');
}
