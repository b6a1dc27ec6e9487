/**
 * Runs inside a specimen's document before anything of the page does, takes itself out of the tree, and
 * answers requests over the one port that its embedder sends. It reads; it does not reason.
 */
import { CONNECT, type Reply, type Request, type Requests, type Verb } from './protocol.ts';
import { defaults } from './defaults.ts';
import { prepare, validity, type Prepared } from './match.ts';
import { engine, mode, read } from './read.ts';
import { sheetsOf } from './sheets.ts';
import { walk } from './walk.ts';

document.currentScript?.remove();

let plan: Prepared = prepare({ queries: [], media: [], supports: [], containers: [], declarations: [] });

function defaultKeys(elements: Element[]): string[] {
  const keys = new Set<string>();
  for (const element of elements) {
    const tag = element.localName;
    if (tag === 'input' || tag === 'button') keys.add(`${tag}[type=${(element.getAttribute('type') ?? '').toLowerCase() || 'text'}]`);
    else if (tag === 'ul' || tag === 'ol') for (const depth of [0, 1, 2]) keys.add(`${tag}/${depth}`);
    else if (/^[a-z][a-z0-9]*$/.test(tag)) keys.add(tag);
  }
  return Array.from(keys);
}

const answers: { [V in Verb]: (ask: Requests[V]['ask']) => Requests[V]['reply'] } = {
  describe: () => {
    const tree = walk(Infinity);
    return {
      url: document.URL,
      mode: mode(),
      engine: engine(),
      sheets: sheetsOf(tree.roots),
      roots: tree.roots.length,
      defaultKeys: defaultKeys(tree.elements),
    };
  },
  plan: (ask) => {
    plan = prepare(ask);
    return validity(ask);
  },
  read: (ask) => read(plan, ask),
  defaults,
  scroll: ({ x, y }) => {
    window.scrollTo({ left: x, top: y, behavior: 'instant' });
    return { x: window.scrollX, y: window.scrollY };
  },
};

// Taken before the page can put its own in their place.
const post = MessagePort.prototype.postMessage;
const embedder = window.parent;

function listen(port: MessagePort): void {
  port.onmessage = (event: MessageEvent<Request>) => {
    const { id, verb, ask } = event.data;
    let reply: Reply;
    try {
      reply = { id, ok: true, reply: (answers[verb] as (ask: unknown) => unknown)(ask) };
    } catch (error) {
      reply = { id, ok: false, why: error instanceof Error ? `${error.name}: ${error.message}` : String(error) };
    }
    Reflect.apply(post, port, [reply]);
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
