/** The station in a page of its own, driven from outside: frames by number, each asked over its port. */
import type { Requests, Size, Verb } from '../protocol/protocol.ts';
import { openFrame, type Frame } from './frame.ts';
import { makeDeltaEncoder } from '../protocol/delta-encoder.ts';
import { patiently } from './survey.ts';

const frames = new Map<number, Frame>();
let next = 1;

export interface Station {
  open: (address: string, width: number, height: number, holder: string | null) => Promise<number>;
  ask: <V extends Verb>(frame: number, verb: V, ask: Requests[V]['ask']) => Promise<Requests[V]['reply']>;
  /** The same as `ask`, with both as text: JSON, and the reply as `makePacker` makes it. */
  askPacked: (frame: number, verb: Verb, ask: string) => Promise<string>;
  /** A reading, asked for as text and told as text by the page itself (`readPacked`). */
  read: (frame: number, ask: string, since: number) => Promise<string>;
  /** The same at another size. */
  readAt: (frame: number, width: number, height: number, ask: string, since: number) => Promise<string>;
  resize: (frame: number, width: number, height: number) => void;
  close: (frame: number) => void;
}

function get(id: number): Frame {
  const frame = frames.get(id);
  if (!frame) throw new Error(`There is no frame ${id} in this station.`);
  return frame;
}

async function askPacked(frame: number, verb: Verb, ask: string): Promise<string> {
  const reply = await get(frame).ask(verb, JSON.parse(ask) as never);
  return makeDeltaEncoder()(reply, 0);
}

const read = (frame: number, ask: string, since: number, at: Size | null): Promise<string> =>
  get(frame).ask('readDelta', { read: JSON.parse(ask) as Requests['read']['ask'], since, at });

export const station: Station = {
  open: async (address, width, height, held) => {
    const numberHere = next++;
    const holder = document.body.appendChild(document.createElement('div'));
    // Engines take their time over frames that cannot be seen, so all lie in sight, over each other, and small, since nobody
    // looks at what is painted.
    holder.style.cssText = 'position:absolute;inset:0 auto auto 0;transform:scale(0.02);transform-origin:0 0';
    try {
      frames.set(numberHere, await openFrame(holder, address, { width, height }, undefined, held));
    } catch (error) {
      holder.remove();
      throw error;
    }
    return numberHere;
  },
  ask: (frame, verb, ask) => get(frame).ask(verb, ask),
  askPacked,
  read: (frame, ask, since) => read(frame, ask, since, null),
  readAt: async (frame, width, height, ask, since) => {
    get(frame).resize(width, height);
    const text = await patiently(
      () => read(frame, ask, since, { width, height }),
      (text) => text !== '',
    );
    return text || read(frame, ask, since, null);
  },
  resize: (frame, width, height) => get(frame).resize(width, height),
  close: (id) => {
    const { element, close } = get(id);
    const holder = element.parentElement;
    close();
    holder?.remove();
    frames.delete(id);
  },
};

Object.assign(window, { station });
