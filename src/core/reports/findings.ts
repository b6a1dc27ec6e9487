/** Findings as a document: `normetra: "findings/1"`. */
import { KINDS, type Observation } from '../finding.ts';
import { wishOf } from '../rules/index.ts';
import { relationWords } from '../wishes/model.ts';
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { engineSchema } from '../reading/reading.ts';
import { GRADES, reasonOf, strengthOf } from '../evidence/model.ts';
import { pathOf } from '../reading/labels.ts';
import { runsOf, type FindingAcrossWidths } from '../proof/across-widths.ts';
import type { Blame, Culprit, ProvedRemedy } from '../proof/prover.ts';
import type { Reliance } from '../rules/defaults/reliance.ts';
import { differences } from '../compare/reading-diff.ts';
import { cutDiff } from './cut.ts';
import { sourceSchema } from './reading.ts';

const size = z.number();

/** A declaration, default or content that is to blame, with the px that go with it. */
export const culpritSchema = z.object({
  path: z.string(),
  property: z.string(),
  px: size,
  rule: z.string(),
  source: sourceSchema.nullable(),
});

export const remedySchema = z.object({
  what: z.string(),
  edits: z.array(z.object({ selector: z.string(), property: z.string(), value: z.string(), was: z.string() })),
  proved: z.boolean(),
  sideEffects: z.object({
    /** Of the viewport at which they were measured. */
    width: size.optional(),
    moved: z.number().int(),
    resized: z.number().int(),
    largest: size,
  }),
  /** Where several engines were looked at: what it does in each, at the worst of the widths. */
  engines: z.array(z.object({ engine: z.string(), effect: z.enum(['helps', 'leaves', 'brings']) })).optional(),
  /** The change as a unified diff of the page's own files. */
  diff: z.string(),
  /** Whether long lines of the diff are cut to what is around the change: it is to be read, and cannot be applied. */
  cut: z.boolean().optional(),
});
export type RemedyDocument = z.infer<typeof remedySchema>;

export const findingSchema = z.object({
  rank: z.number().int().min(1),
  kind: z.enum(KINDS),
  /** The rule that tells of it: `docs/rules/` has a page about each. */
  rule: z.string(),
  px: size,
  axis: z.enum(['x', 'y']),
  /** Runs of the widths that were asked for. */
  at: z.array(z.object({ from: size, to: size })),
  /** Names of the engines in which it is there, where several were looked at. */
  engines: z.array(z.string()).optional(),
  subject: z.string(),
  other: z.string().nullable(),
  /** Everywhere that it is seen, the subject first. */
  places: z.array(z.string()),
  culprits: z.array(culpritSchema),
  because: z.string(),
  grade: z.enum(GRADES),
  /** What speaks for a mistake (`strength` above 0) and against one. */
  evidence: z.array(z.object({ signal: z.string(), strength: size, words: z.string() })),
  /** What should hold instead, where its rule can say it as a number: by this a remedy is proved as well. */
  wish: z.string().optional(),
  /** Why it is not graded wrong, in one sentence; '': it is. */
  meant: z.string(),
  /** Where the user has graded it: what the evidence came to, and why they say otherwise. */
  said: z.object({ was: z.enum(GRADES), why: z.string() }).optional(),
  /** Whether it is graded doubtful. */
  doubtful: z.boolean().optional(),
  remedies: z.array(remedySchema),
});
export type FindingDocument = z.infer<typeof findingSchema>;

/** What the page rests on where other defaults lie under it, and what becomes of its boxes then. */
export const dependenceSchema = z.object({
  title: z.string(),
  /** The width of the viewport at which it was measured: the first of those asked for. */
  width: z.number().int(),
  /** Properties that no rule pins down, by element: what the engine gives, and what the others do. */
  defaults: z.array(
    z.object({
      selector: z.string(),
      property: z.string(),
      value: z.string(),
      other: z.string(),
      boxes: z.number().int().min(1),
      px: size,
    }),
  ),
  counts: z.object({
    moved: z.number().int(),
    resized: z.number().int(),
    appeared: z.number().int(),
    vanished: z.number().int(),
    wrapped: z.number().int(),
  }),
  largest: size,
  /** Every box that is not where or as large as it was, the largest change first. */
  boxes: z.array(
    z.object({
      path: z.string(),
      what: z.enum(['moved', 'resized', 'appeared', 'vanished', 'wrapped']),
      dx: size,
      dy: size,
      dw: size,
      dh: size,
    }),
  ),
});
export type DependenceDocument = z.infer<typeof dependenceSchema>;

