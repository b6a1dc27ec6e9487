/**
 * A specimen measured in several engines for the application: by the command `normetra matrix` in a process of its own, so that
 * nothing else waits for it, and so that it can be stopped. One runs at a time; others wait for their turn.
 */
import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { matrixDocumentSchema, type MatrixDocument } from '../../../core/reports/matrix.ts';
import type { Edit } from '../../../core/trials/edit.ts';
import { entriesOf, withBytes, type Revision } from '../database/specimens.ts';
import type { Storage } from '../database/open.ts';
import { Refusal } from '../ingest/refusal.ts';
import { inTurn } from '../origins/turns.ts';
import { ROOT } from '../root.ts';

export interface MatrixAsked {
  page: string;
  edits: readonly Edit[];
  width: number;
  height: number;
  engines: readonly string[];
  /** Profiles of default styles that are columns too, in the first engine. */
  defaults: readonly string[];
  scripts: 'hold' | 'run';
}

/** `column`: what is being measured; '': what was measured is being compared. `waits`: another is measured first. */
export type MatrixProgress = { waits: true } | { column: string; done: number; all: number };

/** Throws a Refusal with the command's own sentence where it cannot be done. Rejects with `signal.reason` where it is stopped. */
export function runMatrix(
  storage: Storage,
  revision: Revision,
  asked: MatrixAsked,
  hear: (progress: MatrixProgress) => void,
  signal: AbortSignal,
): Promise<MatrixDocument> {
  hear({ waits: true });
  return inTurn('matrix', async () => {
    signal.throwIfAborted();
    const folder = await mkdtemp(join(tmpdir(), 'normetra-matrix-'));
    try {
      const [site, trial] = [join(folder, 'site'), join(folder, 'trial.json')];
      await writeRevision(storage, revision, site);
      await writeFile(trial, JSON.stringify({ edits: asked.edits }));
      return await runCommand(site, trial, asked, hear, signal);
    } finally {
      await rm(folder, { recursive: true, force: true, maxRetries: 3 });
    }
  });
}

/** Puts the revision's files into a folder. */
async function writeRevision(storage: Storage, revision: Revision, folder: string): Promise<void> {
  for (const entry of await entriesOf(storage.db, revision.id)) {
    const { bytes } = await withBytes(storage, entry);
    const file = join(folder, entry.path);
    await mkdir(dirname(file), { recursive: true });
    await writeFile(file, bytes);
  }
}

function runCommand(
  folder: string,
  trial: string,
  { page, width, height, engines, defaults, scripts }: MatrixAsked,
  hear: (progress: MatrixProgress) => void,
  signal: AbortSignal,
): Promise<MatrixDocument> {
  const args = [
    'matrix',
    join(folder, page),
    '--json',
    ...['--root', folder, '--trial', trial],
    ...['--engine', engines.join(',')],
    ...['--widths', String(width), '--height', String(height)],
    ...['--scripts', scripts],
    ...(defaults.length > 0 ? ['--defaults', defaults.join(',')] : []),
  ];
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [join(ROOT, 'bin/normetra.mjs'), ...args], {
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    const stop = (): void => {
      // What it started ends with it where it ends by itself.
      child.kill('SIGTERM');
      reject(signal.reason as Error);
    };
    signal.addEventListener('abort', stop, { once: true });
    const [out, said]: [Buffer[], Buffer[]] = [[], []];
    child.stdout!.on('data', (piece: Buffer) => out.push(piece));
    child.stderr!.on('data', (piece: Buffer) => said.push(piece));
    child.on('message', (message) => hear(message as MatrixProgress));
    child.on('error', reject);
    child.on('close', (code) => {
      signal.removeEventListener('abort', stop);
      if (signal.aborted) return;
      if (code === 0) return resolve(matrixDocumentSchema.parse(JSON.parse(Buffer.concat(out).toString())));
      const words = Buffer.concat(said).toString().trim().split('\n').at(-1) ?? '';
      reject(
        new Refusal(words.replace(/^normetra: /, '') || `The engines ended without a word (${code}).`, 422),
      );
    });
  });
}
