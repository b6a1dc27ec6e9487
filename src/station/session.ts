/**
 * One page in one frame, under one trial after another: edits are laid over it, its sheets are planned anew, and it is read.
 * Where the frame is, and where the core runs (in a worker, in this process), is for whoever opens the session.
 */
import type { PlanRequest, Validity } from '../core/css/cascade/plan.ts';
import type { Changed } from '../core/reading/reading.ts';
import { affectedProperties } from '../core/trials/affected-properties.ts';
import { isStructural, sameTexts, type PatchRequest } from '../core/trials/document-patch.ts';
import type { Edit } from '../core/trials/edit.ts';
import type { Overlay } from '../core/trials/overlay.ts';
import type { Size } from '../protocol/protocol.ts';
import { asked, takeReading, type Asker } from './survey.ts';

/** Texts of files, by path. */
export type Texts = Readonly<Record<string, string>>;

/** Now, or in a while. */
type Eventually<T> = T | Promise<T>;

/** A page in its frame. */
export interface Port extends Asker {
  /** Whether the engine takes declarations, in their order. */
  supports: (declarations: PlanRequest['declarations']) => Eventually<boolean[]>;
}

/** `patch` null: the page must be opened anew with `texts`. `failed`: edits that found nothing to change, by their index. */
export interface Patched {
  patch: PatchRequest | null;
  failed: Overlay['failed'];
  texts: Texts;
}

/** What the page must be asked once its sheets are others: its plan anew (`request`), or only whether it takes declarations. */
export interface Replanned {
  request: PlanRequest | null;
  unknown: PlanRequest['declarations'];
}

/** What the core works out for a session. `V`: what it makes of what the engine said. */
export interface Reasoner<V> {
  /** Texts with which the page must be opened for edits that change its elements. */
  structural: (edits: Edit[]) => Eventually<Texts>;
  /**
   * What a page that was opened with texts in the place of its files' own must be told to be as edits say. `isWhole`: sheets are
   * told as whole texts, for a page that did not take them rule by rule.
   */
  patch: (opened: Texts, edits: Edit[], isWhole: boolean) => Eventually<Patched>;
  /** What the page must be asked under edits. */
  replan: (edits: Edit[]) => Eventually<Replanned>;
  /** What the engine said of a plan. */
  planned: (request: PlanRequest, validity: Validity) => Eventually<V>;
  /** What it said of declarations that were unknown. */
  learned: (unknown: PlanRequest['declarations'], answers: boolean[]) => Eventually<V>;
}

export interface SessionInput<V> {
  reasoner: Reasoner<V>;
  port: () => Port;
  size: () => Size;
  /** Whether nothing but edits changes the page: no script runs, and nothing depends on the sizes of containers. */
  isQuiet: () => boolean;
  /** Opens the page with texts in the place of its files' own. null: it stays as it was opened. */
  reopen?: ((texts: Texts) => Promise<void>) | null;
}

/** A reading that is not checked yet, and what was not there in time for it. */
export interface Taken {
  reading: unknown;
  waited: string[];
}

export interface Read<V> extends Taken {
  failed: Overlay['failed'];
  said: V;
}

export type Session<V> = ReturnType<typeof createSession<V>>;

