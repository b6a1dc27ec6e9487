/** A page in several engines as a document: `normetra: "matrix/1"`. */
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { CAUSE_KINDS } from '../compare/engines/causes.ts';
import type { CauseGroup, DifferingNumber, EngineComparison } from '../compare/engines/compare.ts';
import { heldAgainst, termPairs, type BoxNumber, type Pair } from '../compare/engines/pair.ts';
import { GRADES } from '../evidence/model.ts';
import { KINDS } from '../finding.ts';
import type { FindingAcrossWidths } from '../proof/across-widths.ts';
import { pathOf } from '../reading/labels.ts';
import { engineSchema } from '../reading/reading.ts';
import { px, type Rect } from '../geometry/rect.ts';
import { rounded } from './findings.ts';
import { sourceSchema } from './reading.ts';

const size = z.number();
const whole = z.number().int();

const numberSchema = z.object({
  path: z.string(),
  /** `x` and `y` are distances from the box that it is placed from. */
  number: z.enum(['width', 'height', 'x', 'y']),
  first: size,
  second: size,
  /** How much of the difference goes to the cause, with its sign. */
  px: size,
  /** Whether the box has it by itself: else it follows from another. */
  own: z.boolean(),
  /** The two sums side by side; null: one of them has no such term. */
  terms: z.array(
    z.object({ what: z.string(), note: z.string(), first: size.nullable(), second: size.nullable() }),
  ),
});

/** Left, top, width and height in CSS px of the document. */
const rect = z.tuple([size, size, size, size]);

const causeSchema = z.object({
  kind: z.enum(CAUSE_KINDS),
  what: z.string(),
  /** What it is in the first column, and in the one that is held against it; '': there is nothing to say. */
  first: z.string(),
  second: z.string(),
  property: z.string(),
  source: sourceSchema.nullable(),
  /** Px of all numbers that go to it, without their signs. */
  px: size,
  /** Boxes that have it by themselves, and that only follow. */
  own: whole,
  followers: whole,
  /** The largest: those that have it by themselves first. */
  numbers: z.array(numberSchema),
});

export const matrixDocumentSchema = z.object({
  normetra: z.literal('matrix/1'),
  page: z.string(),
  widths: z.array(whole),
  /** What is put side by side: engines, and default styles in the first of them. */
  columns: z.array(z.object({ name: z.string(), engine: engineSchema, defaults: z.string() })),
  /** Each column but the first, held against the first, at each width. */
  comparisons: z.array(
    z.object({
      column: z.string(),
      width: whole,
      /** Boxes of which a number differs, and all that both have. */
      boxes: whole,
      all: whole,
      px: size,
      /** Px that have no cause. */
      unexplained: size,
      causes: z.array(causeSchema),
      /** Width and height of the document in both. */
      extents: z.object({ first: z.tuple([size, size]), second: z.tuple([size, size]) }),
      /** Boxes that differ, as both have laid them out: the first ones of the page. */
      outlines: z.array(z.object({ path: z.string(), first: rect, second: rect })),
    }),
  ),
  findings: z.array(
    z.object({
      kind: z.enum(KINDS),
      rule: z.string(),
      subject: z.string(),
      what: z.string(),
      /** One for each column that has it: at how many of the widths, at worst how large, and how it is graded there. */
      columns: z.array(
        z.object({ column: z.string(), grade: z.enum(GRADES), px: size, widths: z.array(whole) }),
      ),
    }),
  ),
});
export type MatrixDocument = z.infer<typeof matrixDocumentSchema>;

/** Numbers of a cause that a document holds, and boxes that are drawn; all of them are counted. */
const MOST = 25;
const MOST_OUTLINES = 1500;

const numberName = ({ of, axis }: DifferingNumber): 'width' | 'height' | 'x' | 'y' =>
  of === 'place' ? axis : axis === 'x' ? 'width' : 'height';

const nullable = (px: number): number | null => (Number.isNaN(px) ? null : rounded(px));

function termsDocument(pair: Pair, number: BoxNumber): z.infer<typeof numberSchema>['terms'] {
  const held = heldAgainst(pair, number);
  return (held ? termPairs(held, pair.toFirst) : []).map(({ what, note, first, second }) => ({
    what,
    note,
    first: nullable(first),
    second: nullable(second),
  }));
}

function causeDocument(pair: Pair, group: CauseGroup): z.infer<typeof causeSchema> {
  const { kind, what, first, second, property, source } = group.cause;
  return {
    kind,
    what,
    first,
    second,
    property,
    source,
    px: rounded(group.px),
    own: group.own,
    followers: group.followers,
    numbers: group.numbers.slice(0, MOST).map((number) => ({
      path: pathOf(pair.first.reading, number.box),
      number: numberName(number),
      first: rounded(number.first),
      second: rounded(number.second),
      px: rounded(number.px),
      own: number.isOwn,
      terms: termsDocument(pair, number),
    })),
  };
}

const corners = ({ x, y, width, height }: Rect): z.infer<typeof rect> => [
  rounded(x),
  rounded(y),
  rounded(width),
  rounded(height),
];

