/** A folder that somebody works in: opened by the command, measured as it is saved, written into, and taken back. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
  chmodSync,
} from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { ROOT } from '../../../src/lib/server/root.ts';
import {
  openDesk,
  pickBySelector,
  ready,
  startApp,
  temporaryFolder,
  until,
  type Desk,
} from '../../support/app.ts';

let desk: Desk;
let site: string;
before(async () => {
  desk = await openDesk({ NORMETRA_DEMO: 'none' });
  site = join(realpathSync(temporaryFolder()), 'ferries');
  cpSync(join(ROOT, 'demo'), site, { recursive: true });
});
after(async () => {
  await desk.close();
  rmSync(join(site, '..'), { recursive: true, force: true });
});

interface Said {
  code: number | null;
  out: string;
  err: string;
}

/** `normetra open`, against the server of this test. */
const openCommand = (...args: string[]): Promise<Said> =>
  new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      [join(ROOT, 'bin/normetra.mjs'), 'open', '--no-browser', '--data', desk.app.folder, ...args],
      { cwd: ROOT },
    );
    let [out, err] = ['', ''];
    child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (err += chunk.toString()));
    child.once('exit', (code) => resolve({ code, out, err }));
  });

async function opened(...args: string[]): Promise<{ id: string; url: string }> {
  const { code, out, err } = await openCommand('--json', ...args);
  assert.equal(code, 0, err);
  return JSON.parse(out) as { id: string; url: string };
}

