/** The page at hand: planned, measured, saved and opened again. */
import { analyse, reuseIntrinsicSizes, addIntrinsicSizes, readSources } from '$core/analysis.ts';
import { drawingOf, type Drawing } from '$core/reports/drawing.ts';
import { wholeOf, type Document } from '$core/reading/nested-documents.ts';
import { makeHitIndex } from '$core/boxes/hit-test.ts';
import { elementAt, labelOf, pathOf } from '$core/reading/labels.ts';
import { paintOrder } from '$core/boxes/paint-order.ts';
import {
  checkedReading,
  fromStored,
  toStored,
  type Defaults,
  type Described,
  type RawReading,
} from '$core/reading/reading.ts';
import type { SavedBody } from '$core/reading/saved.ts';
import { hasBox, makeTree } from '$core/boxes/tree.ts';
import { pathInFrame } from '$core/css/syntax/addresses.ts';
import { breakpointsOf, type Breakpoint } from '$core/css/media/breakpoints.ts';
import { parseDocument } from '$core/html/document.ts';
import { unitsInUse, type InUse } from '$core/css/values/units-in-use.ts';
import type { PlanRequest, Validity } from '$core/css/cascade/plan.ts';
import { viewportContents } from '$core/html/viewport-contents.ts';
import { measureQuantity, quantityWords, type Quantity } from '$core/search/measured-quantity.ts';
import type { Framed } from '$station/nested-documents.ts';
import { at, pageOf, unsettled, type WorkerState } from './worker-state.ts';

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

function adopt(held: WorkerState, documents: Document[]): Taken {
  const analyses = documents.map(({ reading }, i) => {
    const surveyed = held.surveyed[i];
    if (!surveyed) throw new Error('The page was not described yet.');
    return analyse(surveyed.sources, surveyed.validity, surveyed.defaults, reading);
  });
  const last = held.documents.analyses[0];
  if (last && analyses[0]) reuseIntrinsicSizes(last, analyses[0]);
  const hitting = (reading: RawReading, order: Int32Array): Taken => {
    const { owners, index } = makeHitIndex(reading, order);
    return { order, owners, index: index?.data ?? null, whole: held.whole };
  };
  if (documents.length === 1) {
    held.whole = null;
    held.documents = { analyses, placed: [{ base: 0, x: 0, y: 0, owner: -1 }] };
    const { order, reading } = analyses[0]!;
    return hitting(reading, order);
  }
  const whole = wholeOf(documents);
  held.whole = whole.reading;
  held.documents = { analyses, placed: whole.placed };
  return hitting(whole.reading, paintOrder(makeTree(whole.reading)));
}

export const createPage = (held: WorkerState) => ({
  /** The texts of the specimen's files, whatever is laid over them. */
  hold: (texts: Record<string, string>): void => {
    held.texts = texts;
    held.files = null;
    held.laid = null;
  },
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
    held.surveyed = held.surveyed.slice(0, document);
    if (document === 0) held.tailors.clear();
    held.surveyed[document] = unsettled(sources, described, frameBase);
    return sources.plan.request;
  },
  /** What the engine said of the plan, and its defaults. */
  settle(
    document: number,
    validity: Validity,
    defaults: Defaults,
  ): {
    sheets: SheetFact[];
    missing: string[];
    breakpoints: Breakpoint[];
    inUse: InUse;
    queriesContainers: boolean;
  } {
    const surveyed = held.surveyed[document];
    if (!surveyed) throw new Error('The page was not described yet.');
    held.surveyed[document] = { ...surveyed, validity, defaults };
    held.taken.learn(surveyed.sources.plan.request.declarations, validity.declarations);
    const { plan } = surveyed.sources;
    return {
      sheets: plan.sheets.map(({ file, form, rules }) => ({
        file,
        form,
        rules: rules.length,
        declarations: rules.reduce((sum, rule) => sum + rule.declarations.length, 0),
      })),
      missing: plan.missing,
      breakpoints: breakpointsOf(plan),
      inUse: unitsInUse(plan),
      queriesContainers: plan.request.containers.length > 0,
    };
  },
  /** Checks readings as they came from the page and reasons about them. Throws where one is none. */
  take(raw: unknown, framed: Framed[]): Taken {
    return adopt(held, [
      { reading: checkedReading(raw), holder: -1, owner: -1 },
      ...framed.map(({ reading, holder, owner }) => ({ reading: checkedReading(reading), holder, owner })),
    ]);
  },
  /** The page's own reading; what is in its frames is not saved. */
  toStored: (): SavedBody => {
    const { sources: _, opened: _opened, ...known } = held.surveyed[0]!;
    const reading = toStored(pageOf(held).reading) as SavedBody['reading'];
    const { intrinsic: widths, reusedIntrinsicSizes: carried } = pageOf(held);
    // What was taken over from an earlier reading may not be true of this one.
    const intrinsic = [...widths].flatMap(([element, { min, max }]) =>
      carried.has(element) ? [] : [element, min, max],
    );
    return { normetra: 'stored-reading/1', ...known, reading, intrinsic };
  },
  /** Opens a saved reading in the place of the live one. */
  open(page: string, texts: Record<string, string>, body: SavedBody): Taken & { reading: RawReading } {
    const { described, validity, defaults, frameBase } = body;
    const sources = readSources(page, texts, described, frameBase);
    held.surveyed = [{ sources, described, validity, defaults, frameBase, opened: sources.html }];
    const reading = fromStored(body.reading);
    const taken = adopt(held, [{ reading, holder: -1, owner: -1 }]);
    addIntrinsicSizes(pageOf(held), body.intrinsic);
    return { ...taken, reading };
  },
  /** What the page's viewport meta elements say, under what is laid over it. */
  viewports: (): readonly string[] => {
    const { page } = held.surveyed[0]!.sources;
    const html = held.laid?.texts[page] ?? held.surveyed[0]!.sources.html;
    return viewportContents(parseDocument(page, html));
  },
  drawing: (): Drawing => drawingOf(held.whole ?? pageOf(held).reading),
  elementAt: (path: string): number => elementAt(held.whole ?? pageOf(held).reading, path),
  /** The path by which edits name an element of the page's own document. */
  elementPath: (element: number): string | null => {
    const { analysis, local, base } = at(held, element);
    return base === 0 ? pathOf(analysis.reading, local) : null;
  },
  /** Children, with a box, of elements of the page; of −1: what is in its body. */
  childrenOf: (elements: number[]): { element: number; label: string; path: string }[] => {
    const { reading, tree } = pageOf(held);
    const body = elementAt(reading, 'body');
    const parents = new Set(elements.map((element) => (element < 0 ? body : element)));
    return Array.from({ length: reading.count }, (_, i) => i)
      .filter((i) => parents.has(reading.parent[i]!) && hasBox(tree, i))
      .map((element) => ({ element, label: labelOf(reading, element), path: pathOf(reading, element) }));
  },
  /** A number of a reading, of the one at hand where none is given. */
  look: (quantity: Quantity, raw: unknown = null): number | null =>
    measureQuantity(raw === null ? pageOf(held).tree : makeTree(checkedReading(raw)), quantity),
  quantityWords: (quantity: Quantity): string => quantityWords(pageOf(held).tree, quantity),
});
