/** Everything that is worked out of one reading. What is costly and asked for of few boxes is made when asked. */
import { paintOrder } from './boxes/paint-order.ts';
import type { Defaults, Described, RawReading } from './reading/reading.ts';
import { makeTree, type BoxTree } from './boxes/tree.ts';
import type { Stop } from './rules/stops.ts';
import { pathInFrame } from './css/syntax/addresses.ts';
import { makeStyles, type Styles } from './css/cascade/styles.ts';
import { parseDocument, type SourceDocument } from './html/document.ts';
import { mediaWithoutEffect } from './css/media/media-without-effect.ts';
import { scriptsIn, touchesOf, type Touch } from './html/scripts.ts';
import { makePlan, patchedPlan, type Plan, type Validity } from './css/cascade/plan.ts';

/** A page's sources and what its sheets come to; the same for all readings of a revision. */
export interface Sources {
  page: string;
  html: string;
  document: SourceDocument;
  plan: Plan;
  /** Whether the page's scripts are held. */
  isHeld: boolean;
  /** How many scripts the page has that can be read, and what they would touch if they ran. */
  scripted: () => Scripted;
}

export interface Analysis {
  sources: Sources;
  reading: RawReading;
  tree: BoxTree;
  styles: Styles;
  order: Int32Array;
  /** What has been worked out so far, by what it is of; emptied when content widths are learned. */
  memo: Map<unknown, unknown>;
  /** What stopped rules, where it is asked why they say nothing; null: nobody asks. */
  stops: Stop[] | null;
  /** Content widths under no and under endless pressure, as far as the engine was asked for them. */
  intrinsic: Map<number, Intrinsic>;
  /** Boxes whose accounts lack such widths. */
  missingIntrinsicSizes: Set<number>;
  /** Boxes whose widths are those of an earlier reading, and whether an account has used them. */
  reusedIntrinsicSizes: Map<number, boolean>;
}

/** CSS px (Sizing 3 §5.1). */
export interface Intrinsic {
  min: number;
  max: number;
}

/**
 * The boxes whose content widths are wanted, in batches that do not disturb each other: those that have their size from
 * their content can be asked together, others not together with what lies in them or around them.
 */
export function intrinsicBatches(analysis: Analysis): number[][] {
  const { reading, missingIntrinsicSizes: wanting } = analysis;
  const plain: number[] = [];
  const batches: number[][] = [];
  const depths = new Map<number, number>();
  for (const element of [...wanting].sort((a, b) => a - b)) {
    if (isFree(analysis, element)) {
      plain.push(element);
      continue;
    }
    let depth = 0;
    for (let at = reading.parent[element]!; at >= 0; at = reading.parent[at]!)
      depth = Math.max(depth, (depths.get(at) ?? -1) + 1);
    depths.set(element, depth);
    (batches[depth] ??= []).push(element);
  }
  return plain.length > 0 ? [plain, ...batches] : batches;
}

/** Takes content widths over from an earlier reading of the same elements, until the engine is asked again. */
export function reuseIntrinsicSizes(from: Analysis, to: Analysis): void {
  if (from.reading.count !== to.reading.count || from.reading.document.url !== to.reading.document.url) return;
  for (const [element, sizes] of from.intrinsic) {
    to.intrinsic.set(element, sizes);
    to.reusedIntrinsicSizes.set(element, false);
  }
}

/**
 * Content widths do not depend on the room that a box has (CSS Sizing 3 §5.1; percentages in them count as auto or zero,
 * §5.2.1), so readings of one page at widths at which the same conditions hold have theirs in common: what one learns, all
 * know. `pool`: of this page; `moving`: boxes in which a length depends on the viewport, and which learn theirs each time.
 */
export type ContentWidths = Map<string, Analysis['intrinsic']>;
export function shareIntrinsicSizes(
  pool: ContentWidths,
  analysis: Analysis,
  moving: ReadonlySet<number>,
): void {
  const silent = mediaWithoutEffect(analysis.sources.plan, analysis.reading);
  const state = analysis.reading.media.map((holds, i) => (silent[i] ? '' : Number(holds))).join('');
  const previous = pool.get(state) ?? new Map<number, Intrinsic>();
  pool.set(state, previous);
  analysis.intrinsic = moving.size === 0 ? previous : new PartlyShared(previous, moving);
}

/** Content widths of one reading, of which all but some boxes' are those of others as well. */
class PartlyShared extends Map<number, Intrinsic> {
  constructor(
    private readonly shared: Map<number, Intrinsic>,
    private readonly wanted: ReadonlySet<number>,
  ) {
    super();
  }
  override get(element: number): Intrinsic | undefined {
    return this.wanted.has(element) ? super.get(element) : this.shared.get(element);
  }
  override has(element: number): boolean {
    return this.wanted.has(element) ? super.has(element) : this.shared.has(element);
  }
  override set(element: number, sizes: Intrinsic): this {
    if (this.wanted.has(element)) return super.set(element, sizes);
    this.shared.set(element, sizes);
    return this;
  }
}

/** The boxes whose widths were taken over and used, in batches as `intrinsicBatches` makes them. */
export function staleIntrinsicSizes(analysis: Analysis): number[][] {
  for (const [element, isUsed] of analysis.reusedIntrinsicSizes)
    if (isUsed) analysis.missingIntrinsicSizes.add(element);
  return intrinsicBatches(analysis);
}

