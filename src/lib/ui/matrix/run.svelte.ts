/** A page measured in several engines by the server: which there are, how far it is, and what came of it. */
import { createParser } from 'eventsource-parser';
import { z } from 'zod';
import { matrixDocumentSchema, type MatrixDocument } from '$core/reports/matrix.ts';
import type { Edit } from '$core/trials/edit.ts';
import { send } from '../send.ts';

const engineSchema = z.object({
  name: z.string(),
  title: z.string(),
  install: z.string(),
  place: z.string().nullable(),
  why: z.string().nullable(),
});
export type Engine = z.infer<typeof engineSchema>;

const progressSchema = z.union([
  z.object({ waits: z.literal(true) }),
  z.object({ column: z.string(), done: z.number(), all: z.number() }),
]);

export interface MatrixInput {
  specimen: string;
  revision: number;
  page: string;
  edits: readonly Edit[];
}

export type MatrixRun = ReturnType<typeof createMatrixRun>;

/** Documents of this visit, by what they are of: to come back to the view measures nothing anew. */
const kept = new Map<string, MatrixDocument>();

export function createMatrixRun(input: MatrixInput) {
  let engines = $state.raw<Engine[] | null>(null);
  let status = $state<'idle' | 'running' | 'done' | 'failed'>('idle');
  let words = $state('');
  let share = $state(0);
  let failure = $state('');
  let document = $state.raw<MatrixDocument | null>(null);
  let stop: AbortController | null = null;

  // Events change it while it is waited for.
  const isDone = (): boolean => status === 'done';
  const nameOf = (asked: object): string => JSON.stringify([input, asked]);

  function hear(event: string, data: unknown): void {
    if (event === 'problem') {
      failure = z.object({ problem: z.string() }).parse(data).problem;
      status = 'failed';
    } else if (event === 'matrix') {
      document = matrixDocumentSchema.parse(data);
      status = 'done';
    } else if (event === 'progress') {
      const progress = progressSchema.parse(data);
      if ('waits' in progress) words = 'Starting the engines';
      else {
        words = progress.column ? `Measuring in ${progress.column}` : 'Comparing';
        share = progress.done / progress.all;
      }
    }
  }

  return {
    get engines() {
      return engines;
    },
    get status() {
      return status;
    },
    get words() {
      return words;
    },
    /** Of the columns, how many are measured: 0 to 1. */
    get share() {
      return share;
    },
    get failure() {
      return failure;
    },
    get document() {
      return document;
    },
    list: async (): Promise<void> => {
      engines = await send('GET', '/api/engines', z.array(engineSchema));
    },
    stop: (): void => {
      stop?.abort();
      status = document ? 'done' : 'idle';
    },
    /** `isAnew`: also where it has been measured before. */
    start: async (
      asked: { width: number; height: number; engines: string[]; defaults: string[] },
      isAnew: boolean,
    ): Promise<void> => {
      stop?.abort();
      const name = nameOf(asked);
      const before = kept.get(name);
      if (before && !isAnew) {
        document = before;
        status = 'done';
        return;
      }
      const mine = (stop = new AbortController());
      status = 'running';
      words = 'Starting the engines';
      share = 0;
      failure = '';
      try {
        const { specimen, ...rest } = input;
        const response = await fetch(`/api/specimens/${specimen}/matrix`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ ...rest, ...asked }),
          signal: mine.signal,
        });
        if (!response.ok || !response.body) {
          const { error } = z.object({ error: z.string() }).parse(await response.json());
          failure = error;
          status = 'failed';
          return;
        }
        const parser = createParser({
          onEvent: ({ event = '', data }) => hear(event, JSON.parse(data)),
        });
        const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
        for (let piece = await reader.read(); !piece.done; piece = await reader.read())
          if (!mine.signal.aborted) parser.feed(piece.value);
        if (mine.signal.aborted) return;
        if (isDone() && document) kept.set(name, document);
        else if (failure === '') {
          failure = 'The connection to the server broke off. See whether it runs, and measure again.';
          status = 'failed';
        }
      } catch (error) {
        if (mine.signal.aborted) return;
        failure = error instanceof Error ? error.message : String(error);
        status = 'failed';
      }
    },
  };
}
