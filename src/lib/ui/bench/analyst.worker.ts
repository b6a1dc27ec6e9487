/** Reasons about readings off the main thread; the main thread asks for what it shows. */
import {
  accountsByName,
  declaredProperties,
  pseudosOf,
  reachOf,
  type PropertyAccount,
  type PseudoAccount,
} from '$core/accounts/cascade.ts';
import type { BoxAccount } from '$core/accounts/box.ts';
import type { Areas } from '$core/boxes/areas.ts';
import { accountWithin, areasWithin, type Documents } from '$core/accounts/framed.ts';
import { distanceAccount, type DistanceAccount, type EdgeOf } from '$core/accounts/distance.ts';
import { analyse, intrinsicBatches, learn, readSources, type Analysis, type Sources } from '$core/analysis.ts';
import { drawingOf, type Drawing } from '$core/boxes/drawing.ts';
import { locate, wholeOf, type Document } from '$core/boxes/framed.ts';
import { makeHitIndex } from '$core/boxes/hit.ts';
import { elementAt } from '$core/boxes/label.ts';
import { paintOrder } from '$core/boxes/paint.ts';
import {
  fromStored,
  readingSchema,
  toStored,
  type Defaults,
  type Described,
  type RawReading,
} from '$core/boxes/reading.ts';
import type { SavedBody } from '$core/boxes/saved.ts';
import { makeTree } from '$core/boxes/tree.ts';
import { pathInFrame } from '$core/css/addresses.ts';
import { breakpointsOf, type Breakpoint } from '$core/css/breakpoints.ts';
import type { PlanRequest, Validity } from '$core/css/plan.ts';
import type { Source } from '$core/css/styles.ts';
import type { Framed } from '$station/framed.ts';
import * as Comlink from 'comlink';

export interface SheetFact {
  file: string;
  form: 'file' | 'element' | 'attribute';
  rules: number;
  declarations: number;
}

/** What the main thread needs to point at boxes by itself. */
export interface Taken {
  order: Int32Array;
  owners: number[];
  index: ArrayBufferLike | null;
  /** The page and what is in its frames as one reading; null where there is nothing in frames. */
  whole: RawReading | null;
}

interface Surveyed {
  sources: Sources;
  described: Described;
  validity: Validity;
  defaults: Defaults;
  frameBase: string;
}

/** The page itself, then the documents in its frames. */
let surveyed: Surveyed[] = [];
let documents: Documents = { analyses: [], placed: [] };
let whole: RawReading | null = null;

function need(): Documents {
  if (documents.analyses.length === 0) throw new Error('Nothing has been measured yet.');
  return documents;
}

/** The analysis of the document that an element is in, with its number there and that of the document's first. */
function at(element: number): { analysis: Analysis; local: number; base: number } {
  const { analyses, placed } = need();
  const { document, local } = locate({ placed }, element);
  return { analysis: analyses[document]!, local, base: placed[document]!.base };
}

function check(raw: unknown): RawReading {
  const parsed = readingSchema.safeParse(raw);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new Error(
    `The page's reading is not one (${issue?.path.join('.')}: ${issue?.message}). Hold its scripts and open it again.`,
  );
}

