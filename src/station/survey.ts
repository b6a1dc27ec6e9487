/** The order in which a page is asked: what it is, what its sheets mean to the engine, how it is laid out. */
import type { ReadAsk, Requests, Verb } from '../protocol/protocol.ts';
import {
  FULL,
  MAX_ELEMENTS,
  OUTLINE,
  type Changed,
  type Defaults,
  type Described,
} from '../core/reading/reading.ts';
import type { PlanRequest, Validity } from '../core/css/cascade/plan.ts';
import { GEOMETRY } from '../core/css/cascade/properties.ts';

export interface Asker {
  ask: <V extends Verb>(verb: V, ask: Requests[V]['ask']) => Promise<Requests[V]['reply']>;
}

export interface Survey {
  described: Described;
  validity: Validity;
  defaults: Defaults;
}

/** `plan` is made by whoever holds the sources; `bare` gives a frame with an empty document of the same mode. */
export async function survey(
  page: Asker,
  plan: (described: Described) => Promise<PlanRequest> | PlanRequest,
  bare: (mode: Described['mode']) => Promise<Asker>,
): Promise<Survey> {
  const described = await page.ask('describe', null);
  const [validity, defaults] = await Promise.all([
    Promise.resolve(plan(described)).then((request) => page.ask('plan', request)),
    bare(described.mode).then((empty) =>
      empty.ask('defaults', { keys: described.defaultKeys, properties: [...GEOMETRY] }),
    ),
  ]);
  return { described, validity, defaults };
}

/** How long a page may take for its size, its fonts and its pictures. */
const SETTLE_MS = 5000;
/** ms until it is asked again, more each time. */
const [FIRST_PAUSE, LAST_PAUSE] = [2, 32];

/** Waits until a page has this viewport, and its fonts and images are there, or `ms` have passed: says what is not there. */
export async function settle(
  { ask }: Asker,
  { width, height }: { width: number; height: number },
  ms = SETTLE_MS,
): Promise<string[]> {
  const { waited } = await patiently(
    () => ask('waitUntilReady', { width, height }),
    (reply) => reply.waited.length === 0,
    ms,
  );
  return waited;
}

/** Asks again and again until the answer will do, or `ms` have passed. */
export async function patiently<T>(
  ask: () => Promise<T>,
  willDo: (answer: T) => boolean,
  ms = SETTLE_MS,
): Promise<T> {
  const end = performance.now() + ms;
  for (let pause = FIRST_PAUSE; ; pause = Math.min(pause * 2, LAST_PAUSE)) {
    const answer = await ask();
    if (willDo(answer) || performance.now() > end) return answer;
    await new Promise((resolve) => setTimeout(resolve, pause));
  }
}

/** One reading at the frame's size. It is not checked yet: see `readingSchema`. `changed`: see `ReadAsk`. */
export async function takeReading(
  page: Asker,
  size: { width: number; height: number },
  depth: 'full' | 'outline',
  changed: Changed | null = null,
): Promise<{ reading: unknown; waited: string[] }> {
  // Where a few declarations changed, nothing is on its way, and the page is read before it can be painted.
  const waited = changed ? [] : await settle(page, size);
  return { reading: await page.ask('read', asked(depth, changed)), waited };
}

/** What is asked for one reading. */
export const asked = (depth: 'full' | 'outline', changed: Changed | null = null): ReadAsk => ({
  depth,
  wanted: depth === 'full' ? FULL : OUTLINE,
  limit: MAX_ELEMENTS,
  changed,
});
