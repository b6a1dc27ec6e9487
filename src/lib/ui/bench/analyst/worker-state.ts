/** The page at hand as the analyst knows it: its files, what is laid over them, its documents and what was measured of them. */
import type { Documents } from '$core/accounts/model/nested-documents.ts';
import type { Analysis, Sources } from '$core/analysis.ts';
import { locate } from '$core/reading/nested-documents.ts';
import type { Defaults, Described, RawReading } from '$core/reading/reading.ts';
import type { Validity } from '$core/css/cascade/plan.ts';
import { makeSupportCache } from '$core/css/cascade/support-cache.ts';
import type { makePatcher } from '$core/trials/document-patch.ts';
import type { Overlay } from '$core/trials/overlay.ts';
import { readFiles, type Files } from '$core/trials/targets.ts';
import type { Observation } from '$core/finding.ts';
import { observeAll } from '$core/rules/index.ts';
import { mapToSource } from '$core/trials/source-mapping.ts';

/** A document, and what its engine said of it. */
export interface Surveyed {
  sources: Sources;
  described: Described;
  validity: Validity;
  defaults: Defaults;
  frameBase: string;
  /** The text of its page that the document was opened with. */
  opened: string;
}

/** A document of which the engine has said nothing yet. */
export const unsettled = (sources: Sources, described: Described, frameBase: string): Surveyed => ({
  sources,
  described,
  frameBase,
  opened: sources.html,
  validity: { supports: [], declarations: [] },
  defaults: {},
});

export interface WorkerState {
  /** The texts of the specimen's files, and what they come to, once somebody asks. */
  texts: Record<string, string>;
  files: Files | null;
  /** What is laid over them: where what stands in the texts at hand stood before. */
  laid: Overlay | null;
  /** The page itself, then the documents in its frames. */
  surveyed: Surveyed[];
  documents: Documents;
  /** The page and what is in its frames as one reading; null where there is nothing in frames. */
  whole: RawReading | null;
  /** What the engine said of declarations, by property and value. */
  taken: ReturnType<typeof makeSupportCache>;
  /** What frames were told, by their numbers, so that they can be told less the next time. */
  tailors: Map<number, ReturnType<typeof makePatcher>>;
}

export const createHeld = (): WorkerState => ({
  texts: {},
  files: null,
  laid: null,
  surveyed: [],
  documents: { analyses: [], placed: [] },
  whole: null,
  taken: makeSupportCache(),
  tailors: new Map(),
});

export const filesOf = (held: WorkerState): Files => (held.files ??= readFiles(held.texts));

/** Throws where nothing has been measured. */
export function need({ documents }: WorkerState): Documents {
  if (documents.analyses.length === 0) throw new Error('Nothing has been measured yet.');
  return documents;
}

const observed = new WeakMap<Analysis, Observation[]>();
/** All that is found on a reading, worked out once whoever asks. */
export function observedOn(analysis: Analysis): Observation[] {
  let found = observed.get(analysis);
  if (!found) observed.set(analysis, (found = observeAll(analysis)));
  return found;
}

/** The analysis of the page itself, without what is in its frames. */
export const pageOf = (held: WorkerState): Analysis => need(held).analyses[0]!;

/** The analysis of the document that an element is in, with its number there and that of the document's first. */
export function at(held: WorkerState, element: number): { analysis: Analysis; local: number; base: number } {
  const { analyses, placed } = need(held);
  const { document, local } = locate({ placed }, element);
  return { analysis: analyses[document]!, local, base: placed[document]!.base };
}

/** The same with every source at its place in the files as they are. */
export const asWritten = <T>({ laid, texts }: WorkerState, result: T): T =>
  laid ? mapToSource(result, laid, texts) : result;
