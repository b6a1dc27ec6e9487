/** Documents in frames: those of the specimen have a collector of their own, to which requests are passed on. */
import { CONNECT, type Reply, type Verb } from '../protocol/protocol.ts';

const CONNECT_MS = 600;
const ANSWER_MS = 10_000;

type Ask = (verb: Verb, ask: unknown, ms?: number) => Promise<unknown>;

const reached = new WeakMap<Element, Promise<Ask | null>>();

const isFrame = (element: Element | undefined): element is HTMLIFrameElement =>
  element?.localName === 'iframe' || element?.localName === 'frame';

/** Null where nobody answers: another's page, or one that has not loaded. */
async function connect(element: HTMLIFrameElement): Promise<Ask | null> {
  const { port1: port, port2 } = new MessageChannel();
  const waiting = new Map<number, (reply: Reply) => void>();
  let next = 1;
  port.onmessage = ({ data }: MessageEvent<Reply>) => {
    waiting.get(data.id)?.(data);
    waiting.delete(data.id);
  };
  const ask: Ask = (verb, asked, ms = ANSWER_MS) =>
    new Promise((resolve, reject) => {
      const id = next++;
      const timer = setTimeout(() => reject(new Error('the frame does not answer')), ms);
      waiting.set(id, (reply) => {
        clearTimeout(timer);
        if (reply.ok) resolve(reply.reply);
        else reject(new Error(reply.why));
      });
      port.postMessage({ id, verb, ask: asked });
    });
  element.contentWindow?.postMessage(CONNECT, '*', [port2]);
  return ask('waitUntilReady', { width: 0, height: 0 }, CONNECT_MS).then(
    () => ask,
    () => null,
  );
}

function reach(element: HTMLIFrameElement): Promise<Ask | null> {
  const previous = reached.get(element) ?? connect(element);
  reached.set(element, previous);
  return previous;
}

/** Indexes, among `elements`, of the frames whose documents answer. */
export async function frames(elements: Element[]): Promise<number[]> {
  const found = await Promise.all(
    elements.map(async (element, i) => (isFrame(element) && (await reach(element)) ? i : -1)),
  );
  return found.filter((i) => i >= 0);
}

export async function forwardToFrame(
  elements: Element[],
  { owner, verb, ask }: { owner: number; verb: Verb; ask: unknown },
): Promise<unknown> {
  const element = elements[owner];
  const pass = isFrame(element) ? await reach(element) : null;
  if (!pass) throw new Error(`element ${owner} is no frame that answers`);
  return pass(verb, ask);
}
