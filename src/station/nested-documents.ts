/** The documents in a page's frames, each asked in the same order as a page, through the document that holds it. */
import type { Requests, Verb } from '../protocol/protocol.ts';
import { FULL, MAX_ELEMENTS, type Described } from '../core/reading/reading.ts';
import type { PlanRequest } from '../core/css/cascade/plan.ts';
import { replySchemas } from '../protocol/replies.ts';
import { survey, type Asker, type Survey } from './survey.ts';

export interface Framed {
  /** Place in the list of documents of the one that holds the frame; 0 is the page itself. */
  holder: number;
  /** The frame's element in its holder's reading. */
  owner: number;
  /** Not checked yet: see `readingSchema`. */
  reading: unknown;
}

const MOST = 20;
const DEEPEST = 3;

/** Passes requests on to the document in the frame `owner` of `holder`. */
export function nestedAsker(holder: Asker, owner: number): Asker {
  return {
    ask: async <V extends Verb>(verb: V, ask: Requests[V]['ask']) => {
      const reply = await holder.ask('forward', { owner, verb, ask });
      return replySchemas[verb].parse(reply) as Requests[V]['reply'];
    },
  };
}

export interface FramedInput {
  plan: (document: number, described: Described) => Promise<PlanRequest>;
  settle: (document: number, survey: Survey) => Promise<unknown>;
  bare: (mode: Described['mode']) => Promise<Asker>;
}

export interface FramedResult {
  framed: Framed[];
  /** Why frames that answered at first could not be read; they stay boxes without an inside. */
  failed: string[];
}

/** Reads what is in the frames of `page`, and in their frames. Documents are numbered from 1 in the order of the answer. */
export async function readFramed(page: Asker, { plan, settle, bare }: FramedInput): Promise<FramedResult> {
  const framed: Framed[] = [];
  const failed: string[] = [];
  const level: { asker: Asker; document: number; depth: number }[] = [{ asker: page, document: 0, depth: 0 }];
  for (let next = level.shift(); next; next = level.shift()) {
    const { asker, document: holder, depth } = next;
    if (depth >= DEEPEST) continue;
    for (const owner of await asker.ask('frames', null)) {
      if (framed.length >= MOST) return { framed, failed };
      try {
        const inner = nestedAsker(asker, owner);
        const document = framed.length + 1;
        const surveyed = await survey(inner, (described) => plan(document, described), bare);
        await settle(document, surveyed);
        const reading = await inner.ask('read', { depth: 'full', wanted: FULL, limit: MAX_ELEMENTS });
        framed.push({ holder, owner, reading });
        level.push({ asker: inner, document, depth: depth + 1 });
      } catch (error) {
        failed.push(`what is in a frame (${error instanceof Error ? error.message : String(error)})`);
      }
    }
  }
  return { framed, failed };
}
