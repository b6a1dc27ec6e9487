/** Reasons about readings off the main thread; the main thread asks for what it shows. */
import { analyse, readSources, type Analysis, type Sources } from '$core/analysis.ts';
import { boxAccount, type BoxAccount } from '$core/accounts/box.ts';
import {
  accountsByName,
  declaredProperties,
  pseudosOf,
  reachOf,
  type PropertyAccount,
  type PseudoAccount,
} from '$core/accounts/cascade.ts';
import { areasOf, type Areas } from '$core/accounts/edges.ts';
import { drawingOf, type Drawing } from '$core/boxes/drawing.ts';
import { elementAt } from '$core/boxes/label.ts';
import {
  fromStored,
  readingSchema,
  toStored,
  type Defaults,
  type Described,
  type RawReading,
} from '$core/boxes/reading.ts';
import type { SavedBody } from '$core/boxes/saved.ts';
import { breakpointsOf, type Breakpoint } from '$core/css/breakpoints.ts';
import type { Source } from '$core/css/styles.ts';
import type { PlanRequest, Validity } from '$core/css/plan.ts';
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
}

let sources: Sources | null = null;
let analysis: Analysis | null = null;
let kept: { described: Described; validity: Validity; defaults: Defaults; frameBase: string } | null = null;

function need(): Analysis {
  if (!analysis) throw new Error('Nothing has been measured yet.');
  return analysis;
}

const analyst = {
  plan(page: string, texts: Record<string, string>, described: Described, frameBase: string): PlanRequest {
    sources = readSources(page, texts, described, frameBase);
    kept = { described, frameBase, validity: { supports: [], declarations: [] }, defaults: {} };
    return sources.plan.request;
  },
  /** What the engine said of the plan, and its defaults. */
  settle(
    validity: Validity,
    defaults: Defaults,
  ): { sheets: SheetFact[]; missing: string[]; breakpoints: Breakpoint[] } {
    if (!sources || !kept) throw new Error('The page was not described yet.');
    kept = { ...kept, validity, defaults };
    return {
      sheets: sources.plan.sheets.map(({ file, form, rules }) => ({
        file,
        form,
        rules: rules.length,
        declarations: rules.reduce((sum, rule) => sum + rule.declarations.length, 0),
      })),
      missing: sources.plan.missing,
      breakpoints: breakpointsOf(sources.plan),
    };
  },
  /** Checks a reading as it came from the page. Throws where it is none. */
  take(raw: unknown): Taken {
    const parsed = readingSchema.safeParse(raw);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      throw new Error(
        `The page's reading is not one (${issue?.path.join('.')}: ${issue?.message}). Hold its scripts and open it again.`,
      );
    }
    return adopt(parsed.data);
  },
  toStored: (): SavedBody => {
    if (!kept) throw new Error('The page was not described yet.');
    return { normetra: 'stored-reading/1', ...kept, reading: toStored(need().reading) as SavedBody['reading'] };
  },
  /** Opens a saved reading in the place of the live one. */
  open(page: string, texts: Record<string, string>, body: SavedBody): Taken & { reading: RawReading } {
    sources = readSources(page, texts, body.described, body.frameBase);
    const { described, validity, defaults, frameBase } = body;
    kept = { described, validity, defaults, frameBase };
    const reading = fromStored(body.reading);
    return { ...adopt(reading), reading };
  },
  account: (element: number): { box: BoxAccount; properties: PropertyAccount[]; pseudos: PseudoAccount[] } => ({
    box: boxAccount(need(), element),
    properties: declaredProperties(need(), element),
    pseudos: pseudosOf(need(), element),
  }),
  byName: (element: number, name: string): PropertyAccount[] => accountsByName(need(), element, name),
  reach: (source: Source): number[] => reachOf(need(), source),
  areas: (elements: number[]): Areas[] => elements.map((element) => areasOf(need().tree, element)),
  elementAt: (path: string): number => elementAt(need().reading, path),
  drawing: (): Drawing => drawingOf(need().reading),
};

function adopt(reading: RawReading): Taken {
  if (!sources || !kept) throw new Error('The page was not described yet.');
  analysis = analyse(sources, kept.validity, kept.defaults, reading);
  const { order, hits } = analysis;
  return { order, owners: hits.owners, index: hits.index?.data ?? null };
}

export type Analyst = typeof analyst;
Comlink.expose(analyst);
