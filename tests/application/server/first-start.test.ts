/** Killed at any moment of its first start, the application starts again, whole: nothing twice, nothing half. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, test } from 'node:test';
import { ROOT } from '../../../src/lib/server/root.ts';
import { startApp, temporaryFolder } from '../../support/app.ts';
import { clientOf } from '../../support/client.ts';

const KILLS = Number(process.env['KILLS'] ?? 6);
/** Ms that a first start takes here at most; the moments are spread over it. */
const SPAN = 4500;

/** Starts the application and kills it `ms` later, whatever it is doing then. */
async function killedAfter(folder: string, ms: number): Promise<void> {
  const child = spawn(
    process.execPath,
    [join(ROOT, 'bin/normetra.mjs'), 'serve', '--port', '0', '--data', folder],
    {
      cwd: ROOT,
      stdio: 'ignore',
    },
  );
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  await new Promise((resolve) => setTimeout(resolve, ms));
  child.kill('SIGKILL');
  await ended;
}

describe('a first start', () => {
  for (let n = 0; n < KILLS; n++) {
    const ms = Math.round(((n + 0.5) / KILLS) * SPAN);
    test(`killed after ${ms} ms`, async () => {
      const folder = temporaryFolder();
      try {
        await killedAfter(folder, ms);
        const app = await startApp(folder);
        const names = (await clientOf(app).list()).map(({ name }) => name);
        await app.stop();
        assert.equal(names.length, 6, names.join(', '));
        assert.equal(new Set(names).size, 6);
      } finally {
        rmSync(folder, { recursive: true, force: true });
      }
    });
  }

  test('half a database in its place, as earlier versions could leave it', async () => {
    const folder = temporaryFolder();
    mkdirSync(join(folder, 'postgres', 'base'), { recursive: true });
    writeFileSync(join(folder, 'postgres', 'base', 'x'), '');
    const app = await startApp(folder, { NORMETRA_DEMO: 'none' });
    assert.deepEqual(await clientOf(app).list(), []);
    await app.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const LOCKS: [string, string][] = [
    ['a process that is another program by now', JSON.stringify({ pid: 1, started: '1', boot: 'another' })],
    ['this very number, started at another time', JSON.stringify({ pid: process.pid, started: '1', boot: '' })],
    ['nobody: the lock is half written', '{"pid": 1'],
  ];
  for (const [name, text] of LOCKS)
    test(`a lock left behind by ${name}`, async () => {
      const folder = temporaryFolder();
      writeFileSync(join(folder, 'in-use.json'), text);
      writeFileSync(join(folder, `in-use-by-${process.pid}`), '');
      const app = await startApp(folder, { NORMETRA_DEMO: 'none' });
      await app.stop();
      rmSync(folder, { recursive: true, force: true });
    });
});
