/**
 * Runs inside a specimen's document before anything of the page does, takes itself out of the tree, and
 * answers requests over the one port that its embedder sends. It reads; it does not reason.
 */
import {
  CONNECT,
  GONE,
  FRAME_CAN_REST,
  type Reply,
  type Request,
  type Requests,
  type Verb,
} from '../protocol/protocol.ts';
import { holdAnimations } from './document/animations.ts';
import { setScrollbars } from './document/scrollbars.ts';
import { defaultKeysOf, defaults } from './reading/defaults.ts';
import { applyPatch } from './document/apply-patch.ts';
import { failures, noteFailures } from './document/failures.ts';
import { frames, forwardToFrame } from './nested-documents.ts';
import { makeDeltaEncoder } from '../protocol/delta-encoder.ts';
import { prepare, validity, type Prepared } from './reading/match.ts';
import { intrinsicSizes } from './reading/contents.ts';
import { engine, mode, read } from './reading/read.ts';
import { waitUntilReady } from './document/wait-until-ready.ts';
import { sheetsOf } from './reading/sheets.ts';
import { areScriptsDisabled } from './document/scripts-disabled.ts';
import { thaw } from './document/thaw.ts';
import { layUnderlay } from './document/underlay.ts';
import { walk } from './reading/walk.ts';
import { closeWebRtc } from './webrtc.ts';

layUnderlay(document.currentScript);
closeWebRtc();
noteFailures();
thaw();
document.currentScript?.remove();

let last: Element[] = [];
let plan: Prepared = prepare({
  queries: [],
  media: [],
  supports: [],
  containers: [],
  declarations: [],
  generated: { before: [], after: [], letters: [] },
  rare: {},
});

const pack = makeDeltaEncoder();

type Answer<V extends Verb> = (ask: Requests[V]['ask']) => Requests[V]['reply'] | Promise<Requests[V]['reply']>;

/** Whether the document is as it was opened: neither patched otherwise nor scrolled. */
let isAsOpened = true;

/** Whether something besides what was asked for is another than in the last reading. */
let isOtherwise = false;

function readNow(ask: Requests['read']['ask']): Requests['read']['reply'] {
  const isResized = (ask.isResized ?? false) && isAsOpened;
  const { reading, elements } = read(plan, { ...ask, isResized, ...(isOtherwise && { changed: null }) });
  isOtherwise = false;
  last = elements;
  return reading;
}

function patchNow(ask: Requests['applyPatch']['ask']): Promise<boolean> {
  isAsOpened = false;
  return applyPatch(last, ask);
}

const answers: { [V in Verb]: Answer<V> } = {
  describe: () => {
    // What moves is painted again and again until it is held, which takes time that readings could have.
    if (areScriptsDisabled) holdAnimations();
    const tree = walk(Infinity);
    return {
      url: document.URL,
      mode: mode(),
      engine: engine(),
      sheets: sheetsOf(tree.roots),
      roots: tree.roots.length,
      isHeld: areScriptsDisabled,
      defaultKeys: Array.from(new Set(tree.elements.flatMap(defaultKeysOf))),
    };
  },
  plan: (ask) => {
    plan = prepare(ask);
    // What is laid out only near the view must be seen, and what scripts do may wait for it (CSS Contain 2 §4).
    if (areScriptsDisabled && !ask.declarations.some(([property]) => property === 'content-visibility'))
      embedder.postMessage(FRAME_CAN_REST, '*');
    return validity(ask);
  },
  read: readNow,
  readDelta: ({ read: asked, since, at }) =>
    at && waitUntilReady(at).waited.length > 0 ? '' : pack(readNow(asked), since),
  setScrollbars: ({ areOver }) => {
    const isNew = setScrollbars(walk(Infinity).roots, areOver);
    isOtherwise ||= isNew;
    return isNew;
  },
  intrinsicSizes: ({ batches }) => batches.flatMap((batch) => intrinsicSizes(last, batch)),
  defaults,
  waitUntilReady,
  applyPatch: patchNow,
  patchAndRead: async ({ patch, read: asked }) => ((await patchNow(patch)) ? readNow(asked) : null),
  failures,
  frames: () => frames(last),
  forward: (ask) => forwardToFrame(last, ask),
  find: ({ selector }) => {
    const found = new Set(document.querySelectorAll(selector));
    return last.flatMap((element, i) => (found.has(element) ? [i] : []));
  },
  scroll: ({ element, x, y, to }) => {
    isAsOpened = false;
    const target = element < 0 ? window : last[element];
    const at = (): [number, number] =>
      target instanceof Element ? [target.scrollLeft, target.scrollTop] : [scrollX, scrollY];
    const [left, top] = at();
    target?.scrollTo({ left: to ? x : left + x, top: to ? y : top + y, behavior: 'instant' });
    const [newLeft, newTop] = at();
    return { x: scrollX, y: scrollY, moved: newLeft !== left || newTop !== top };
  },
};

// Taken before the page can put its own in their place.
const post = MessagePort.prototype.postMessage;
const on = window.addEventListener.bind(window);
const embedder = window.parent;

function listen(port: MessagePort): void {
  const send = (reply: Reply) => void Reflect.apply(post, port, [reply]);
  // Whoever shows what was measured must hear that the page is gone, before another is there.
  on('pagehide', () => send({ id: GONE, ok: true, reply: null }));
  port.onmessage = (event: MessageEvent<Request>) => {
    const { id, verb, ask } = event.data;
    const run = async (): Promise<unknown> => (answers[verb] as (ask: unknown) => unknown)(ask);
    run().then(
      (reply) => send({ id, ok: true, reply }),
      (error: unknown) =>
        send({
          id,
          ok: false,
          why: error instanceof Error ? `${error.name}: ${error.message}` : String(error),
        }),
    );
  };
}

window.addEventListener(
  'message',
  (event) => {
    if (event.source !== embedder || event.data !== CONNECT || !event.ports[0]) return;
    event.stopImmediatePropagation();
    listen(event.ports[0]);
  },
  true,
);