/** Whether nothing but its content gives a box its width. */
function isFree({ reading }: Analysis, element: number): boolean {
  const is = (group: 'used' | 'computed', property: string, values: RegExp) =>
    values.test(reading.strings[reading[group][property]?.[element] ?? -1] ?? '');
  return (
    is('computed', 'width', /^(auto|)$/) &&
    is('computed', 'min-width', /^(auto|0px|)$/) &&
    is('computed', 'max-width', /^(none|)$/) &&
    is('used', 'flex-basis', /^(auto|)$/)
  );
}

/** Takes the collector's answer to `intrinsic`: element, min-content, max-content. What was made without it is made anew. */
export function addIntrinsicSizes(analysis: Analysis, answer: readonly number[]): void {
  for (let i = 0; i + 2 < answer.length; i += 3) {
    analysis.intrinsic.set(answer[i]!, { min: answer[i + 1]!, max: answer[i + 2]! });
    analysis.reusedIntrinsicSizes.delete(answer[i]!);
  }
  analysis.missingIntrinsicSizes.clear();
  analysis.memo.clear();
}

/** What is learned can show that more is wanted; this many rounds settle all that was met. */
const ROUNDS = 3;

/** Runs what asks accounts, and again with the content widths that these lacked. `ask`: the collector's answer to `intrinsic`. */
export async function retryWithSizes<T>(
  analysis: Analysis,
  ask: (batches: number[][]) => Promise<readonly number[]>,
  run: () => T,
): Promise<T> {
  for (let round = 0; round < ROUNDS; round++) {
    const result = run();
    if (analysis.missingIntrinsicSizes.size === 0) return result;
    addIntrinsicSizes(analysis, await ask(intrinsicBatches(analysis)));
  }
  return run();
}

/** Pages parsed last: a trial changes one file at a time, and the others are read again and again. */
const parsed = new Map<string, SourceDocument>();
const PARSED = 8;

function documentOf(page: string, html: string): SourceDocument {
  const cached = parsed.get(html);
  if (cached?.path === page) return cached;
  const source = parseDocument(page, html);
  parsed.set(html, source);
  for (const old of parsed.keys()) {
    if (parsed.size <= PARSED) break;
    parsed.delete(old);
  }
  return source;
}

/** `texts`: pages and sheets by path; `frameBase`: the address at which the specimen's root was served. */
export function readSources(
  page: string,
  texts: Record<string, string>,
  described: Described,
  frameBase: string,
): Sources {
  const document = documentOf(page, texts[page] ?? '');
  const plan = makePlan({
    described,
    document,
    textOf: (path) => texts[path] ?? null,
    pathOf: (address, from) => pathInFrame(address, from, frameBase),
  });
  const html = texts[page] ?? '';
  return {
    page,
    html,
    document,
    plan,
    isHeld: described.isHeld ?? false,
    scripted: scriptedIn(page, html, texts),
  };
}

export interface Scripted {
  count: number;
  touches: Touch[];
}

/** Scripts are read when something is found, and once. */
function scriptedIn(page: string, html: string, texts: Readonly<Record<string, string>>): Sources['scripted'] {
  let scripted: Scripted | null = null;
  return () => {
    if (scripted) return scripted;
    const scripts = scriptsIn(page, html, texts);
    scripted = { count: scripts.length, touches: touchesOf(scripts) };
    return scripted;
  };
}

/**
 * The same page with other texts, for the document that was opened with `opened` as its own and patched since; made from
 * what is known where little has changed.
 */
export function readAgain(
  sources: Sources,
  opened: string,
  texts: Record<string, string>,
  described: Described,
  frameBase: string,
): Sources {
  const { page } = sources;
  const html = texts[page] ?? '';
  if (html === sources.html) {
    const plan = patchedPlan(sources.plan, (path) => texts[path] ?? null);
    if (plan) return { ...sources, plan };
  }
  if (html === opened) return readSources(page, texts, described, frameBase);
  // Style elements say now what they would have said in the other text.
  const [before, after] = [documentOf(page, opened), documentOf(page, html)];
  const sheets = described.sheets.map((sheet) => {
    const [was, is] = [before, after].map(({ styles }) => styles[sheet.root]?.[sheet.owner]?.text?.value);
    return sheet.form === 'style' && is !== undefined && was === sheet.text ? { ...sheet, text: is } : sheet;
  });
  return readSources(page, texts, { ...described, sheets }, frameBase);
}

/** `last`: an analysis of the same page, of which what is said of its elements is taken over where nothing makes it another. */
export function analyse(
  sources: Sources,
  validity: Validity,
  defaults: Defaults,
  reading: RawReading,
  last: Analysis | null = null,
): Analysis {
  const tree = makeTree(reading, last?.tree);
  // Where boxes are what they were, they are painted in the order that they were.
  const order = last?.tree.kinds === tree.kinds ? last.order : paintOrder(tree);
  return {
    sources,
    reading,
    tree,
    order,
    styles: makeStyles(
      { plan: sources.plan, validity, reading, defaults, document: sources.document },
      last?.styles,
    ),
    memo: new Map(),
    intrinsic: new Map(),
    missingIntrinsicSizes: new Set(),
    reusedIntrinsicSizes: new Map(),
    stops: null,
  };
}