const extentOf = ({ reading: { document } }: Analysis): [number, number] => [
  document.scrollWidth,
  document.scrollHeight,
];

/** `column`: the name of the second engine. */
export const comparisonDocument = (
  column: string,
  width: number,
  comparison: EngineComparison,
): MatrixDocument['comparisons'][number] => ({
  column,
  width,
  boxes: comparison.boxes,
  all: comparison.all,
  px: rounded(comparison.px),
  unexplained: rounded(comparison.unexplained),
  causes: comparison.groups.map((group) => causeDocument(comparison.pair, group)),
  extents: { first: extentOf(comparison.pair.first), second: extentOf(comparison.pair.second) },
  outlines: comparison.outlines.slice(0, MOST_OUTLINES).map(({ box, first, second }) => ({
    path: pathOf(comparison.pair.first.reading, box),
    first: corners(first),
    second: corners(second),
  })),
});

/** `lists`: what each column has, in the order of the columns, with a reading of it that paths are taken from. */
export function matrixFindings(
  lists: readonly { column: string; list: readonly FindingAcrossWidths[]; analysis: Analysis }[],
): MatrixDocument['findings'] {
  const out = new Map<string, MatrixDocument['findings'][number]>();
  for (const { column, list, analysis } of lists)
    for (const { key, at, observation } of list) {
      const { kind, rule, subject, what, grade } = observation;
      const entry = out.get(key) ?? {
        kind,
        rule,
        subject: pathOf(analysis.reading, subject),
        what,
        columns: [],
      };
      out.set(key, entry);
      entry.columns.push({ column, grade, px: rounded(observation.px), widths: [...at.keys()] });
    }
  const worst = ({ columns }: MatrixDocument['findings'][number]): number =>
    Math.min(...columns.map(({ grade }) => GRADES.indexOf(grade)));
  // What is not the same in all comes first: it is what the columns are looked at for.
  return [...out.values()].sort(
    (a, b) =>
      worst(a) - worst(b) ||
      Number(a.columns.length === lists.length) - Number(b.columns.length === lists.length),
  );
}

const share = (part: number, all: number): string =>
  all === 0 ? '0 %' : `${((100 * part) / all).toFixed(part / all < 0.01 ? 1 : 0)} %`;

/** Causes of one comparison that are written out, and numbers of each. */
const SHOWN = 8;
const NUMBERS = 3;

function comparisonText(
  { column, width, boxes, all, px: total, unexplained, causes }: MatrixDocument['comparisons'][number],
  first: string,
): string {
  const head = `${column} against ${first}, at ${width} px: `;
  if (boxes === 0) return `${head}no box differs.`;
  const lines = causes.slice(0, SHOWN).flatMap((cause) => {
    const { what, first: here, second: there, px: by, own, followers, numbers } = cause;
    const values = here || there ? `\n      ${first}: ${here || '–'}\n      ${column}: ${there || '–'}` : '';
    const place = cause.source && cause.source.line > 0 ? `, ${cause.source.sheet}:${cause.source.line}` : '';
    return [
      `  ${px(by)} px (${share(by, total)})  ${what}${place}; ${own} ${own === 1 ? 'box' : 'boxes'}, ${followers} more follow${values}`,
      ...numbers
        .slice(0, NUMBERS)
        .map((number) => `      ${number.number} ${px(number.first)} → ${px(number.second)}  ${number.path}`),
    ];
  });
  const more = causes.length - SHOWN;
  return [
    `${head}${boxes} of ${all} boxes differ, by ${px(total)} px in all; ${share(total - unexplained, total)} explained.`,
    ...lines,
    ...(more > 0 ? [`  and ${more} more causes; --json has them all.`] : []),
  ].join('\n');
}

function findingsText({ findings, columns }: MatrixDocument): string {
  const told = findings.filter((finding) => finding.columns.some(({ grade }) => grade !== 'meant'));
  if (told.length === 0) return 'Nothing is found wrong in any of them.';
  const mark = (finding: (typeof told)[number], column: string): string => {
    const here = finding.columns.find((entry) => entry.column === column);
    return here ? `${here.grade} ${px(here.px)}` : '–';
  };
  const width = Math.max(12, ...columns.map(({ name }) => name.length)) + 2;
  const row = (cells: string[]): string => cells.map((cell) => cell.padEnd(width)).join('');
  return [
    'Findings',
    `  ${row(columns.map(({ name }) => name))}`,
    ...told.map(
      (finding) => `  ${row(columns.map(({ name }) => mark(finding, name)))}${finding.kind}: ${finding.what}`,
    ),
  ].join('\n');
}

export function matrixText(document: MatrixDocument): string {
  const { page, columns, comparisons } = document;
  const names = columns.map(({ name, engine }) => `${name} (${engine.name} ${engine.version})`);
  return [
    `${page} in ${names.join(', ')}`,
    findingsText(document),
    ...comparisons.map((comparison) => comparisonText(comparison, columns[0]!.name)),
  ].join('\n\n');
}
