/** Two servers on one PostgreSQL database, and what is said where the database cannot be had. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { ROOT } from '../../../src/lib/server/root.ts';
import { startApp, temporaryFolder, type App } from '../../support/app.ts';
import { run } from '../../support/command.ts';
import { clientOf } from '../../support/client.ts';
import { startPostgresql, type Postgresql } from '../../support/postgresql.ts';

describe('on PostgreSQL', () => {
  let postgresql: Postgresql;
  let url = '';
  let apps: App[] = [];
  before(async () => {
    postgresql = await startPostgresql();
    url = postgresql.database('shared');
    // Both at once on an empty database.
    apps = await Promise.all([1, 2].map(() => startApp(undefined, { DATABASE_URL: url })));
  });
  after(async () => {
    for (const app of apps) {
      await app.stop();
      rmSync(app.folder, { recursive: true, force: true });
    }
    await postgresql.stop();
  });

  test('the demo comes once, whichever of two servers is first', async () => {
    for (const app of apps) {
      const names = (await clientOf(app).list()).map(({ name }) => name);
      assert.equal(names.length, 6, names.join(', '));
      assert.equal(new Set(names).size, 6);
    }
  });

  test('what one brings in the other serves, in pieces or not', async () => {
    const [client, other] = apps.map(clientOf);
    const large = randomBytes(3 * 1024 * 1024 + 17);
    const answered = await client!.upload([
      ['a.html', '<title>Shared</title><p>x<img src=large.png>'],
      ['large.png', large],
      ['empty.css', ''],
    ]);
    assert.equal(answered.status, 201, answered.text);
    const { key } = (await other!.list()).find(({ name }) => name === 'Shared')!;
    const file = await fetch(`${apps[1]!.url}/frame/${key}/large.png`);
    assert.deepEqual(Buffer.from(await file.arrayBuffer()), large);
    assert.equal(await (await fetch(`${apps[1]!.url}/frame/${key}/empty.css`)).text(), '');
  });

  test('what is laid over a page by one is known to the other', async () => {
    const [client] = apps.map(clientOf);
    const id = await client!.make('<title>Laid</title><p>x', 'p { color: red }');
    const { key } = (await client!.list()).find((specimen) => specimen.id === id)!;
    const laid = await client!.ask('POST', `/api/specimens/${id}/overlays`, {
      key,
      texts: { 'style.css': 'p { color: blue }' },
      underlay: null,
    });
    const over = laid.json<{ key: string }>().key;
    assert.equal(await (await fetch(`${apps[1]!.url}/frame/${over}/style.css`)).text(), 'p { color: blue }');
  });

  test('a conflict is one whichever server is asked', async () => {
    const [client, other] = apps.map(clientOf);
    const id = await client!.make();
    const answers = await Promise.all([
      client!.ask('PATCH', `/api/specimens/${id}`, { name: 'One', version: 1 }),
      other!.ask('PATCH', `/api/specimens/${id}`, { name: 'Other', version: 1 }),
    ]);
    assert.deepEqual(answers.map(({ status }) => status).sort(), [200, 409]);
  });

  test('health names the database', async () => {
    const health = (await clientOf(apps[0]!).ask('GET', '/api/health')).json();
    assert.deepEqual({ ok: health['ok'], database: health['database'] }, { ok: true, database: 'server' });
  });

  test('a backup of it comes back into the embedded database', async () => {
    const folder = temporaryFolder();
    const file = join(folder, 'all.tar.gz');
    process.env['DATABASE_URL'] = url;
    const { code, err } = await run('backup', file);
    delete process.env['DATABASE_URL'];
    assert.equal(code, 0, err);
    const data = join(folder, 'data');
    assert.equal((await run('restore', file, '--data', data)).code, 0);
    const app = await startApp(data);
    const before = (await clientOf(apps[0]!).list()).map(({ id, name }) => `${id} ${name}`);
    assert.deepEqual(
      (await clientOf(app).list()).map(({ id, name }) => `${id} ${name}`),
      before,
    );
    await app.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const BAD: [string, (good: string) => string, RegExp][] = [
    ['a wrong port', (good) => good.replace(/:\d+\//, ':1/'), /127\.0\.0\.1:1\/shared: nothing listens there/],
    [
      'a database that is not there',
      (good) => good.replace(/shared$/, 'none'),
      /\/none: there is no database of that name/,
    ],
    ['a wrong password', (good) => good.replace(/:[^:@/]+@/, ':wrong@'), /the user or the password is wrong/],
    [
      'a host that is unknown',
      (good) => good.replace('127.0.0.1', 'nowhere.invalid'),
      /nowhere\.invalid:\d+\/shared: its host name/,
    ],
    ['no address at all', () => 'nonsense', /DATABASE_URL/],
  ];
  for (const [name, make, why] of BAD)
    test(`${name}: one sentence before the address, and 4`, async () => {
      const folder = temporaryFolder();
      const child = spawn(
        process.execPath,
        [join(ROOT, 'bin/normetra.mjs'), 'serve', '--port', '0', '--data', folder],
        {
          env: { ...process.env, NORMETRA_ROOT: ROOT, DATABASE_URL: make(url) },
        },
      );
      let [out, err] = ['', ''];
      child.stdout.on('data', (piece: Buffer) => (out += piece.toString()));
      child.stderr.on('data', (piece: Buffer) => (err += piece.toString()));
      const code = await new Promise((resolve) => child.once('exit', resolve));
      rmSync(folder, { recursive: true, force: true });
      assert.equal(code, 4, err);
      assert.equal(out, '');
      assert.match(err, why);
      assert.equal(err.trim().split('\n').length, 1, err);
      assert.ok(!err.includes('secret-of-the-tests'), 'no password is printed');
    });

  test('a server leaves nothing but its scratch folder behind', () => {
    for (const { folder } of apps) assert.ok(!existsSync(join(folder, 'postgres')));
  });
});
