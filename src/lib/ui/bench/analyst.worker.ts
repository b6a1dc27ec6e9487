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
import {
  analyse,
  carryIntrinsic,
  doubtful,
  intrinsicBatches,
  learn,
  readAgain,
  readSources,
  type Analysis,
  type Sources,
} from '$core/analysis.ts';
import { drawingOf, type Drawing } from '$core/boxes/drawing.ts';
import { locate, wholeOf, type Document } from '$core/boxes/framed.ts';
import { makeHitIndex } from '$core/boxes/hit.ts';
import { elementAt, labelOf, pathOf } from '$core/boxes/label.ts';
import { paintOrder } from '$core/boxes/paint.ts';
import {
  fromStored,
  checkedReading,
  toStored,
  type Defaults,
  type Described,
  type RawReading,
} from '$core/boxes/reading.ts';
import type { SavedBody } from '$core/boxes/saved.ts';
import type { Suspect } from '$core/findings/finding.ts';
import { parseDocument } from '$core/css/document.ts';
import type { Profile } from '$core/defaults/profile.ts';
import { dependence, detectBetween, type Dependence } from '$core/findings/defaults.ts';
import { detectAll, detecting } from '$core/findings/index.ts';
import { reliances, type Reliance } from '$core/findings/reliance.ts';
import { createProving, type Proving } from './proving.ts';
import { spanOf, type Span } from '$core/findings/span.ts';
import { viewportContents } from '$core/findings/viewport.ts';
import { blameDefaults } from '$core/findings/pins.ts';
import { keyOf, type Blame } from '$core/findings/prove.ts';
import { hasBox, makeTree, rectOf } from '$core/boxes/tree.ts';
import { pathInFrame } from '$core/css/addresses.ts';
import { breakpointsOf, type Breakpoint } from '$core/css/breakpoints.ts';
import { inUseOf, type InUse } from '$core/css/inuse.ts';
import { asksTheSame, type PlanRequest, type Validity } from '$core/css/plan.ts';
import { makeTaken } from '$core/css/taken.ts';
import type { Source } from '$core/css/styles.ts';
import { mutesOf, type Mute } from '$core/search/mutes.ts';
import { quantityOf, quantityWithout, quantityWords, type Quantity } from '$core/search/symptom.ts';
import { dressing, isStructural, makeTailor, type DressAsk } from '$core/trials/dressing.ts';
import type { BlockTarget, Edit } from '$core/trials/edit.ts';
import type { Rect } from '$core/geometry/rect.ts';
import { differences, outermost, type Moved } from '$core/trials/moved.ts';
import { reasonOf, type Reason } from '$core/trials/why.ts';
import { ofFiles, overlay, type Overlay } from '$core/trials/overlay.ts';
import { writtenBack } from '$core/trials/written.ts';
import { declarationAt, readFiles, type Files } from '$core/trials/targets.ts';
import { changedRules, inWords, unifiedDiff } from '$core/trials/write.ts';
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

/** A page that is measured beside the one at hand. */
type Beside = 'base' | 'rendered';

interface Surveyed {
  sources: Sources;
  described: Described;
  validity: Validity;
  defaults: Defaults;
  frameBase: string;
  /** The text of its page that the document was opened with. */
  opened: string;
}

/** What is laid over the page's files: where what stands in the texts at hand stood before. */
let laid: Overlay | null = null;
let plainTexts: Record<string, string> = {};
let heldFiles: Files | null = null;
const plainFiles = (): Files => (heldFiles ??= readFiles(plainTexts));
/** What the page at hand is held against: the page without its trial, or another reading that the user chose. */
let base: Analysis | null = null;
/** The page as rendered and without a trial, where other defaults lie under the one at hand. */
let rendered: Analysis | null = null;
/** What is known of these before they have been read. */
const beside: Partial<Record<Beside, Surveyed>> = {};
/** What the engine gives by itself, and what the defaults under the page give. */
let profiles: { own: Profile; other: Profile } | null = null;
/** What depends on which of them, by the index of its finding. */
let depending = new Map<number, Dependence>();
let lastMoved: Moved | null = null;

