/** One specimen frame and the port to the collector in it. */
import { CONNECT, GONE, type Size, type Requests, type Verb } from '../protocol/protocol.ts';
import { envelope, replySchemas } from '../protocol/replies.ts';
import { settle } from './survey.ts';

/** Messages that nobody asked for, above which a page is taken to be flooding its port. */
const UNASKED_LIMIT = 50;
const LOAD_MS = 30_000;
const CONNECT_MS = 10_000;
/** How long what is opened waits for its fonts and pictures. */
const OPEN_MS = 2000;
const ANSWER_MS = 60_000;

const WENT =
  'The page went to another address by itself, so what was measured is not what is there now. Hold its scripts and open it again.';

/** Why a page could not be measured, in a sentence for its user. */
export class FrameFailure extends Error {
  override name = 'FrameFailure';
}

export interface Frame {
  element: HTMLIFrameElement;
  ask: <V extends Verb>(verb: V, ask: Requests[V]['ask'], ms?: number) => Promise<Requests[V]['reply']>;
  resize: (width: number, height: number) => void;
  close: () => void;
  /** Called once, with the reason, where the page goes elsewhere or breaks off by itself. */
  onGone: (hear: (why: FrameFailure) => void) => void;
}

interface Waiting {
  settle: (reply: unknown) => void;
  fail: (error: Error) => void;
  verb: Verb;
}

/**
 * Puts a frame of this viewport into `container`, loads `address` and connects. `holder`: the address of a document that holds
 * it (`FRAME_HOST`), for pages that nobody sees: they have another size at once. Throws a FrameFailure.
 */
export async function openFrame(
  container: HTMLElement,
  address: string,
  size: { width: number; height: number },
  signal?: AbortSignal,
  holder: string | null = null,
): Promise<Frame> {
  const element = document.createElement('iframe');
  element.setAttribute('sandbox', 'allow-scripts');
  element.setAttribute('title', 'Page under measurement');
  element.tabIndex = -1;
  element.style.border = '0';
  element.style.display = 'block';
  const resizeOwn = (width: number, height: number) => {
    element.style.width = `${width}px`;
    element.style.height = `${height}px`;
  };
  const resizeHeld = (width: number, height: number) =>
    element.contentWindow?.postMessage({ width, height } satisfies Size, '*');
  resizeOwn(size.width, size.height);
  const loaded = new Promise<void>((resolve, reject) => {
    const timer = setTimeout(
      () =>
        reject(
          new FrameFailure(
            `The page did not finish loading within ${LOAD_MS / 1000} s. A script of it may be busy: hold its scripts and open it again.`,
          ),
        ),
      LOAD_MS,
    );
    element.addEventListener('load', () => (clearTimeout(timer), resolve()), { once: true });
    signal?.addEventListener('abort', () => (clearTimeout(timer), reject(new FrameFailure('Stopped.'))), {
      once: true,
    });
  });
  element.src = holder ? `${holder}#${encodeURIComponent(JSON.stringify({ ...size, address }))}` : address;
  container.replaceChildren(element);
  try {
    await loaded;
    const { ask, close, onGone } = await connect(element);
    return {
      element,
      ask,
      onGone,
      resize: holder ? resizeHeld : resizeOwn,
      close: () => (close(), element.remove()),
    };
  } catch (error) {
    element.remove();
    throw error;
  }
}

async function connect(element: HTMLIFrameElement): Promise<Pick<Frame, 'ask' | 'close' | 'onGone'>> {
  const { port1: port, port2 } = new MessageChannel();
  const waiting = new Map<number, Waiting>();
  let next = 1;
  let unasked = 0;
  let broken: FrameFailure | null = null;
  let isClosed = false;
  let hear: ((why: FrameFailure) => void) | null = null;

  const breakOff = (why: string) => {
    if (broken) return;
    broken = new FrameFailure(why);
    if (!isClosed) hear?.(broken);
    port.close();
    for (const { fail } of waiting.values()) fail(broken);
    waiting.clear();
  };
  const odd = () => {
    if (++unasked > UNASKED_LIMIT)
      breakOff(
        'The page floods its connection with messages that nobody asked for, so it was cut. Hold its scripts and open it again.',
      );
  };
  port.onmessage = ({ data }: MessageEvent<unknown>) => {
    const parsed = envelope.safeParse(data);
    if (parsed.success && parsed.data.id === GONE) return breakOff(WENT);
    const entry = parsed.success ? waiting.get(parsed.data.id) : undefined;
    if (!parsed.success || !entry) return odd();
    waiting.delete(parsed.data.id);
    if (!parsed.data.ok) return entry.fail(new FrameFailure(parsed.data.why));
    const reply = replySchemas[entry.verb].safeParse(parsed.data.reply);
    if (reply.success) entry.settle(reply.data);
    else
      entry.fail(
        new FrameFailure(
          `The page answered “${entry.verb}” with something else than asked (${reply.error.issues[0]?.path.join('.')}: ${reply.error.issues[0]?.message}).`,
        ),
      );
  };
  const ask: Frame['ask'] = (verb, asked, ms = ANSWER_MS) =>
    new Promise((resolve, reject) => {
      if (broken) return reject(broken);
      const id = next++;
      const timer = setTimeout(() => {
        waiting.delete(id);
        reject(
          new FrameFailure(
            `The page does not answer (“${verb}”, ${Math.round(ms / 1000)} s). A script of it may be busy, or it went elsewhere: hold its scripts and open it again.`,
          ),
        );
      }, ms);
      waiting.set(id, {
        verb,
        settle: (reply) => (clearTimeout(timer), resolve(reply as never)),
        fail: (error) => (clearTimeout(timer), reject(error)),
      });
      port.postMessage({ id, verb, ask: asked });
    });
  element.addEventListener('load', () => breakOff(WENT));
  // The other end of a port goes with its document (HTML §9.4.5), where the engine tells of it.
  port.addEventListener('close', () => breakOff(WENT));
  // The document's origin is opaque: no other target than any can be named.
  element.contentWindow?.postMessage(CONNECT, '*', [port2]);
  const { clientWidth: width, clientHeight: height } = element;
  await settle({ ask: (verb, asked) => ask(verb, asked, CONNECT_MS) }, { width, height }, OPEN_MS);
  return {
    ask,
    onGone: (listener) => {
      hear = listener;
      if (broken && !isClosed) listener(broken);
    },
    close: () => {
      isClosed = true;
      breakOff('The frame was closed.');
    },
  };
}
