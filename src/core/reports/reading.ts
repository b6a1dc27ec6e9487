/** The document `reading/1`: every box of a reading with its sums, and the gaps between boxes. */
import { z } from 'zod';
import { gapsOf } from '../accounts/block/gaps.ts';
import { inertOf } from '../accounts/inert.ts';
import { positionAccount } from '../accounts/position.ts';
import { sizeAccount } from '../accounts/sizing/size.ts';
import type { Account, Term } from '../accounts/model/term.ts';
import type { Analysis } from '../analysis.ts';
import { areasOf } from '../boxes/areas.ts';
import { labelOf, pathOf, tagOf } from '../reading/labels.ts';
import { hasBox, usedText } from '../boxes/tree.ts';
import type { Axis } from '../geometry/rect.ts';

const px = z.number().describe('CSS px');
const id = z.number().int().describe('number of a box in this document');
const rect = z.object({ x: px, y: px, width: px, height: px });
const sides = z.object({ top: px, right: px, bottom: px, left: px });

export const sourceSchema = z.object({
  origin: z.enum(['author', 'inline', 'attribute', 'browser', 'trial']),
  sheet: z.string(),
  line: z.number().int().describe('from 1; 0: not known'),
  column: z.number().int(),
  selector: z.string(),
  property: z.string(),
  value: z.string(),
});

const termSchema = z.object({
  px,
  what: z.string().describe('content, padding-left, margin-top, child, track, line ...'),
  rule: z.string().describe('declared, default, fill, margin-collapsed, line-height ...'),
  box: z.number().int().describe('the box that the term is about; -1: the viewport'),
  source: sourceSchema.nullable(),
  note: z.string(),
  causes: z
    .array(z.object({ box: id, property: z.string(), rate: z.number() }))
    .describe('properties that the number goes along with, in px for every px of their used value'),
  links: z
    .array(
      z.object({
        box: id,
        axis: z.enum(['x', 'y']),
        area: z.enum(['border', 'content', 'padding', 'area', 'reach', 'baseline']),
        from: z.number().int().optional(),
        rate: z.number(),
      }),
    )
    .describe('sizes of other boxes that the number goes along with'),
});

const lostSchema = z.object({
  box: id,
  property: z.string(),
  px: z.number().nullable(),
  source: sourceSchema.nullable(),
  why: z.string(),
});

const accountSchema = z.object({
  used: px,
  terms: z.array(termSchema),
  residual: px.describe('what the terms do not explain'),
  lost: z.array(lostSchema).describe('declarations that ask for a say in the number and have none'),
});

export const readingDocumentSchema = z
  .object({
    normetra: z.literal('reading/1'),
    page: z.string(),
    engine: z.object({ name: z.string(), version: z.string() }),
    defaults: z.string(),
    viewport: z.object({ width: px, height: px, layoutWidth: px }),
    document: z.object({
      mode: z.enum(['standards', 'quirks']),
      scrollWidth: px,
      scrollHeight: px,
      clientWidth: px,
      clientHeight: px,
    }),
    boxes: z.array(
      z.object({
        id,
        parent: id.nullable(),
        path: z.string().describe('document.querySelector(path) is the element'),
        tag: z.string(),
        label: z.string(),
        kind: z.string(),
        rect: rect.describe('border box'),
        margin: sides,
        border: sides,
        padding: sides,
        content: rect,
        boxSizing: z.string(),
        containingBlock: id.nullable().describe('null: the initial one'),
        width: accountSchema,
        height: accountSchema,
        place: z
          .object({ x: accountSchema, y: accountSchema })
          .describe('where its border box starts, from the page’s left and top edge'),
        inert: z
          .array(
            z.object({
              property: z.string().describe('one, or several of one declaration'),
              value: z.string(),
              source: sourceSchema,
              why: z.string(),
            }),
          )
          .describe('declarations that this kind of box, in this place, does not take'),
      }),
    ),
    gaps: z.array(
      z.object({
        axis: z.enum(['x', 'y']),
        container: id,
        before: id.nullable().describe("null: the container's content edge"),
        after: id.nullable(),
        distance: px,
        terms: z.array(termSchema),
        residual: px,
        lost: z.array(lostSchema),
      }),
    ),
  })
  .describe('What one engine measured of one page, every number with its sum');