/** What was found on the page at hand, and whoever looks for its causes. */
let found: Suspect[] = [];
let proving: Proving | null = null;
/** The sources of the page under the edits that are being tried. */
let probed: Sources | null = null;
/** What the last frame that nobody sees was asked by its plan. */
let told: { frame: number; request: PlanRequest } | null = null;

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

/** The frame that the user sees; those that nobody sees have numbers above it. */
const MAIN_FRAME = 0;
/** What frames were told, so that they can be told less the next time. */
const tailors = new Map<number, ReturnType<typeof makeTailor>>();
/** What the engine said of declarations, by property and value. */
const taken = makeTaken();

/** What a frame opened with `opened` must be told to be as `wanted`, by file, says; null: it must be opened anew. */
function dressed(
  frame: number,
  page: string,
  opened: Record<string, string>,
  wanted: Record<string, string>,
  isWhole: boolean,
  base: string | null = null,
): DressAsk | null {
  const { described, frameBase } = surveyed[0]!;
  const { sources } = need().analyses[0]!.styles;
  const back = Object.fromEntries(Object.keys(opened).map((file) => [file, plainTexts[file] ?? '']));
  const texts = { ...plainTexts, ...opened };
  const made = dressing({ page, texts, described, frameBase, sources }, { ...back, ...wanted });
  if (!made) return null;
  if (base !== null)
    for (const sheet of made.sheets)
      if (sheet.address?.startsWith(frameBase)) sheet.address = base + sheet.address.slice(frameBase.length);
  const tailor = tailors.get(frame) ?? makeTailor(described);
  tailors.set(frame, tailor);
  return tailor(made, isWhole);
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
    if (document === 0) tailors.clear();
    surveyed[document] = {
      sources,
      described,
      frameBase,
      opened: sources.html,
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
  ): {
    sheets: SheetFact[];
    missing: string[];
    breakpoints: Breakpoint[];
    inUse: InUse;
    queriesContainers: boolean;
  } {
    const known = surveyed[document];
    if (!known) throw new Error('The page was not described yet.');
    surveyed[document] = { ...known, validity, defaults };
    taken.learn(known.sources.plan.request.declarations, validity.declarations);
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
      inUse: inUseOf(plan),
      queriesContainers: plan.request.containers.length > 0,
    };
  },
  /** Checks readings as they came from the page and reasons about them. Throws where one is none. */
  take(raw: unknown, framed: Framed[]): Taken {
    return adopt([
      { reading: checkedReading(raw), holder: -1, owner: -1 },
      ...framed.map(({ reading, holder, owner }) => ({ reading: checkedReading(reading), holder, owner })),
    ]);
  },
  /** The page's own reading; what is in its frames is not saved. */
  toStored: (): SavedBody => {
    const { sources: _, opened: _opened, ...known } = surveyed[0]!;
    const reading = toStored(need().analyses[0]!.reading) as SavedBody['reading'];
    const { intrinsic: widths, carried } = need().analyses[0]!;
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
    surveyed = [{ sources, described, validity, defaults, frameBase, opened: sources.html }];
    const reading = fromStored(body.reading);
    const taken = adopt([{ reading, holder: -1, owner: -1 }]);
    learn(need().analyses[0]!, body.intrinsic);
    return { ...taken, reading };
  },
  /** Texts with which the page must be opened for edits that change its elements. */
  structural: (page: string, edits: Edit[]): Record<string, string> =>
    overlay(plainTexts, edits.filter(isStructural), page, plainFiles()).texts,
  /** The texts of the specimen's files, whatever is laid over them. */
  hold: (texts: Record<string, string>): void => {
    plainTexts = texts;
    heldFiles = null;
    laid = null;
  },
  /**
   * What the frame must be told to be as the files would be under a trial. `opened`: texts that the frame was opened with
   * in the place of the files' own. `dress` null: it must be opened anew with all of `texts`. `isWhole`: sheets are told as
   * whole texts, for a frame that did not take them rule by rule.
   */
  lay: (
    page: string,
    opened: Record<string, string>,
    edits: Edit[],
    isWhole = false,
  ): { dress: DressAsk | null; failed: Overlay['failed']; texts: Record<string, string> } => {
    laid = overlay(plainTexts, edits, page, plainFiles());
    return {
      dress: dressed(MAIN_FRAME, page, opened, laid.texts, isWhole),
      failed: laid.failed,
      texts: laid.texts,
    };
  },
  /**
   * The plan of the sheets as they are laid now, where the frame must be asked anew (`request`); else the declarations of
   * which it has not said yet whether it takes them.
   */
  replan: (): { request: PlanRequest | null; unknown: PlanRequest['declarations'] } => {
    const known = surveyed[0]!;
    const { described, frameBase, opened } = known;
    const texts = { ...plainTexts, ...laid?.texts };
    const sources = readAgain(known.sources, opened, texts, described, frameBase);
    const { request } = sources.plan;
    const isSame = asksTheSame(known.sources.plan.request, request);
    surveyed[0] = { ...known, sources };
    return isSame ? { request: null, unknown: taken.unknown(request) } : { request, unknown: [] };
  },
  /** What the frame said of the declarations that were unknown. */
  learnTaken: (unknown: PlanRequest['declarations'], answers: boolean[]): void => {
    taken.learn(unknown, answers);
    const known = surveyed[0]!;
    const validity = taken.validity(known.sources.plan.request, known.validity.supports);
    surveyed[0] = { ...known, validity };
  },
  /**
   * What a frame that nobody sees must be told to show the page under other edits; elements of `hide` take no room in it.
   * The page at hand is not touched. null: it must be opened anew for them. `frame`: one number for each, and the address of
   * the specimen's root in it.
   */
  probe: (
    frame: { number: number; base: string },
    page: string,
    opened: Record<string, string>,
    edits: Edit[],
    hide: number[],
    isWhole = false,
  ): DressAsk | null => {
    const { sources } = need().analyses[0]!.styles;
    const { texts } = overlay(plainTexts, edits, page, plainFiles());
    const made = dressed(frame.number, page, opened, texts, isWhole, frame.base);
    if (!made) return null;
    const hidden = new Set(hide);
    const own = new Map(
      made.attributes.filter(({ name }) => name === 'style').map(({ element, value }) => [element, value]),
    );
    const attributes = made.attributes.filter(({ element, name }) => name !== 'style' || !hidden.has(element));
    for (const element of hide) {
      const style = own.get(element) ?? sources[element]?.attributes['style']?.value ?? '';
      attributes.push({ element, name: 'style', value: `${style}${style ? ';' : ''}display:none!important` });
    }
    return { ...made, attributes };
  },
  /** A number of a reading, of the one at hand where none is given. */
  look: (quantity: Quantity, raw: unknown = null): number | null =>
    quantityOf(raw === null ? need().analyses[0]!.tree : makeTree(checkedReading(raw)), quantity),
  /** A number of the page at hand out of which elements were taken. */
  lookWithout: (quantity: Quantity, taken: number[], raw: unknown): number | null =>
    quantityWithout(need().analyses[0]!.reading, taken, makeTree(checkedReading(raw)), quantity),
  /** Two readings of the page, without a trial and under it: a number in both, and what is different. */
  compare: (without: unknown, under: unknown, quantity: Quantity): Omit<Compared, 'reach'> => {
    const [before, after] = [makeTree(checkedReading(without)), makeTree(checkedReading(under))];
    const moved = differences(before, after);
    const { width, height } = after.reading.viewport;
    return {
      plain: quantityOf(before, quantity),
      number: quantityOf(after, quantity),
      counts: moved.counts,
      largest: moved.largest,
      outlines: outermost(moved, after.reading, (width * height) / 2)
        .filter(({ after: element }) => element >= 0 && hasBox(after, element))
        .map(({ after: element }) => rectOf(after.reading, element)),
    };
  },
  quantityWords: (quantity: Quantity): string => quantityWords(need().analyses[0]!.tree, quantity),
  /** Children, with a box, of elements of the page; of −1: what is in its body. */
  childrenOf: (elements: number[]): { element: number; label: string; path: string }[] => {
    const { reading, tree } = need().analyses[0]!;
    const body = elementAt(reading, 'body');
    const parents = new Set(elements.map((one) => (one < 0 ? body : one)));
    return Array.from({ length: reading.count }, (_, i) => i)
      .filter((i) => parents.has(reading.parent[i]!) && hasBox(tree, i))
      .map((element) => ({ element, label: labelOf(reading, element), path: pathOf(reading, element) }));
  },
  /** Every declaration of the page's own sheets that matches something, as the edit that takes it out. */
  mutes: (): Mute[] => mutesOf(surveyed[0]!.sources.plan, need().analyses[0]!.reading, plainFiles()),
  /** The plan of a page beside the one at hand: of what it is held against, or of itself as rendered. */
  planBeside: (
    which: Beside,
    page: string,
    own: Record<string, string>,
    described: Described,
    frameBase: string,
  ): PlanRequest => {
    const sources = readSources(page, own, described, frameBase);
    beside[which] = {
      sources,
      described,
      frameBase,
      opened: sources.html,
      validity: { supports: [], declarations: [] },
      defaults: {},
    };
    return sources.plan.request;
  },
  /** Keeps a reading of that page. Throws where it is none. */
  keepBeside: (which: Beside, raw: unknown, validity: Validity, defaults: Defaults): void => {
    const known = beside[which];
    if (!known) throw new Error('The page to compare with was not described yet.');
    const made = analyse(known.sources, validity, defaults, checkedReading(raw));
    if (which === 'base') base = made;
    else rendered = made;
  },
  /** What the engine gives by itself, and what the defaults under the page give. */
  knowProfiles: (own: Profile, other: Profile): void => {
    profiles = { own, other };
  },
  /** The reading at hand is the one that later ones are held against. */
  keepOwn: (): void => {
    base = need().analyses[0]!;
  },
  /** What is different from what the page is held against; null where that has not been measured. */
  moved: (): Moved | null => (lastMoved = base && differences(base.tree, need().analyses[0]!.tree)),
  /** Why one of what moved is different; null: it is not in both readings. */
  why: (index: number): Reason | null => {
    const one = lastMoved?.list[index];
    return one && base ? asWritten(reasonOf(base, need().analyses[0]!, one)) : null;
  },
  /** What an edit must name to change the declaration that a source tells of, or the element's style attribute. */
  target: (element: number, source: Source): { at: BlockTarget; nth: number } | null => {
    const { analysis, local, base } = at(element);
    if (base !== 0) return null;
    if (source.origin === 'inline') {
      const path = pathOf(analysis.reading, local);
      return { at: { kind: 'inline', file: analysis.sources.page, path }, nth: 0 };
    }
    const found = declarationAt(plainFiles(), source.sheet, source.line, source.column);
    return found && { at: found.target, nth: found.nth };
  },
  /** What the page's viewport meta elements say, under what is laid over it. */
  viewports: (): readonly string[] => {
    const { page } = surveyed[0]!.sources;
    const html = laid?.texts[page] ?? surveyed[0]!.sources.html;
    return viewportContents(parseDocument(page, html));
  },
  /**
   * What looks wrong on the page's own document, what a visitor would notice most first. null: another reading came while
   * it was looked for, which goes first.
   */
  findings: async (): Promise<Found[] | null> => {
    const analysis = need().analyses[0]!;
    const looking = detecting(analysis);
    let step = looking.next();
    while (!step.done) {
      await new Promise((resolve) => setTimeout(resolve));
      if (need().analyses[0] !== analysis) return null;
      step = looking.next();
    }
    found = step.value;
    proving = null;
    depending = new Map();
    for (const one of dependsOnDefaults(analysis)) depending.set(found.push(one.suspect) - 1, one.dependence);
    return asWritten(
      found.map((suspect) => ({
        ...suspect,
        boxes: [],
        key: keyOf(analysis, suspect),
        label: labelOf(analysis.reading, suspect.subject),
        span: spanOf(analysis, suspect),
      })),
    );
  },
  /** The defaults that the page as rendered rests on, and that those under it give otherwise; null: none lie under it. */
  reliances: (): Reliance[] | null =>
    profiles && rendered ? reliances(rendered, profiles.own, profiles.other, need().analyses[0]!) : null,
  /** What is wrong on one of two readings alone: the one at hand, and what it is held against. Null: that is not measured. */
  findingsMoved: (): { gone: string[]; fresh: string[] } | null => {
    if (!base) return null;
    const now = need().analyses[0]!;
    const by = (analysis: Analysis) =>
      new Map(
        detectAll(analysis)
          .filter(({ meant }) => meant === '')
          .map((one) => [keyOf(analysis, one), one.what]),
      );
    const [before, after] = [by(base), by(now)];
    const only = (a: Map<string, string>, b: Map<string, string>) =>
      [...a].flatMap(([key, what]) => (b.has(key) ? [] : [what]));
    return { gone: only(before, after), fresh: only(after, before) };
  },
  /**
   * The plan of a frame that nobody sees, under more edits than those at hand, where it must be asked for (`request`); else
   * the declarations of which the engine has not said whether it takes them. `frame`: its number; null: it is new.
   */
  planProbe: (
    edits: Edit[],
    frame: number | null,
  ): { request: PlanRequest | null; unknown: PlanRequest['declarations'] } => {
    const known = surveyed[0]!;
    const { page } = known.sources;
    const texts = { ...plainTexts, ...overlay(plainTexts, edits, page, plainFiles()).texts };
    probed = readAgain(known.sources, known.opened, texts, known.described, known.frameBase);
    const { request } = probed.plan;
    if (frame !== null && told?.frame === frame && asksTheSame(told.request, request))
      return { request: null, unknown: taken.unknown(request) };
    if (frame !== null) told = { frame, request };
    return { request, unknown: [] };
  },
  /** What the engine takes of the last plan of such a frame, which was asked no more than what it had not said. */
  probeTaken: (unknown: PlanRequest['declarations'], answers: boolean[], supports: boolean[]): Validity => {
    taken.learn(unknown, answers);
    return taken.validity(probed!.plan.request, supports);
  },
  /** Who is to blame for a finding, and what helps. `measure` shows the page under more edits where nobody sees it. */
  blame: async (
    index: number,
    measure: (edits: Edit[], width?: number) => Promise<{ reading: unknown; validity: Validity } | null>,
  ): Promise<Blame | null> => {
    const suspect = found[index];
    if (!suspect) return null;
    const tried = async (edits: readonly Edit[], width?: number): Promise<Analysis | null> => {
      const got = await measure([...edits], width);
      if (!got || !probed) return null;
      taken.learn(probed.plan.request.declarations, got.validity.declarations);
      return analyse(probed, got.validity, surveyed[0]!.defaults, checkedReading(got.reading));
    };
    const dependence = depending.get(index);
    if (dependence && rendered) {
      const under = need().analyses[0]!;
      return blameDefaults({ rendered, under, suspect, dependence, measure: tried });
    }
    proving ??= createProving({ analysis: need().analyses[0]!, found, files: plainFiles(), asWritten });
    return proving.blame(suspect, tried);
  },
  /** The path by which edits name an element of the page's own document. */
  elementPath: (element: number): string | null => {
    const { analysis, local, base } = at(element);
    return base === 0 ? pathOf(analysis.reading, local) : null;
  },
  written: (edits: Edit[], page: string): Written => ({
    diff: unifiedDiff(plainTexts, edits, page),
    rules: changedRules(edits),
    words: inWords(plainFiles(), edits),
    files: overlay(plainTexts, ofFiles(edits), page, plainFiles()).texts,
  }),
  words: (edits: Edit[]): string[] => inWords(plainFiles(), edits),
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
    return asWritten({
      box: accountWithin(need(), element),
      properties: declaredProperties(analysis, local),
      pseudos: pseudosOf(analysis, local),
      wanting: base === 0 ? intrinsicBatches(analysis) : [],
    });
  },
  /** Content widths as they were before the last edit may be others now: those that accounts have used are asked for again. */
  doubt: (): number[][] => doubtful(need().analyses[0]!),
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
    asWritten(accountsByName(at(element).analysis, at(element).local, name)),
  /** `element`: the one whose account names the source, and so its document. */
  reach: (element: number, source: Source): number[] => {
    const { analysis, base } = at(element);
    return reachOf(analysis, source).map((one) => one + base);
  },
  areas: (elements: number[]): Areas[] => elements.map((element) => areasWithin(need(), element)),
  elementAt: (path: string): number => elementAt(whole ?? need().analyses[0]!.reading, path),
  drawing: (): Drawing => drawingOf(whole ?? need().analyses[0]!.reading),
};

