/** The command `normetra`, run as a user runs it. */
import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from '../../src/lib/server/root.ts';

export interface Ran {
  code: number;
  out: string;
  err: string;
}

export const run = (...args: string[]): Promise<Ran> =>
  new Promise((resolve) => {
    execFile(
      process.execPath,
      [join(ROOT, 'bin/normetra.mjs'), ...args],
      { maxBuffer: 64 * 1024 * 1024, cwd: ROOT },
      (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