const api = (path: string, method = 'GET', body?: unknown): Promise<Response> =>
  fetch(desk.app.url + path, {
    method,
    headers: { origin: desk.app.url, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

const revisionOf = async (page: Page): Promise<number> =>
  Number((await page.locator('[data-origin-revision]').innerText()).replace(/\D+/, ''));
/** Waits until a later revision than `number` has been measured; which it is. */
async function follows(page: Page, number: number): Promise<number> {
  const now = await until(
    () => revisionOf(page),
    (revision) => revision > number,
  );
  await page.locator('[data-since]').waitFor();
  await ready(page);
  return now;
}

describe('a folder on the Bench', () => {
  const sheet = (): string => join(site, 'css/board.css');

  test('what is saved is measured at once, and what it did is said', async () => {
    const { url } = await opened(join(site, 'sailings.html'));
    const { page, errors } = await desk.page();
    await page.goto(url);
    await ready(page);
    const first = await revisionOf(page);
    await pickBySelector(page, 'body');
    const text = readFileSync(sheet(), 'utf8');
    writeFileSync(sheet(), `${text}\nbody { padding-bottom: 77px }\n`);
    const second = await follows(page, first);
    const words = await page.locator('[data-since]').innerText();
    assert.match(words, new RegExp(`Since revision ${first}: boxes: .*resized`));
    // The pick is still there, and its account is that of what was saved.
    assert.match(await page.locator('[data-account]').innerText(), /77/);
    // The same bytes again are no revision.
    writeFileSync(sheet(), readFileSync(sheet()));
    // Many files in one go are one.
    for (let i = 0; i < 20; i++) writeFileSync(join(site, `css/part-${i}.css`), `.part-${i} { color: red }`);
    writeFileSync(sheet(), text);
    const third = await follows(page, second);
    assert.equal(third, second + 1);
    for (let i = 0; i < 20; i++) rmSync(join(site, `css/part-${i}.css`));
    await follows(page, third);
    assert.deepEqual(errors, []);
    await desk.clear();
  });

  test('a finding is mended on the Bench, written into the file, gone, and taken back', async () => {
    const { url } = await opened(join(site, 'sailings.html'));
    const { page, errors } = await desk.page();
    await page.goto(`${url}?w=768`);
    await ready(page);
    const before = readFileSync(sheet(), 'utf8');
    const number = await revisionOf(page);
    await page.locator('[data-finding]').first().waitFor();
    await page.locator('[data-finding] button').first().click();
    await page.locator('[data-remedy]').first().waitFor();
    await page.locator('[data-remedy] button').first().click();
    await page.locator('[data-trial-sheet]').waitFor();
    await ready(page);
    await page.locator('[data-part=home]').click();
    const write = page.locator('[data-write] button');
    await page.locator('[data-write] button:enabled').waitFor();
    const diff = await page.locator('[data-diff]').innerText();
    const files = [...diff.matchAll(/^\+\+\+ b\/(.+)$/gm)].map(([, path]) => path!);
    const texts = files.map((path) => readFileSync(join(site, path), 'utf8'));
    await write.click();
    await follows(page, number);
    assert.match(await page.locator('[data-since]').innerText(), /Gone:/);
    // Each line of the patch that was shown, and nothing else, is what changed on the disk.
    const added = diff.split('\n').filter((line) => /^\+(?!\+\+ )/.test(line));
    const written = files.map((path) => readFileSync(join(site, path), 'utf8'));
    for (const line of added)
      assert.ok(
        written.some((text) => text.includes(line.slice(1))),
        line,
      );
    assert.notDeepEqual(written, texts);
    // What stands in the files is not laid over them again.
    assert.equal(await page.locator('[data-edit-row]').count(), 0);
    await page.locator('[data-take-back]').first().click();
    await until(
      async () => files.map((path) => readFileSync(join(site, path), 'utf8')),
      (now) => JSON.stringify(now) === JSON.stringify(texts),
    );
    assert.equal(readFileSync(sheet(), 'utf8'), before);
    assert.deepEqual(errors, []);
    await desk.clear();
  });

  test('a trial stays laid over what is saved, wherever its place is', async () => {
    const { url } = await opened(join(site, 'sailings.html'));
    const { page } = await desk.page();
    await page.goto(url);
    await ready(page);
    const number = await revisionOf(page);
    await pickBySelector(page, 'h1');
    const text = readFileSync(join(site, 'sailings.html'), 'utf8');
    await page.locator('[data-account]').waitFor();
    const mute = page.locator('[data-mute]').first();
    await mute.waitFor();
    await mute.click();
    await page.locator('[data-edit-row]').first().waitFor();
    await ready(page);
    writeFileSync(join(site, 'sailings.html'), text.replace('<body', '\n\n<body'));
    await follows(page, number);
    assert.equal(await page.locator('[data-edit-row]').count(), 1);
    writeFileSync(join(site, 'sailings.html'), text);
    await desk.clear();
  });

  test('a page that cannot be read as it is leaves the last one there, and says why', async () => {
    const { url } = await opened(join(site, 'sailings.html'));
    const { page } = await desk.page();
    await page.goto(url);
    await ready(page);
    renameSync(site, `${site}-away`);
    await page.locator('[data-origin-problem]').waitFor();
    assert.match(await page.locator('[data-origin-problem]').innerText(), /is not there any more/);
    assert.ok((await page.locator('[data-facts]').innerText()).includes('boxes'));
    await page.reload();
    await ready(page);
    assert.match(await page.locator('[data-origin-problem]').innerText(), /is not there any more/);
    renameSync(`${site}-away`, site);
    await desk.clear();
  });
});

describe('what is opened, and what is written', () => {
  const small = (name: string, files: Record<string, string | Uint8Array>): string => {
    const root = join(site, '..', name);
    for (const [path, content] of Object.entries(files)) {
      mkdirSync(join(root, path, '..'), { recursive: true });
      writeFileSync(join(root, path), content);
    }
    return root;
  };
  const specimen = async (root: string): Promise<{ id: string; number: number }> => {
    const { id } = await opened(root);
    return { id, number: 1 };
  };
  const write = (id: string, revision: number, files: Record<string, string>): Promise<Response> =>
    api(`/api/specimens/${id}/writes`, 'POST', { revision, files });
  const PAGE = '<!doctype html><title>Small</title><link rel="stylesheet" href="a.css"><p>text';

  test('what is no page of this machine is refused with a sentence', async () => {
    const empty = small('empty', { 'notes.txt': 'none' });
    for (const [args, why] of [
      [[join(site, 'nowhere')], /there is no file or folder .*nowhere/],
      [['/'], /is the whole disk/],
      [[join(site, 'css/board.css')], /is no HTML file/],
      [[empty], /no HTML page/],
      [[site, '--root', join(site, 'css')], /does not hold/],
      [['http://localhost:1/'], /its port is one that browsers do not connect to/],
      [['http://localhost:41999/'], /nothing answers there/],
      [[], /Name one folder, page or address/],
    ] as const) {
      const { code, err } = await openCommand(...args);
      assert.equal(code, 2, err);
      assert.match(err, why);
    }
  });

  test('nothing outside of the folder is taken in, by links or by dots', async () => {
    const secret = small('secret', { 'secret.css': '.secret { color: red }', 'deep/more.html': PAGE });
    const root = small('links', {
      'index.html': PAGE,
      'a.css': 'p { margin: 0 }',
      'node_modules/x/x.css': 'x{}',
    });
    symlinkSync(join(secret, 'secret.css'), join(root, 'leak.css'));
    symlinkSync(join(secret, 'deep'), join(root, 'deep'));
    symlinkSync(join(root, 'a.css'), join(root, 'inside.css'));
    mkdirSync(join(root, '.git'));
    writeFileSync(join(root, '.git/config.txt'), 'secret');
    const { id } = await specimen(root);
    const shelf = (await (await api('/api/specimens')).json()) as { id: string; key: string }[];
    const key = shelf.find((entry) => entry.id === id)!.key;
    const sources = (await (await api(`/api/specimens/${id}/sources?key=${key}`)).json()) as Record<
      string,
      string
    >;
    assert.deepEqual(Object.keys(sources).sort(), ['a.css', 'index.html', 'inside.css']);
    for (const path of ['../secret/secret.css', '..%2fsecret%2fsecret.css', 'leak.css', '.git/config.txt']) {
      const answer = await write(id, 1, { [path]: 'x' });
      assert.equal(answer.status, 422, path);
    }
    assert.equal(readFileSync(join(secret, 'secret.css'), 'utf8'), '.secret { color: red }');
  });

  test('only what was measured is written over; what was there comes back to the byte', async () => {
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('p { margin: 1px }', 'utf16le')]);
    const charset = '@charset "windows-1252";';
    const latin = Buffer.from(`${charset}/* caf\xe9 */\r\np { margin: 2px }\r\n`, 'latin1');
    const broken = Buffer.from('/* caf\xe9 */', 'latin1');
    const marked = Buffer.from('\ufeffp { margin: 3px }', 'utf8');
    const root = small('bytes', {
      'index.html': PAGE,
      'a.css': latin,
      'b.css': utf16,
      'c.css': marked,
      'd.css': broken,
    });
    chmodSync(join(root, 'a.css'), 0o640);
    const { id } = await specimen(root);
    const text = (name: string): Buffer => readFileSync(join(root, name));
    const answer = await write(id, 1, {
      'a.css': `${charset}/* caf\u00e9 */\r\np { margin: 9px }\r\n`,
      'b.css': 'p { margin: 9px }',
      'c.css': 'p { margin: 9px }',
    });
    assert.equal(answer.status, 201, await answer.clone().text());
    const { id: written, number } = (await answer.json()) as { id: string; number: number };
    assert.equal(number, 2);
    assert.deepEqual(text('a.css'), Buffer.from(`${charset}/* caf\xe9 */\r\np { margin: 9px }\r\n`, 'latin1'));
    assert.deepEqual(
      text('b.css'),
      Buffer.concat([utf16.subarray(0, 2), Buffer.from('p { margin: 9px }', 'utf16le')]),
    );
    assert.deepEqual(text('c.css'), Buffer.from('\ufeffp { margin: 9px }', 'utf8'));
    assert.equal(statSync(join(root, 'a.css')).mode & 0o777, 0o640);
    // A character that the encoding has not.
    const odd = await write(id, 2, { 'a.css': `${charset}/* \u0416 */`, 'c.css': 'p {}' });
    assert.equal(odd.status, 422);
    assert.match(await odd.text(), /windows-1252, which has not all characters/);
    assert.deepEqual(text('c.css'), Buffer.from('\ufeffp { margin: 9px }', 'utf8'));
    // Bytes that are no UTF-8 in a sheet of a page in UTF-8 are lost to browsers: nothing is written over them.
    const lost = await write(id, 2, { 'd.css': 'p {}' });
    assert.equal(lost.status, 422);
    assert.match(await lost.text(), /holds bytes that are no text in its encoding/);
    assert.deepEqual(text('d.css'), broken);
    const back = await api(`/api/specimens/${id}/writes/${written}`, 'DELETE');
    assert.equal(back.status, 200, await back.text());
    for (const [name, bytes] of [
      ['a.css', latin],
      ['b.css', utf16],
      ['c.css', marked],
    ] as const)
      assert.deepEqual(text(name), Buffer.from(bytes));
    assert.equal((await api(`/api/specimens/${id}/writes/${written}`, 'DELETE')).status, 409);
  });

  test('a file that was saved meanwhile is not written over', async () => {
    const root = small('meanwhile', { 'index.html': PAGE, 'a.css': 'p { margin: 1px }', 'b.css': 'p {}' });
    const { id } = await specimen(root);
    writeFileSync(join(root, 'a.css'), 'p { margin: 5px }');
    const answer = await write(id, 1, { 'b.css': 'p { padding: 1px }', 'a.css': 'p { margin: 9px }' });
    assert.equal(answer.status, 409);
    const { error, now } = (await answer.json()) as { error: string; now: { number: number } };
    assert.match(error, /“a.css” is not as measured any more. Nothing was written/);
    assert.deepEqual(now, { number: 2 });
    assert.equal(readFileSync(join(root, 'a.css'), 'utf8'), 'p { margin: 5px }');
    assert.equal(readFileSync(join(root, 'b.css'), 'utf8'), 'p {}');
    // The same with a write that is to be taken back.
    const { id: written } = (await (await write(id, 2, { 'b.css': 'p { padding: 1px }' })).json()) as {
      id: string;
    };
    writeFileSync(join(root, 'b.css'), 'mine {}');
    assert.equal((await api(`/api/specimens/${id}/writes/${written}`, 'DELETE')).status, 409);
    assert.equal(readFileSync(join(root, 'b.css'), 'utf8'), 'mine {}');
    assert.ok(!existsSync(join(root, '.a.css')));
  });

  test('a server that other machines can reach reads no folder, whatever was opened before', async () => {
    const root = small('reach', { 'index.html': PAGE, 'a.css': 'p {}' });
    const data = temporaryFolder();
    const [token, env] = ['a-token-for-this-test', { NORMETRA_DEMO: 'none' }];
    const ask = (url: string, path: string, method: string, body?: unknown): Promise<Response> =>
      fetch(url + path, {
        method,
        headers: { origin: url, authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
    const near = await startApp(data, env);
    const { id } = (await (await ask(near.url, '/api/open', 'POST', { place: root })).json()) as { id: string };
    await near.stop();
    writeFileSync(join(root, 'a.css'), 'p { color: red }');
    const far = await startApp(data, { ...env, NORMETRA_TOKEN: token }, ['--host', '0.0.0.0']);
    try {
      for (const [path, method, body] of [
        ['/api/open', 'POST', { place: root }],
        [`/api/specimens/${id}/changes`, 'GET', undefined],
        [`/api/specimens/${id}/take`, 'POST', undefined],
        [`/api/specimens/${id}/writes`, 'POST', { revision: 1, files: { 'a.css': 'x' } }],
      ] as const)
        assert.equal((await ask(far.url, path, method, body)).status, 403, path);
      const bench = await (await ask(far.url, `/bench/${id}/__data.json`, 'GET')).text();
      assert.match(bench, /that no other machine can reach/);
      const [shown] = (await (await ask(far.url, '/api/specimens', 'GET')).json()) as { key: string }[];
      const sources = await (
        await ask(far.url, `/api/specimens/${id}/sources?key=${shown!.key}`, 'GET')
      ).text();
      assert.ok(!sources.includes('color: red'));
    } finally {
      await far.stop();
      rmSync(data, { recursive: true, force: true });
    }
  });

  test('another origin opens nothing and writes nothing', async () => {
    const root = small('origin', { 'index.html': PAGE, 'a.css': 'p {}' });
    const { id } = await specimen(root);
    for (const origin of ['null', 'http://evil.example', `http://${'0'.repeat(32)}.localhost`])
      for (const [path, body] of [
        ['/api/open', { place: root }],
        [`/api/specimens/${id}/writes`, { revision: 1, files: { 'a.css': 'x' } }],
      ] as const) {
        const answer = await fetch(desk.app.url + path, {
          method: 'POST',
          headers: { origin, 'content-type': 'application/json' },
          body: JSON.stringify(body),
        });
        assert.equal(answer.status, 403, `${origin} ${path}`);
      }
    assert.equal(readFileSync(join(root, 'a.css'), 'utf8'), 'p {}');
  });
});