/** Something that looks wrong, for the list. */
export interface Found extends Suspect {
  key: string;
  label: string;
  /** Where its px lie. */
  span: Span | null;
}

/** What a trial does at a width. */
export interface Compared {
  /** The number without the trial, and under it; null: there is no box. */
  plain: number | null;
  number: number | null;
  counts: Moved['counts'];
  /** CSS px. */
  largest: number;
  /** Where it puts the boxes that it changes, the largest change first. */
  outlines: Rect[];
  /** Elements that the selectors of its edits match. */
  reach: number;
}

/** Everything a trial comes to in writing. */
export interface Written {
  diff: string;
  rules: string;
  words: string[];
  files: Record<string, string>;
}

/** The same with every source at its place in the files as they are. */
const asWritten = <T>(made: T): T => (laid ? writtenBack(made, laid, plainTexts) : made);

/** What of the page is otherwise than it would be as rendered, because nothing but a default says so. */
function dependsOnDefaults(under: Analysis): { suspect: Suspect; dependence: Dependence }[] {
  if (!profiles || !rendered || rendered.reading.viewport.width !== under.reading.viewport.width) return [];
  const { own, other } = profiles;
  // What the trial says something of is pinned down by that.
  const now = new Map(dependence(under, own, other).map((one) => [one.key, one]));
  const depends = dependence(rendered, own, other).flatMap((one) => {
    const still = now.get(one.key);
    const elements = one.elements.filter((element) => still?.elements.includes(element));
    const differences = one.differences.filter(({ property }) =>
      still?.differences.some((other) => other.property === property),
    );
    return elements.length > 0 && differences.length > 0 ? [{ ...one, elements, differences }] : [];
  });
  return detectBetween(rendered, under, depends, other.title);
}

function adopt(given: Document[]): Taken {
  const analyses = given.map(({ reading }, i) => {
    const known = surveyed[i];
    if (!known) throw new Error('The page was not described yet.');
    return analyse(known.sources, known.validity, known.defaults, reading);
  });
  const last = documents.analyses[0];
  if (last && analyses[0]) carryIntrinsic(last, analyses[0]);
  if (given.length === 1) {
    whole = null;
    documents = { analyses, placed: [{ base: 0, x: 0, y: 0, owner: -1 }] };
    const { order, reading } = analyses[0]!;
    const hits = makeHitIndex(reading, order);
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
