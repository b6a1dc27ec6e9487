/** Threads for jobs. A job that takes longer than it may is ended with its thread, and refused with a sentence. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Refusal } from '../ingest/refusal.ts';
import { ROOT } from '../root.ts';
import type { JobInput, JobName, JobOutput, JobReply } from './jobs.ts';

/** Ms that a job may take once it has begun. */
const LIMITS: Record<JobName, number> = {
  stage: 120_000,
  paste: 60_000,
  examine: 60_000,
  frame: 60_000,
};
/** Megabytes of memory that a thread may use for what it works on. */
const MEMORY = 1500;

const SENTENCE: Record<JobName, string> = {
  stage: 'files: reading them took longer than',
  paste: 'html: reading it took longer than',
  examine: 'folder: reading its files took longer than',
  frame: 'The page could not be prepared for its frame within',
};

let script: Promise<string> | undefined;

/** The thread's program as one file, anew when its sources have changed. */
async function threadScript(): Promise<string> {
  const { bundled } = (await import(
    /* @vite-ignore */ pathToFileURL(join(ROOT, 'scripts/bundle.mjs')).href
  )) as { bundled: (root: string, script: string) => Promise<string> };
  return bundled(ROOT, 'src/lib/server/work/worker.ts');
}

interface Thread {
  run: <N extends JobName>(name: N, input: JobInput<N>) => Promise<JobOutput<N>>;
  isBusy: boolean;
  end: () => Promise<unknown>;
}

async function startThread(): Promise<Thread> {
  script ??= threadScript();
  const worker = new Worker(await script, {
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    execArgv: [],
  });
  worker.unref();
  let next = 1;
  let isDead = false;
  const waiting = new Map<number, { done: (output: unknown) => void; fail: (error: Error) => void }>();
  const die = (error: Error): void => {
    isDead = true;
    for (const { fail } of waiting.values()) fail(error);
    waiting.clear();
    threads.delete(thread);
  };
  worker.on('message', (reply: JobReply) => {
    const entry = waiting.get(reply.id);
    waiting.delete(reply.id);
    if ('output' in reply) entry?.done(reply.output);
    else if ('refusal' in reply) entry?.fail(new Refusal(reply.refusal.message, reply.refusal.status));
    else entry?.fail(new Error(reply.error));
  });
  worker.on('error', (error: NodeJS.ErrnoException) =>
    die(
      error.code === 'ERR_WORKER_OUT_OF_MEMORY'
        ? new Refusal(
            'files: reading them takes more memory than there is for it. Bring in less at once, or split the largest page.',
            413,
          )
        : error,
    ),
  );
  worker.on('exit', () => die(new Error('The thread that was working on this ended.')));
  const thread: Thread = {
    isBusy: false,
    end: () => worker.terminate(),
    run: (name, input) =>
      new Promise((resolve, reject) => {
        if (isDead) return reject(new Error('The thread ended before it could begin.'));
        const id = next++;
        const timer = setTimeout(() => {
          die(new Refusal(`${SENTENCE[name]} the ${LIMITS[name] / 1000} s that there are for it.`, 422));
          void worker.terminate();
        }, LIMITS[name]);
        waiting.set(id, {
          done: (output) => (clearTimeout(timer), resolve(output as never)),
          fail: (error) => (clearTimeout(timer), reject(error)),
        });
        worker.postMessage({ id, name, input });
      }),
  };
  threads.add(thread);
  return thread;
}

const threads = new Set<Thread>();
/** Uploads take turns on one thread; what frames wait for has another. */
const lanes: Record<'ingest' | 'frames', { thread: Thread | null; last: Promise<unknown> }> = {
  ingest: { thread: null, last: Promise.resolve() },
  frames: { thread: null, last: Promise.resolve() },
};

/** Works a job on a thread of its lane, after those before it. Throws a Refusal where it is refused or takes too long. */
export function work<N extends JobName>(name: N, input: JobInput<N>): Promise<JobOutput<N>> {
  const lane = lanes[name === 'frame' ? 'frames' : 'ingest'];
  const turn = lane.last.then(async () => {
    if (!lane.thread || !threads.has(lane.thread)) lane.thread = await startThread();
    return lane.thread.run(name, input);
  });
  lane.last = turn.catch(() => undefined);
  return turn;
}

export async function endThreads(): Promise<void> {
  await Promise.all([...threads].map((thread) => thread.end()));
}
