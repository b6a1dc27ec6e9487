/** Edits: laid over the page at hand, tried in frames that nobody sees, and written down. */
import { analyse, readAgain, type Analysis, type Sources } from '$core/analysis.ts';
import { pathOf } from '$core/reading/labels.ts';
import { checkedReading } from '$core/reading/reading.ts';
import { asksTheSame, type PlanRequest, type Validity } from '$core/css/cascade/plan.ts';
import type { Source } from '$core/css/cascade/styles.ts';
import { disabledDeclarations, type DisabledDeclaration } from '$core/search/disabled-declarations.ts';
import { documentPatch, isStructural, makePatcher, type PatchRequest } from '$core/trials/document-patch.ts';
import type { BlockTarget, Edit } from '$core/trials/edit.ts';
import { ofFiles, overlay, type Overlay } from '$core/trials/overlay.ts';
import { declarationAt } from '$core/trials/targets.ts';
import { changedRules, inWords, unifiedDiff } from '$core/trials/write.ts';
import { at, filesOf, pageOf, type WorkerState } from './worker-state.ts';

/** Everything a trial comes to in writing. */
export interface Written {
  diff: string;
  rules: string;
  words: string[];
  files: Record<string, string>;
}

/** The frame that the user sees; those that nobody sees have numbers above it. */
const MAIN_FRAME = 0;

