/** The station in a page of its own, driven from outside: frames by number, each asked over its port. */
import type { Requests, Verb } from '../collector/protocol.ts';
import { openFrame, type Frame } from './frame.ts';

const frames = new Map<number, Frame>();
let next = 1;

export interface Station {
  open: (address: string, width: number, height: number) => Promise<number>;
  ask: <V extends Verb>(frame: number, verb: V, ask: Requests[V]['ask']) => Promise<Requests[V]['reply']>;
  resize: (frame: number, width: number, height: number) => void;
  close: (frame: number) => void;
}

function get(id: number): Frame {
  const frame = frames.get(id);
  if (!frame) throw new Error(`There is no frame ${id} in this station.`);
  return frame;
}

export const station: Station = {
  open: async (address, width, height) => {
    const holder = document.body.appendChild(document.createElement('div'));
    try {
      frames.set(next, await openFrame(holder, address, { width, height }));
    } catch (error) {
      holder.remove();
      throw error;
    }
    return next++;
  },
  ask: (frame, verb, ask) => get(frame).ask(verb, ask),
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