const analyst = {
  /** `document`: 0 for the page, then its frames' documents in their order. */
  plan(
    document: number,
    page: string,
    texts: Record<string, string>,
    described: Described,
    frameBase: string,
  ): PlanRequest {
    const path = document === 0 ? page : (pathInFrame(described.url, '', frameBase) ?? described.url);
    const sources = readSources(path, texts, described, frameBase);
    surveyed = surveyed.slice(0, document);
    surveyed[document] = {
      sources,
      described,
      frameBase,
      validity: { supports: [], declarations: [] },
      defaults: {},
    };
    return sources.plan.request;
  },
  /** What the engine said of the plan, and its defaults. */
  settle(
    document: number,
    validity: Validity,
    defaults: Defaults,
  ): { sheets: SheetFact[]; missing: string[]; breakpoints: Breakpoint[] } {
    const known = surveyed[document];
    if (!known) throw new Error('The page was not described yet.');
    surveyed[document] = { ...known, validity, defaults };
    const { plan } = known.sources;
    return {
      sheets: plan.sheets.map(({ file, form, rules }) => ({
        file,
        form,
        rules: rules.length,
        declarations: rules.reduce((sum, rule) => sum + rule.declarations.length, 0),
      })),
      missing: plan.missing,
      breakpoints: breakpointsOf(plan),
    };
  },
  /** Checks readings as they came from the page and reasons about them. Throws where one is none. */
  take(raw: unknown, framed: Framed[]): Taken {
    return adopt([
      { reading: check(raw), holder: -1, owner: -1 },
      ...framed.map(({ reading, holder, owner }) => ({ reading: check(reading), holder, owner })),
    ]);
  },
  /** The page's own reading; what is in its frames is not saved. */
  toStored: (): SavedBody => {
    const { sources: _, ...known } = surveyed[0]!;
    const reading = toStored(need().analyses[0]!.reading) as SavedBody['reading'];
    const intrinsic = [...need().analyses[0]!.intrinsic].flatMap(([element, { min, max }]) => [
      element,
      min,
      max,
    ]);
    return { normetra: 'stored-reading/1', ...known, reading, intrinsic };
  },
  /** Opens a saved reading in the place of the live one. */
  open(page: string, texts: Record<string, string>, body: SavedBody): Taken & { reading: RawReading } {
    const { described, validity, defaults, frameBase } = body;
    surveyed = [
      { sources: readSources(page, texts, described, frameBase), described, validity, defaults, frameBase },
    ];
    const reading = fromStored(body.reading);
    const taken = adopt([{ reading, holder: -1, owner: -1 }]);
    learn(need().analyses[0]!, body.intrinsic);
    return { ...taken, reading };
  },
  account: (
    element: number,
  ): {
    box: BoxAccount;
    properties: PropertyAccount[];
    pseudos: PseudoAccount[];
    /** Boxes of the page's own document whose content widths the account lacks. */
    wanting: number[][];
  } => {
    const { analysis, local, base } = at(element);
    return {
      box: accountWithin(need(), element),
      properties: declaredProperties(analysis, local),
      pseudos: pseudosOf(analysis, local),
      wanting: base === 0 ? intrinsicBatches(analysis) : [],
    };
  },
  /** Takes the content widths that the page was asked for. */
  learn: (answer: number[]): void => learn(need().analyses[0]!, answer),
  /** Null where the two edges are not in one document, or not of one axis. */
  distance: (
    from: EdgeOf,
    to: EdgeOf,
  ): { account: DistanceAccount; base: number; wanting: number[][] } | null => {
    const [a, b] = [at(from.element), at(to.element)];
    if (
      a.base !== b.base ||
      (from.side === 'left' || from.side === 'right') !== (to.side === 'left' || to.side === 'right')
    )
      return null;
    const account = distanceAccount(a.analysis, { ...from, element: a.local }, { ...to, element: b.local });
    return { account, base: a.base, wanting: a.base === 0 ? intrinsicBatches(a.analysis) : [] };
  },
  byName: (element: number, name: string): PropertyAccount[] =>
    accountsByName(at(element).analysis, at(element).local, name),
  /** `element`: the one whose account names the source, and so its document. */
  reach: (element: number, source: Source): number[] => {
    const { analysis, base } = at(element);
    return reachOf(analysis, source).map((one) => one + base);
  },
  areas: (elements: number[]): Areas[] => elements.map((element) => areasWithin(need(), element)),
  elementAt: (path: string): number => elementAt(whole ?? need().analyses[0]!.reading, path),
  drawing: (): Drawing => drawingOf(whole ?? need().analyses[0]!.reading),
};

function adopt(given: Document[]): Taken {
  const analyses = given.map(({ reading }, i) => {
    const known = surveyed[i];
    if (!known) throw new Error('The page was not described yet.');
    return analyse(known.sources, known.validity, known.defaults, reading);
  });
  if (given.length === 1) {
    whole = null;
    documents = { analyses, placed: [{ base: 0, x: 0, y: 0, owner: -1 }] };
    const { order, hits } = analyses[0]!;
    return { order, owners: hits.owners, index: hits.index?.data ?? null, whole };
  }
  const made = wholeOf(given);
  whole = made.reading;
  documents = { analyses, placed: made.placed };
  const order = paintOrder(makeTree(whole));
  const hits = makeHitIndex(whole, order);
  return { order, owners: hits.owners, index: hits.index?.data ?? null, whole };
}

export type Analyst = typeof analyst;
Comlink.expose(analyst);
