/** Requests that the collector answers over its port, by `id`; a reply bears the same `id`. Types only. */
import type { Changed, Defaults, Described, RawReading, Wanted } from '../core/reading/reading.ts';
import type { PatchRequest } from '../core/trials/document-patch.ts';
import type { PlanRequest, Validity } from '../core/css/cascade/plan.ts';

export interface Requests {
  describe: { ask: null; reply: Described };
  plan: { ask: PlanRequest; reply: Validity };
  read: { ask: ReadAsk; reply: RawReading };
  /**
   * The same as text, told apart from the reply of number `since` (`makePacker`); 0: from nothing. '': the viewport does not
   * have the size `at`, or something is not there yet.
   */
  readDelta: { ask: { read: ReadAsk; since: number; at: Size | null }; reply: string };
  defaults: { ask: { keys: string[]; properties: string[] }; reply: Defaults };
  /** Whether the viewport has this size, and fonts and images are there; `waited`: what is not. */
  waitUntilReady: {
    ask: Size;
    reply: { width: number; height: number; waited: string[] };
  };
  /** Lays scrollbars over what they scroll, or beside it as the engine has them. False: they were so already. */
  setScrollbars: { ask: { areOver: boolean }; reply: boolean };
  /** Content widths of elements of the last reading, batch after batch: element, min-content, max-content. */
  intrinsicSizes: { ask: { batches: number[][] }; reply: number[] };
  /** Elements of the last reading that a selector matches. */
  find: { ask: { selector: string }; reply: number[] };
  /** Scrolls an element of the last reading, or the viewport (−1), by an offset, or to a place. */
  scroll: { ask: { element: number; x: number; y: number; to: boolean }; reply: Scrolled };
  /** Shows the document under a trial. All that is not named is as the document came. */
  applyPatch: { ask: PatchRequest; reply: boolean };
  /** Both one after the other, with no time for the page to be painted in between. null: the patch was refused. */
  patchAndRead: { ask: { patch: PatchRequest; read: ReadAsk }; reply: RawReading | null };
  /** What scripts of the page could not load, and what they ended with. */
  failures: { ask: null; reply: ScriptFailure[] };
  /** Elements of the last reading that are frames whose documents can be asked. */
  frames: { ask: null; reply: number[] };
  /** A request passed on to the document in a frame. */
  forward: { ask: { owner: number; verb: Verb; ask: unknown }; reply: unknown };
}

export interface ReadAsk {
  depth: 'full' | 'outline';
  wanted: Wanted;
  limit: number;
  /** null: anything can be another than in the last reading. */
  changed?: Changed | null;
  /** Besides what `changed` says, nothing but the width of the viewport is another. */
  isResized?: boolean;
}

export interface ScriptFailure {
  /** Of the script; '': unknown. */
  address: string;
  /** From 1; 0: of the script as a whole. */
  line: number;
  why: string;
}

/** `moved`: whether the element scrolled. `x`, `y`: the viewport's offset afterwards. */
export interface Scrolled {
  x: number;
  y: number;
  moved: boolean;
}

export type Verb = keyof Requests;

export interface Request<V extends Verb = Verb> {
  id: number;
  verb: V;
  ask: Requests[V]['ask'];
}

export type Reply = { id: number; ok: true; reply: unknown } | { id: number; ok: false; why: string };

/** The id under which a document says that it goes. */
export const GONE = -1;
/** The first message to a specimen's window; it carries the port. */
export const CONNECT = 'normetra:connect';
/** Name, beside the files of every specimen, of the document that holds a frame of it. */
export const FRAME_HOST = '__holder.html';
/** What a specimen says to a document that holds its frame: it can be measured without being painted. */
export const FRAME_CAN_REST = 'normetra:rest';
/** CSS px. What a document that holds a specimen's frame is told, as it is: the size that the frame is to have. */
export interface Size {
  width: number;
  height: number;
}
