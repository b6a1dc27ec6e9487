/** The station in a page of its own, driven from outside: frames by number, each asked over its port. */
import type { Requests, Verb } from '../collector/protocol.ts';
import { openFrame, type Frame } from './frame.ts';
import { makePacker } from './packed.ts';
import { settle } from './survey.ts';

const frames = new Map<number, Frame>();
let next = 1;

export interface Station {
  open: (address: string, width: number, height: number) => Promise<number>;
  ask: <V extends Verb>(frame: number, verb: V, ask: Requests[V]['ask']) => Promise<Requests[V]['reply']>;
  /** The same as `ask`, with both as text: JSON, and the reply told apart from that of number `since` (`makePacker`). */
  askPacked: (frame: number, verb: Verb, ask: string, since: number) => Promise<string>;
  /** A reading at another size, as `askPacked` gives it. */
  readAt: (frame: number, width: number, height: number, ask: string, since: number) => Promise<string>;
  resize: (frame: number, width: number, height: number) => void;
  close: (frame: number) => void;
}

/** Of the readings of each frame. */
const packers = new Map<number, ReturnType<typeof makePacker>>();

function get(id: number): Frame {
  const frame = frames.get(id);
  if (!frame) throw new Error(`There is no frame ${id} in this station.`);
  return frame;
}

async function askPacked(frame: number, verb: Verb, ask: string, since: number): Promise<string> {
  const reply = await get(frame).ask(verb, JSON.parse(ask) as never);
  if (verb !== 'read') return makePacker()(reply, 0);
  const pack = packers.get(frame) ?? makePacker();
  packers.set(frame, pack);
  return pack(reply, since);
}

export const station: Station = {
  open: async (address, width, height) => {
    const own = next++;
    const holder = document.body.appendChild(document.createElement('div'));
    // Engines take their time over frames that cannot be seen, so all lie in sight, over each other, and small, since nobody
    // looks at what is painted.
    holder.style.cssText = 'position:absolute;inset:0 auto auto 0;transform:scale(0.02);transform-origin:0 0';
    try {
      frames.set(own, await openFrame(holder, address, { width, height }));
    } catch (error) {
      holder.remove();
      throw error;
    }
    return own;
  },
  ask: (frame, verb, ask) => get(frame).ask(verb, ask),
  askPacked,
  readAt: async (frame, width, height, ask, since) => {
    get(frame).resize(width, height);
    await settle(get(frame), { width, height });
    return askPacked(frame, 'read', ask, since);
  },
  resize: (frame, width, height) => get(frame).resize(width, height),
  close: (id) => {
    const { element, close } = get(id);
    const holder = element.parentElement;
    close();
    holder?.remove();
    frames.delete(id);
    packers.delete(id);
  },
};

Object.assign(window, { station });