export type ReadingDocument = z.infer<typeof readingDocumentSchema>;

/** Layout units have six binary digits; the seventh decimal is noise. */
const round = (value: number): number => {
  const rounded = Math.round(value * 1e6) / 1e6;
  return Object.is(rounded, -0) ? 0 : rounded;
};
const finite = (value: number): number => (Number.isFinite(value) ? round(value) : 0);

const termOf = ({
  px: size,
  causes = [],
  links = [],
  ...rest
}: Term): ReadingDocument['boxes'][number]['width']['terms'][number] => ({
  px: finite(size),
  ...rest,
  causes,
  links: links.filter(({ box }) => box >= 0),
});

function accountOf({ used, terms, residual, lost }: Account): ReadingDocument['boxes'][number]['width'] {
  return {
    used: round(used),
    terms: terms.map(termOf),
    // A term that has no px leaves its part unexplained.
    residual: Number.isFinite(residual)
      ? round(residual)
      : round(used - terms.reduce((sum, term) => sum + finite(term.px), 0)),
    lost: lost.map((entry) => ({ ...entry, px: Number.isFinite(entry.px) ? round(entry.px) : null })),
  };
}

const rounded = <T extends Record<string, number>>(numbers: T): T =>
  Object.fromEntries(Object.entries(numbers).map(([name, value]) => [name, round(value)])) as T;

export function readingDocument(
  analysis: Analysis,
  { page, defaults }: { page: string; defaults: string },
): ReadingDocument {
  const { reading, tree } = analysis;
  const { width, height, layoutWidth } = reading.viewport;
  const { mode, scrollWidth, scrollHeight, clientWidth, clientHeight } = reading.document;
  const ids = Array.from({ length: reading.count }, (_, i) => i).filter((i) => hasBox(tree, i));
  const parentOf = (element: number): number | null => {
    let at = reading.parent[element]!;
    while (at >= 0 && !hasBox(tree, at)) at = reading.parent[at]!;
    return at < 0 ? null : at;
  };
  const size = (element: number, axis: Axis) => accountOf(sizeAccount(analysis, element, axis));
  const place = (element: number, axis: Axis) => accountOf(positionAccount(analysis, element, axis));
  return {
    normetra: 'reading/1',
    page,
    engine: reading.engine,
    defaults,
    viewport: { width, height, layoutWidth },
    document: { mode, scrollWidth, scrollHeight, clientWidth, clientHeight },
    boxes: ids.map((element) => {
      const { rect: border, content, ...areas } = areasOf(tree, element);
      const block = tree.containingBlock[element]!;
      return {
        id: element,
        parent: parentOf(element),
        path: pathOf(reading, element),
        tag: tagOf(reading, element),
        label: labelOf(reading, element),
        kind: tree.kinds[element]!,
        rect: rounded({ ...border }),
        margin: rounded({ ...areas.margin }),
        border: rounded({ ...areas.border }),
        padding: rounded({ ...areas.padding }),
        content: rounded({ ...content }),
        boxSizing: usedText(reading, 'box-sizing', element),
        containingBlock: block < 0 ? null : block,
        width: size(element, 'x'),
        height: size(element, 'y'),
        place: { x: place(element, 'x'), y: place(element, 'y') },
        inert: inertOf(analysis, element),
      };
    }),
    gaps: ids.flatMap((element) =>
      gapsOf(analysis, element).map((gap) => {
        const { used, terms, residual, lost } = accountOf(gap);
        return {
          axis: gap.axis,
          container: element,
          before: gap.before,
          after: gap.after,
          distance: used,
          terms,
          residual,
          lost,
        };
      }),
    ),
  };
}
