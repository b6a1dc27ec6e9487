/** The thread that works jobs, one after the other. */
import { parentPort } from 'node:worker_threads';
import { fullDisk, Refusal } from '../ingest/refusal.ts';
import { JOBS, type JobReply, type JobRequest } from './jobs.ts';

const port = parentPort!;

async function replyTo({ id, name, input }: JobRequest): Promise<JobReply> {
  try {
    return { id, output: await JOBS[name](input as never) };
  } catch (error) {
    const refused = error instanceof Refusal ? error : fullDisk(error);
    if (refused) return { id, refusal: { message: refused.message, status: refused.status } };
    return { id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}

port.on('message', (request: JobRequest) => void replyTo(request).then((reply) => port.postMessage(reply)));