export function createTrying(held: WorkerState) {
  /** The sources of the page under the edits that are being tried. */
  let probed: Sources | null = null;
  /** What the last frame that nobody sees was asked by its plan. */
  let reported: { frame: number; request: PlanRequest } | null = null;

  /** What a frame opened with `opened` must be told to be as `wanted`, by file, says; null: it must be opened anew. */
  function patched(
    frame: number,
    page: string,
    opened: Record<string, string>,
    wanted: Record<string, string>,
    isWhole: boolean,
    base: string | null = null,
  ): PatchRequest | null {
    const { described, frameBase } = held.surveyed[0]!;
    const { sources } = pageOf(held).styles;
    const back = Object.fromEntries(Object.keys(opened).map((file) => [file, held.texts[file] ?? '']));
    const texts = { ...held.texts, ...opened };
    const result = documentPatch({ page, texts, described, frameBase, sources }, { ...back, ...wanted });
    if (!result) return null;
    if (base !== null)
      for (const sheet of result.sheets)
        if (sheet.address?.startsWith(frameBase)) sheet.address = base + sheet.address.slice(frameBase.length);
    const patcher = held.tailors.get(frame) ?? makePatcher(described);
    held.tailors.set(frame, patcher);
    return patcher(result, isWhole);
  }

  const verbs = {
    /** Texts with which the page must be opened for edits that change its elements. */
    structural: (page: string, edits: Edit[]): Record<string, string> =>
      overlay(held.texts, edits.filter(isStructural), page, filesOf(held)).texts,
    /**
     * What the frame must be told to be as the files would be under a trial. `opened`: texts that the frame was opened with
     * in the place of the files' own. `patch` null: it must be opened anew with all of `texts`. `isWhole`: sheets are told as
     * whole texts, for a frame that did not take them rule by rule.
     */
    lay: (
      page: string,
      opened: Record<string, string>,
      edits: Edit[],
      isWhole = false,
    ): { patch: PatchRequest | null; failed: Overlay['failed']; texts: Record<string, string> } => {
      held.laid = overlay(held.texts, edits, page, filesOf(held));
      return {
        patch: patched(MAIN_FRAME, page, opened, held.laid.texts, isWhole),
        failed: held.laid.failed,
        texts: held.laid.texts,
      };
    },
    /**
     * The plan of the sheets as they are laid now, where the frame must be asked anew (`request`); else the declarations of
     * which it has not said yet whether it takes them.
     */
    replan: (): { request: PlanRequest | null; unknown: PlanRequest['declarations'] } => {
      const surveyed = held.surveyed[0]!;
      const { described, frameBase, opened } = surveyed;
      const texts = { ...held.texts, ...held.laid?.texts };
      const sources = readAgain(surveyed.sources, opened, texts, described, frameBase);
      const { request } = sources.plan;
      const isSame = asksTheSame(surveyed.sources.plan.request, request);
      held.surveyed[0] = { ...surveyed, sources };
      return isSame ? { request: null, unknown: held.taken.unknown(request) } : { request, unknown: [] };
    },
    /** What the frame said of the declarations that were unknown. */
    learnTaken: (unknown: PlanRequest['declarations'], answers: boolean[]): void => {
      held.taken.learn(unknown, answers);
      const surveyed = held.surveyed[0]!;
      const validity = held.taken.validity(surveyed.sources.plan.request, surveyed.validity.supports);
      held.surveyed[0] = { ...surveyed, validity };
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
    ): PatchRequest | null => {
      const { sources } = pageOf(held).styles;
      const { texts } = overlay(held.texts, edits, page, filesOf(held));
      const dressAsk = patched(frame.number, page, opened, texts, isWhole, frame.base);
      if (!dressAsk) return null;
      const hidden = new Set(hide);
      const ownFiles = new Map(
        dressAsk.attributes
          .filter(({ name }) => name === 'style')
          .map(({ element, value }) => [element, value]),
      );
      const attributes = dressAsk.attributes.filter(
        ({ element, name }) => name !== 'style' || !hidden.has(element),
      );
      for (const element of hide) {
        const style = ownFiles.get(element) ?? sources[element]?.attributes['style']?.value ?? '';
        attributes.push({ element, name: 'style', value: `${style}${style ? ';' : ''}display:none!important` });
      }
      return { ...dressAsk, attributes };
    },
    /**
     * The plan of a frame that nobody sees, under more edits than those at hand, where it must be asked for (`request`); else
     * the declarations of which the engine has not said whether it takes them. `frame`: its number; null: it is new.
     */
    planProbe: (
      edits: Edit[],
      frame: number | null,
    ): { request: PlanRequest | null; unknown: PlanRequest['declarations'] } => {
      const surveyed = held.surveyed[0]!;
      const { page } = surveyed.sources;
      const texts = { ...held.texts, ...overlay(held.texts, edits, page, filesOf(held)).texts };
      probed = readAgain(surveyed.sources, surveyed.opened, texts, surveyed.described, surveyed.frameBase);
      const { request } = probed.plan;
      if (frame !== null && reported?.frame === frame && asksTheSame(reported.request, request))
        return { request: null, unknown: held.taken.unknown(request) };
      if (frame !== null) reported = { frame, request };
      return { request, unknown: [] };
    },
    /** What the engine takes of the last plan of such a frame, which was asked no more than what it had not said. */
    probeTaken: (unknown: PlanRequest['declarations'], answers: boolean[], supports: boolean[]): Validity => {
      held.taken.learn(unknown, answers);
      return held.taken.validity(probed!.plan.request, supports);
    },
    /** Every declaration of the page's own sheets that matches something, as the edit that takes it out. */
    mutes: (): DisabledDeclaration[] =>
      disabledDeclarations(held.surveyed[0]!.sources.plan, pageOf(held).reading, filesOf(held)),
    /** What an edit must name to change the declaration that a source tells of, or the element's style attribute. */
    target: (element: number, source: Source): { at: BlockTarget; nth: number } | null => {
      const { analysis, local, base } = at(held, element);
      if (base !== 0) return null;
      if (source.origin === 'inline') {
        const path = pathOf(analysis.reading, local);
        return { at: { kind: 'inline', file: analysis.sources.page, path }, nth: 0 };
      }
      const found = declarationAt(filesOf(held), source.sheet, source.line, source.column);
      return found && { at: found.target, nth: found.nth };
    },
    written: (edits: Edit[], page: string): Written => ({
      diff: unifiedDiff(held.texts, edits, page),
      rules: changedRules(edits),
      words: inWords(filesOf(held), edits),
      files: overlay(held.texts, ofFiles(edits), page, filesOf(held)).texts,
    }),
    words: (edits: Edit[]): string[] => inWords(filesOf(held), edits),
  };

  return {
    verbs,
    /** What was measured under the edits tried last. Throws where it is no reading; null: none were tried. */
    analysed: (raw: unknown, validity: Validity): Analysis | null => {
      if (!probed) return null;
      held.taken.learn(probed.plan.request.declarations, validity.declarations);
      return analyse(probed, validity, held.surveyed[0]!.defaults, checkedReading(raw));
    },
  };
}

export type Trying = ReturnType<typeof createTrying>;
