/** The page in its frame under a trial: dressed where it can be, opened anew where its elements change. */
import type { Defaults } from '$core/boxes/reading.ts';
import { sameTexts } from '$core/trials/dressing.ts';
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

  /** Edits that found nothing to change, by their index. */
  async function wear(edits: readonly Edit[]): Promise<{ edit: number; why: string }[] | null> {
    if (edits === worn) return null;
    if (edits.length === 0 && worn.length === 0) return [];
    const list = [...edits];
    const wanted = await analyst.structural(page, list);
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
    if (made.dress) await frame().ask('dress', made.dress);
    const validity = await frame().ask('plan', made.plan);
    await analyst.settle(0, validity, defaults());
    worn = edits;
    return made.failed;
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