export const findingsDocumentSchema = z.object({
  normetra: z.literal('findings/1'),
  page: z.string(),
  engine: engineSchema,
  /** All that were looked at, where they are several; `engine` is the first of them. */
  engines: z.array(engineSchema).optional(),
  defaults: z.string(),
  widths: z.array(z.number().int()),
  findings: z.array(findingSchema),
  dependence: dependenceSchema.optional(),
  /** Style sheets and fonts that the page asks for and that were not to be had: what they would change is not known. */
  missing: z
    .array(
      z.object({
        address: z.string(),
        from: z.string(),
        line: z.number().int().min(1),
        what: z.enum(['style sheet', 'font']),
      }),
    )
    .optional(),
  /** Where the address that was asked for led elsewhere: both. */
  redirected: z.object({ from: z.string(), to: z.string() }).optional(),
  /** What is to be known of the page's scripts where it is not what they would make of it. */
  scripts: z
    .object({
      mode: z.enum(['hold', 'run']),
      /** Nothing can be seen on the page without its scripts. */
      empty: z.boolean(),
      /** What they could not load, and what they ended with. */
      failed: z.array(z.object({ address: z.string(), line: z.number().int().min(0), why: z.string() })),
    })
    .optional(),
});
export type FindingsDocument = z.infer<typeof findingsDocumentSchema>;

export const rounded = (px: number): number => Math.round(px * 10_000) / 10_000;

/** The whole sentence: what is wrong, and because of what. */
export function sentenceOf({ observation }: FindingAcrossWidths, { culprits }: Blame): string {
  const first = culprits[0];
  return `${observation.what}${first ? ` because ${first.because}` : ''}.`;
}

export const culpritDocument = ({
  path,
  property,
  px,
  rule,
  source,
}: Culprit): z.infer<typeof culpritSchema> => ({
  path,
  property,
  px: rounded(px),
  rule,
  source,
});

export const remedyDocument = (
  { words, shown, proved, sideEffects, engines }: ProvedRemedy,
  diff: string,
): RemedyDocument => ({
  what: words,
  edits: shown,
  proved,
  sideEffects: { ...sideEffects, largest: rounded(sideEffects.largest) },
  ...(engines && { engines }),
  diff,
});

interface Told {
  analysis: Analysis;
  widths: readonly number[];
  /** Of each remedy, in their order. */
  diffs: readonly string[];
  /** Names of the engines in which it is there, where several were looked at. */
  engines?: string[] | null;
}

export function findingDocument(
  rank: number,
  seen: FindingAcrossWidths,
  blame: Blame,
  { analysis, widths, diffs, engines = null }: Told,
): FindingDocument {
  const { observation: observation, at } = seen;
  const path = (element: number): string => pathOf(analysis.reading, element);
  return {
    rank,
    kind: observation.kind,
    rule: observation.rule,
    px: rounded(observation.px),
    axis: observation.axis,
    at: runsOf(widths, (width) => at.has(width)),
    ...(engines && { engines }),
    subject: path(observation.subject),
    other: observation.other === null ? null : path(observation.other),
    places: observation.places.map(path),
    culprits: blame.culprits.map(culpritDocument),
    because: sentenceOf(seen, blame),
    grade: observation.grade,
    evidence: observation.evidence.map((fact) => ({ ...fact, strength: strengthOf(fact) })),
    ...wishWords(analysis, observation),
    meant: reasonOf(observation),
    ...(observation.said && { said: observation.said }),
    ...(observation.grade === 'doubtful' && { doubtful: true }),
    remedies: blame.remedies.map((remedy, n) => remedyDocument(remedy, diffs[n] ?? '')),
  };
}

function wishWords(analysis: Analysis, observation: Observation): { wish?: string } {
  const wish = wishOf(analysis, observation);
  return wish ? { wish: `${wish.paths[0]}: ${relationWords(wish.relation, (path) => path)}` } : {};
}

/** The same findings with diffs of minified files cut to what is around the change: whole lines of these are megabytes. */
export const withShortDiffs = (document: FindingsDocument): FindingsDocument => ({
  ...document,
  findings: document.findings.map((finding) => ({
    ...finding,
    remedies: finding.remedies.map(withShortDiff),
  })),
});

export function withShortDiff(remedy: RemedyDocument): RemedyDocument {
  const { diff, isCut } = cutDiff(remedy.diff);
  return isCut ? { ...remedy, diff, cut: true } : remedy;
}

