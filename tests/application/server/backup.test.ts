/** Everything that is kept in one file, and back: the same is there, or nothing was touched. */
import assert from 'node:assert/strict';
import { randomBytes } from 'node:crypto';
import { readFileSync, rmSync, truncateSync, writeFileSync, copyFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { gunzipSync, gzipSync } from 'node:zlib';
import { startApp, temporaryFolder, type App } from '../../support/app.ts';
import { run } from '../../support/command.ts';
import { clientOf } from '../../support/client.ts';

describe('backup and restore', () => {
  const folder = temporaryFolder();
  const file = join(folder, 'all.tar.gz');
  const data = join(folder, 'data');
  const picture = randomBytes(700_000);
  let app: App;
  before(async () => {
    app = await startApp(data, { NORMETRA_DEMO: 'none' });
    const client = clientOf(app);
    await client.upload([
      ['a.html', '<title>Café “one”</title><p>x'],
      ['b.png', picture],
    ]);
    const [{ id } = { id: '' }] = await client.list();
    await client.ask('POST', `/api/specimens/${id}/trials`, { page: 'a.html', name: 'T', edits: [] });
    await client.ask('POST', `/api/specimens/${id}/grades`, {
      page: 'a.html',
      rule: 'gap',
      place: 'body > p',
      grade: 'meant',
      why: 'Ökonomie',
    });
    const gone = await client.make('<title>Gone</title><p>y');
    await client.ask('DELETE', `/api/specimens/${gone}`);
  });
  after(async () => {
    await app.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('of a server that is running, which goes on', async () => {
    const { code, err, out } = await run('backup', file, '--data', data);
    assert.equal(code, 0, err);
    assert.match(out, /Everything that is kept is in/);
    assert.equal((await clientOf(app).ask('GET', '/api/health')).status, 200);
  });

  test('a file that is there already is not overwritten', async () => {
    const { code, err } = await run('backup', file, '--data', data);
    assert.equal(code, 2);
    assert.match(err, /is there already/);
  });

  test('it is put back where nothing is, with all that belongs to it', async () => {
    const other = join(folder, 'other');
    assert.match((await run('restore', file, '--data', other)).out, /2 specimens are back/);
    const restored = await startApp(other);
    const [before, now] = [clientOf(app), clientOf(restored)];
    const [list, again] = [await before.list(), await now.list()];
    assert.deepEqual(again, list, 'the demo is not put beside it');
    const [{ id, key } = { id: '', key: '' }] = again;
    for (const what of ['trials', 'grades'])
      assert.deepEqual(
        (await now.ask('GET', `/api/specimens/${id}/${what}`)).json(),
        (await before.ask('GET', `/api/specimens/${id}/${what}`)).json(),
      );
    const served = await fetch(`${restored.url}/frame/${key}/b.png`);
    assert.deepEqual(Buffer.from(await served.arrayBuffer()), picture);
    await restored.stop();
  });

  test('it is not put over what is there', async () => {
    const busy = join(folder, 'busy');
    const third = await startApp(busy, { NORMETRA_DEMO: 'none' });
    await clientOf(third).make('<title>Mine</title><p>z');
    await third.stop();
    const { code, err } = await run('restore', file, '--data', busy);
    assert.equal(code, 2);
    assert.match(err, /There are 1 specimens already/);
  });

  test('a folder that is in use is not restored into', async () => {
    const { code, err } = await run('restore', file, '--data', data);
    assert.equal(code, 4);
    assert.match(err, /in use by process \d+/);
  });

  const BROKEN: [string, (copy: string) => void, RegExp][] = [
    ['one that breaks off', (copy) => truncateSync(copy, 900), /cannot be read as a backup/],
    ['one that is none', (copy) => writeFileSync(copy, 'nonsense'), /cannot be read as a backup/],
    [
      'one whose contents were changed',
      (copy) => {
        const tar = gunzipSync(readFileSync(copy));
        const at = tar.indexOf(picture.subarray(0, 32));
        tar[at + 100]! ^= 1;
        writeFileSync(copy, gzipSync(tar));
      },
      /are not what their name says/,
    ],
    [
      'one of a newer version',
      (copy) =>
        writeFileSync(
          copy,
          gzipSync(
            Buffer.from(
              gunzipSync(readFileSync(copy))
                .toString('latin1')
                .replace(/"migrations": \d/, '"migrations": 9'),
              'latin1',
            ),
          ),
        ),
      /is newer than this one/,
    ],
  ];
  for (const [name, spoil, why] of BROKEN)
    test(`${name} is refused, and nothing is put in`, async () => {
      const copy = join(folder, 'copy.tar.gz');
      const target = join(folder, 'target');
      copyFileSync(file, copy);
      spoil(copy);
      const { code, err } = await run('restore', copy, '--data', target);
      assert.equal(code, 2, err);
      assert.match(err, why);
      assert.match((await run('restore', file, '--data', target)).out, /2 specimens are back/);
      rmSync(target, { recursive: true, force: true });
    });
});
