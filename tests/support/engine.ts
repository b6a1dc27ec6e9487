/** The headless engine that all test files of one process share. */
import { after } from 'node:test';
import { openHeadless, type Headless } from '../../src/lib/server/engines/headless.ts';

let shared: Promise<Headless> | null = null;

/** Closing it closes nothing: the engine ends with the last test of the process. */
export async function openEngine(): Promise<Headless> {
  shared ??= openHeadless();
  return { ...(await shared), close: () => Promise.resolve() };
}

after(async () => {
  await (await shared)?.close();
});