/** What a page rests on: `rendered` as the engine gives it, `under` with the other defaults. */
export function dependenceDocument(
  title: string,
  list: readonly Reliance[],
  rendered: Analysis,
  under: Analysis,
): DependenceDocument {
  const { list: moved, counts, largest } = differences(rendered.tree, under.tree);
  return {
    title,
    width: under.reading.viewport.width,
    defaults: list.map(({ elements, px, ...one }) => ({ ...one, boxes: elements.length, px: rounded(px) })),
    counts,
    largest: rounded(largest),
    boxes: moved.map(({ path, what, dx, dy, dw, dh }) => ({
      path,
      what,
      dx: rounded(dx),
      dy: rounded(dy),
      dw: rounded(dw),
      dh: rounded(dh),
    })),
  };
}

/** Lines of what the page rests on that are written out. */
const MOST_LINES = 12;

function dependenceText({ title, width, defaults, counts, largest, boxes }: DependenceDocument): string {
  if (defaults.length === 0) return `Nothing of it rests on a default that ${title} gives otherwise.`;
  const lines = defaults
    .slice(0, MOST_LINES)
    .map(
      ({ selector, property, value, other, boxes: count, px }) =>
        `   ${String(count).padStart(4)} × ${selector} { ${property}: ${value} }, there ${other}${px >= 0.5 ? ` (${px} px)` : ''}`,
    );
  const more = defaults.length - lines.length;
  const became = Object.entries(counts)
    .filter(([, count]) => count > 0)
    .map(([what, count]) => `${count} ${what}`);
  return [
    `It rests on ${defaults.length} ${defaults.length === 1 ? 'default' : 'defaults'} that no rule pins down and that ${title} gives otherwise:`,
    ...lines,
    ...(more > 0 ? [`   and ${more} more; --json has them all.`] : []),
    boxes.length === 0
      ? `No box is elsewhere or of another size there, at ${width} px.`
      : `There, at ${width} px, ${became.join(', ')}; at most ${largest} px.`,
  ].join('\n');
}

/** What the page was measured without. */
function missingText(missing: NonNullable<FindingsDocument['missing']>): string {
  if (missing.length === 0) return '';
  const lines = missing
    .slice(0, MOST_LINES)
    .map(({ address, from, line, what }) => `   ${what} ${address} (${from}:${line})`);
  const more = missing.length - lines.length;
  return [
    'Measured without what the page asks for and does not get; findings may be due to that:',
    ...lines,
    ...(more > 0 ? [`   and ${more} more; --json has them all.`] : []),
  ].join('\n');
}

/** What the page's scripts have to do with it. */
export function scriptsText(scripts: FindingsDocument['scripts']): string {
  if (!scripts) return '';
  const { mode, empty, failed } = scripts;
  const emptiness = !empty
    ? ''
    : mode === 'hold'
      ? 'Nothing can be seen on the page without its scripts, which are held. --scripts run lets them run.'
      : 'Nothing can be seen on the page, though its scripts run.';
  const lines = failed
    .slice(0, MOST_LINES)
    .map(({ address, line, why }) => `   ${address}${line > 0 ? `:${line}` : ''}  ${why}`);
  const more = failed.length - lines.length;
  const failures =
    failed.length === 0
      ? ''
      : [
          'Scripts of the page failed; it is not what they would make of it:',
          ...lines,
          ...(more > 0 ? [`   and ${more} more; --json has them all.`] : []),
        ].join('\n');
  return [emptiness, failures].filter(Boolean).join('\n\n');
}

/** How findings are told in words. */
export interface FindingsWording {
  /** How many more are probably meant. */
  quiet?: number;
  /** With what speaks for and against each. */
  withEvidence?: boolean;
}