export function createSession<V>({ reasoner, port, size, isQuiet, reopen = null }: SessionInput<V>) {
  let opened: Texts = {};
  let applied: readonly Edit[] = [];
  /** The edits and the size of the last reading; null: it says nothing of what the page is now. */
  let last: { edits: readonly Edit[]; size: Size } | null = null;

  async function openWith(texts: Texts): Promise<void> {
    await reopen!(texts);
    opened = texts;
    last = null;
  }

  /** What the page must be told to be under edits, opened anew for them where it can be; null: it cannot. */
  async function prepare(list: Edit[]): Promise<Patched | null> {
    if (reopen) {
      const wanted = list.some(isStructural) ? await reasoner.structural(list) : {};
      if (!sameTexts(wanted, opened)) await openWith(wanted);
    }
    const result = await reasoner.patch(opened, list, false);
    if (result.patch) return result;
    if (!reopen) return null;
    await openWith(result.texts);
    return reasoner.patch(opened, list, false);
  }

  const patchOf = async ({ patch }: Patched, list: Edit[], isWhole: boolean): Promise<PatchRequest | null> =>
    isWhole ? (await reasoner.patch(opened, list, true)).patch : patch;

  /** Asks the page what its sheets come to under the edits laid last. `isAsked`: a reading from before lacks answers. */
  async function replan(list: Edit[]): Promise<{ said: V; isAsked: boolean }> {
    const { request, unknown } = await reasoner.replan(list);
    if (request)
      return { said: await reasoner.planned(request, await port().ask('plan', request)), isAsked: true };
    const answers = unknown.length === 0 ? [] : await port().supports(unknown);
    return { said: await reasoner.learned(unknown, answers), isAsked: false };
  }

  /** What edits alone have made another since the last reading; null: anything can be. */
  function changed(edits: readonly Edit[]): Changed | null {
    const now = size();
    if (last?.size.width !== now.width || last.size.height !== now.height) return null;
    return last.edits !== edits && isQuiet() ? affectedProperties(last.edits, edits) : null;
  }

  async function read(): Promise<Taken> {
    const now = { ...size() };
    const taken = await takeReading(port(), now, 'full', changed(applied));
    last = { edits: applied, size: now };
    return taken;
  }

  return {
    /** Texts that the page was opened with in the place of its files' own. */
    get opened() {
      return opened;
    },
    get applied() {
      return applied;
    },
    /** Whether the last reading is of the page as it is, but for its size. */
    get isRead() {
      return last !== null && last.edits === applied;
    },
    /** The page was opened anew with its files' own texts. */
    reset: (): void => {
      opened = {};
      applied = [];
      last = null;
    },
    /** The page has been read by somebody else, at a size. */
    wasRead: (at: Size): void => {
      last = { edits: applied, size: at };
    },
    /** Lays edits over the page in the place of those before. null: it would have to be opened anew. */
    lay: async (edits: readonly Edit[]): Promise<Pick<Read<V>, 'failed'> | null> => {
      const list = [...edits];
      const result = await prepare(list);
      if (!result) return null;
      await applyPatch(port(), (isWhole) => patchOf(result, list, isWhole));
      const { isAsked } = await replan(list);
      applied = edits;
      if (isAsked) last = null;
      return { failed: result.failed };
    },
    /** A full reading at the size at hand. */
    read,
    /**
     * Both in one go: where a few declarations changed, the page is read before it is painted, and planned meanwhile. null: it
     * would have to be opened anew, or nobody wants to know any more (`isWanted`), which is asked before what takes its time.
     */
    layAndRead: async (
      edits: readonly Edit[],
      isWanted: () => boolean = () => true,
    ): Promise<Read<V> | null> => {
      const list = [...edits];
      const result = await prepare(list);
      if (!result || !isWanted()) return null;
      const narrow = changed(edits);
      const now = { ...size() };
      last = null;
      const wanted = (isWhole: boolean): Eventually<PatchRequest | null> => patchOf(result, list, isWhole);
      const [early, { said, isAsked }] = await Promise.all([
        narrow ? patchAndRead(port(), narrow, wanted) : applyPatch(port(), wanted).then(() => null),
        replan(list),
      ]);
      applied = edits;
      if (!isWanted()) return null;
      if (!early || isAsked) return { ...(await read()), failed: result.failed, said };
      last = { edits, size: now };
      return { ...early, failed: result.failed, said };
    },
    /** Plans and reads a page that was opened with the texts that edits come to. */
    readAs: async (edits: readonly Edit[], isWanted: () => boolean): Promise<Read<V> | null> => {
      const { said } = await replan([...edits]);
      return isWanted() ? { ...(await read()), failed: [], said } : null;
    },
  };
}

/** Tells a page a patch, as whole texts where it does not take it rule by rule. False: there is none. */
export async function applyPatch(
  page: Asker,
  patchOf: (isWhole: boolean) => Eventually<PatchRequest | null>,
): Promise<boolean> {
  const patch = await patchOf(false);
  if (!patch) return false;
  if (await page.ask('applyPatch', patch)) return true;
  const whole = await patchOf(true);
  return whole !== null && (await page.ask('applyPatch', whole));
}

/** The same, read before the page is painted; null: it did not take it. */
async function patchAndRead(
  page: Asker,
  narrow: Changed,
  patchOf: (isWhole: boolean) => Eventually<PatchRequest | null>,
): Promise<Taken | null> {
  for (const isWhole of [false, true]) {
    const patch = await patchOf(isWhole);
    const reading = patch && (await page.ask('patchAndRead', { patch, read: asked('full', narrow) }));
    if (reading) return { reading, waited: [] };
  }
  return null;
}
