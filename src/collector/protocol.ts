/** Requests that the collector answers over its port, by `id`; a reply bears the same `id`. Types only. */
import type { Defaults, Described, RawReading, Wanted } from '../core/boxes/reading.ts';
import type { PlanRequest, Validity } from '../core/css/plan.ts';

export interface Requests {
  describe: { ask: null; reply: Described };
  plan: { ask: PlanRequest; reply: Validity };
  read: { ask: { depth: 'full' | 'outline'; wanted: Wanted; limit: number }; reply: RawReading };
  defaults: { ask: { keys: string[]; properties: string[] }; reply: Defaults };
  scroll: { ask: { x: number; y: number }; reply: { x: number; y: number } };
}

export type Verb = keyof Requests;

export interface Request<V extends Verb = Verb> {
  id: number;
  verb: V;
  ask: Requests[V]['ask'];
}

export type Reply = { id: number; ok: true; reply: unknown } | { id: number; ok: false; why: string };

/** The first message to a specimen's window; it carries the port. */
export const CONNECT = 'normetra:connect';
