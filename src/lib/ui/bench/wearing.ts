/** The page in its frame under a trial: dressed where it can be, opened anew where its elements change. */
import type { Defaults } from '$core/boxes/reading.ts';
import { isStructural, sameTexts } from '$core/trials/dressing.ts';
import type { Edit } from '$core/trials/edit.ts';
import type { Frame } from '$station/frame.ts';
import type { Remote } from 'comlink';
import type { Analyst } from './analyst.worker.ts';

export interface Wardrobe {
  analyst: Remote<Analyst>;
  page: string;
  frame: () => Frame;
  defaults: () => Defaults;
  /** Opens the page with other texts in the place of its files' own, and measures it. */
  reopen: (texts: Record<string, string>) => Promise<void>;
}

export function createWearing({ analyst, page, frame, defaults, reopen }: Wardrobe) {
  /** Texts that the frame was opened with in the place of the files' own. */
  let opened: Record<string, string> = {};
  let worn: readonly Edit[] = [];

  /**
   * Puts edits over the page. `failed`: those that found nothing to change, by their index. `known` resolves once it is
   * known what the sheets come to; true: a reading taken before then lacks answers, and must be taken again.
   */
  async function wear(
    edits: readonly Edit[],
  ): Promise<{ failed: { edit: number; why: string }[]; known: Promise<boolean> } | null> {
    if (edits === worn) return null;
    if (edits.length === 0 && worn.length === 0) return null;
    const list = [...edits];
    const wanted = list.some(isStructural) ? await analyst.structural(page, list) : {};
    if (!sameTexts(wanted, opened)) {
      await reopen(wanted);
      opened = wanted;
    }
    let made = await analyst.lay(page, opened, list);
    if (!made.dress) {
      await reopen(made.texts);
      opened = made.texts;
      made = await analyst.lay(page, opened, list);
    }
    // The worker makes the plan while the page is dressed and laid out.
    const known = analyst.replan(page).then(ask);
    if (made.dress) await frame().ask('dress', made.dress);
    worn = edits;
    return { failed: made.failed, known };
  }

  async function ask({ request, unknown }: Awaited<ReturnType<typeof analyst.replan>>): Promise<boolean> {
    if (request) {
      await analyst.settle(0, await frame().ask('plan', request), defaults());
      return true;
    }
    await analyst.learnTaken(unknown, unknown.length > 0 ? await frame().ask('taken', unknown) : []);
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
      worn = [];
    },
  };
}
