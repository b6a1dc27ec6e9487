/** The page in its frame under a trial: patched where it can be, opened anew where its elements change. */
import type { Defaults } from '$core/reading/reading.ts';
import { isStructural, sameTexts, type PatchRequest } from '$core/trials/document-patch.ts';
import type { Edit } from '$core/trials/edit.ts';
import { affectedProperties } from '$core/trials/affected-properties.ts';
import type { Frame } from '$station/frame.ts';
import { asked, takeReading } from '$station/survey.ts';
import type { Remote } from 'comlink';
import type { Analyst } from '../analyst.worker.ts';

export interface TrialOnFrameInput {
  analyst: Remote<Analyst>;
  page: string;
  frame: () => Frame;
  defaults: () => Defaults;
  size: () => { width: number; height: number };
  /** Whether nothing but edits changes the page: no script runs, and nothing depends on the sizes of containers. */
  isQuiet: () => boolean;
  /** Opens the page with other texts in the place of its files' own, and measures it. */
  reopen: (texts: Record<string, string>) => Promise<void>;
}

export function createTrialOnFrame({
  analyst,
  page,
  frame,
  defaults,
  size,
  isQuiet,
  reopen,
}: TrialOnFrameInput) {
  /** Texts that the frame was opened with in the place of the files' own. */
  let opened: Record<string, string> = {};
  let applied: readonly Edit[] = [];

  /**
   * Puts edits over the page. `failed`: those that found nothing to change, by their index. `known` resolves once it is
   * known what the sheets come to; true: a reading taken before then lacks answers, and must be taken again. `read`
   * is the reading that was taken right behind, before the page could be painted.
   */
  async function wear(edits: readonly Edit[]): Promise<{
    failed: { edit: number; why: string }[];
    known: Promise<boolean>;
    read: Awaited<ReturnType<typeof takeReading>>;
  } | null> {
    if (edits === applied) return null;
    if (edits.length === 0 && applied.length === 0) return null;
    const list = [...edits];
    let reopened = false;
    const wanted = list.some(isStructural) ? await analyst.structural(page, list) : {};
    if (!sameTexts(wanted, opened)) {
      await reopen(wanted);
      reopened = true;
      opened = wanted;
    }
    let result = await analyst.lay(page, opened, list);
    if (!result.patch) {
      await reopen(result.texts);
      reopened = true;
      opened = result.texts;
      result = await analyst.lay(page, opened, list);
    }
    // The worker makes the plan while the page is patched and laid out.
    const previous = analyst.replan().then(ask);
    const changed = reopened || !isQuiet() ? null : affectedProperties(applied, list);
    const readNow = () => takeReading(frame(), size(), 'full', changed);
    const patch = async (ask: PatchRequest) => {
      if (!changed) return (await frame().ask('applyPatch', ask)) ? readNow() : null;
      // Where a few declarations changed, nothing is on its way, and the page is read before it is painted.
      const reading = await frame().ask('patchAndRead', { patch: ask, read: asked('full', changed) });
      return reading && { reading, waited: [] };
    };
    let read = result.patch ? await patch(result.patch) : await readNow();
    if (!read) {
      const whole = await analyst.lay(page, opened, list, true);
      read = (whole.patch && (await patch(whole.patch))) ?? (await readNow());
    }
    applied = edits;
    return { failed: result.failed, known: previous, read };
  }

  async function ask({ request, unknown }: Awaited<ReturnType<typeof analyst.replan>>): Promise<boolean> {
    if (request) {
      await analyst.settle(0, await frame().ask('plan', request), defaults());
      return true;
    }
    // The page is in the same engine as this, and busy.
    const answers = unknown.map(([property, value]) => CSS.supports(property, value));
    await analyst.learnTaken(unknown, answers);
    return false;
  }

  return {
    wear,
    get opened() {
      return opened;
    },
    /** The page was opened anew with its files' own texts. */
    reset: () => {
      opened = {};
      applied = [];
    },
  };
}