/** Findings in words: what is wrong with its place and its first remedy, what is doubtful in a line each. */
export function findingsText(
  { page, engines, widths, findings, dependence, missing = [], redirected, scripts }: FindingsDocument,
  { quiet = 0, withEvidence = false }: FindingsWording = {},
): string {
  const led = redirected ? `${redirected.from} leads to ${redirected.to}: that is what was measured.` : '';
  const lacks = [led, missingText(missing), scriptsText(scripts)].filter(Boolean).join('\n\n');
  const rests = dependence ? dependenceText(dependence) : '';
  const where = engines ? ` in ${engines.map(({ name, version }) => `${name} ${version}`).join(', ')}` : '';
  const at = `at ${widths.join(', ')} px${where}`;
  const rest =
    quiet === 0 ? '' : `${quiet} more ${quiet === 1 ? 'is' : 'are'} probably meant; --meant shows them.`;
  if (findings.length === 0)
    return [[`${page}: nothing found ${at}.`, rest].filter(Boolean).join(' '), lacks, rests]
      .filter(Boolean)
      .join('\n\n');
  const of = (grade: FindingDocument['grade']): FindingDocument[] =>
    findings.filter((finding) => finding.grade === grade);
  const [wrong, doubtful, meant] = [of('wrong'), of('doubtful'), of('meant')];
  const counts = [
    `${wrong.length} ${wrong.length === 1 ? 'finding' : 'findings'}`,
    ...(doubtful.length > 0 ? [`${doubtful.length} doubtful`] : []),
  ].join(', ');
  const told = (finding: FindingDocument): string =>
    [findingText(page, finding), ...(withEvidence ? evidenceLines(finding) : [])].join('\n');
  const listed = doubtful.map((finding) =>
    [doubtText(page, finding), ...(withEvidence ? evidenceLines(finding) : [])].join('\n'),
  );
  return [
    `${page}: ${counts} ${at}`,
    ...wrong.map(told),
    doubtful.length > 0 ? ['Doubtful:', ...listed].join('\n') : '',
    ...meant.map(told),
    rest,
    lacks,
    rests,
  ]
    .filter(Boolean)
    .join('\n\n');
}

const placeOf = (page: string, { culprits }: FindingDocument): string => {
  const source = culprits[0]?.source;
  return source && source.line > 0 ? `${source.sheet}:${source.line}:${source.column}` : page;
};

/** `360–768 px wide`, and in which engines where several were looked at. */
function whereOf({ at, engines }: FindingDocument): string {
  const widths = at.map(({ from, to }) => (from === to ? `${from}` : `${from}–${to}`)).join(', ');
  return `${widths} px wide${engines ? `, in ${engines.join(', ')}` : ''}`;
}

/** One line: what is doubtful, where, and why it is not graded wrong. */
const doubtText = (page: string, entry: FindingDocument): string =>
  `${entry.rank}. ${entry.because} ${entry.kind}, at ${whereOf(entry)}, ${placeOf(page, entry)}. ${entry.meant}.`;

/** What speaks for a mistake (+) and against one (−). */
const evidenceLines = ({ evidence }: FindingDocument): string[] =>
  evidence.map(({ strength, words }) => `   ${strength > 0 ? '+' : '−'} ${words}`);

function findingText(page: string, entry: FindingDocument): string {
  const places = entry.places.length > 1 ? `, ${entry.places.length} places` : '';
  const head = `${entry.rank}. ${entry.because}\n   ${entry.kind}, ${entry.px} px, at ${whereOf(entry)}${places}\n   ${placeOf(page, entry)}  ${entry.subject}`;
  if (entry.grade === 'meant')
    return `${head}\n   ${entry.said ? 'Meant, as you say' : 'Probably meant'}: ${entry.meant}.`;
  const [first] = entry.remedies;
  if (!first) return `${head}\n   No single change was proved to take it away.`;
  return `${head}\n   Remedy: ${remedyText(first)}`;
}

/** What it is, what its proof came to, and the lines that it changes. */
export function remedyText(
  remedy: RemedyDocument,
  proof: 'proved' | 'measured' | null = remedy.proved ? 'proved' : null,
): string {
  const { moved, resized, largest } = remedy.sideEffects;
  const words = proof
    ? `${proof}; ${moved} moved, ${resized} resized, at most ${largest} px`
    : 'not measured on a device';
  return `${remedy.what} (${words}${enginesText(remedy)})\n${change(remedy)}`;
}

const EFFECTS = {
  helps: 'helps',
  leaves: 'does not help',
  brings: 'brings something new',
} as const;

/** What a remedy does in other engines, where it does not help in all. */
function enginesText({ engines = [] }: RemedyDocument): string {
  if (engines.length === 0) return '';
  if (engines.every(({ effect }) => effect === 'helps')) return `; in ${engines.length} engines`;
  return `; ${engines.map(({ engine, effect }) => `${EFFECTS[effect]} in ${engine}`).join(', ')}`;
}

/** The lines of a diff that change something; of a minified file, whose lines are too long to be read, the changes alone. */
function change({ diff, edits }: RemedyDocument): string {
  const lines = diff.split('\n').filter((line) => /^[-+]/.test(line) && !/^(\+\+\+|---)/.test(line));
  const isReadable = lines.length > 0 && lines.every(({ length }) => length <= 160);
  const words = edits.map(({ selector, property, value, was }) =>
    value === ''
      ? `${selector} { ${property}: ${was} } taken out`
      : `${selector} { ${property}: ${value} }${was ? ` in the place of ${was}` : ''}`,
  );
  return (isReadable ? lines : words).map((line) => `     ${line}`).join('\n');
}
