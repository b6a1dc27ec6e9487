/** Uploads that are too much, and pages that are made to take long: refused with a sentence, or served, and nothing else waits. */
import assert from 'node:assert/strict';
import { zipSync } from 'fflate';
import { createHash, randomBytes } from 'node:crypto';
import { readFileSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { after, before, describe, test } from 'node:test';
import { startApp, type App } from '../../support/app.ts';
import { clientOf, type Client } from '../../support/client.ts';

const MB = 1024 * 1024;
const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const PAGE = encode('<title>P</title><p>x');

describe('limits', () => {
  let app: App;
  let client: Client;
  before(async () => {
    app = await startApp(undefined, { NORMETRA_DEMO: 'none' });
    client = clientOf(app);
  });
  after(async () => {
    await app.stop();
    rmSync(app.folder, { recursive: true, force: true });
  });

  test('200 MB are taken with at most 400 MB resident, and served as they came', async () => {
    const large = randomBytes(195 * MB);
    const answered = await client.upload([
      ['a.html', PAGE],
      ['large.bin', large],
    ]);
    assert.equal(answered.status, 201, answered.text);
    const status = readFileSync(`/proc/${app.child.pid}/status`, 'utf8');
    const peak = Number(/VmHWM:\s+(\d+)/.exec(status)![1]) / 1024;
    assert.ok(peak <= 400, `${peak.toFixed(0)} MB were resident`);
    const [{ key, id } = { key: '', id: '' }] = await client.list();
    const served = await fetch(`${app.url}/frame/${key}/large.bin`);
    const hash = createHash('sha256');
    hash.update(new Uint8Array(await served.arrayBuffer()));
    assert.equal(hash.digest('hex'), createHash('sha256').update(large).digest('hex'));
    await client.ask('DELETE', `/api/specimens/${id}`);
  });

  const zeros = (count: number): Uint8Array => new Uint8Array(count);
  const TOO_MUCH: [string, () => [string, Uint8Array][], RegExp][] = [
    [
      'three archives of 190 MB each, unpacked',
      () =>
        [1, 2, 3].map((n): [string, Uint8Array] => [
          `${n}.zip`,
          zipSync({ [`${n}.html`]: PAGE, [`${n}.bin`]: zeros(190 * MB) }, { level: 1 }),
        ]),
      /more than the 200 MB/,
    ],
    [
      'an archive beside files, more than 5000 together',
      () => [
        ['a.zip', zipSync(Object.fromEntries(Array.from({ length: 4000 }, (_, i) => [`z${i}.txt`, zeros(1)])))],
        ...Array.from({ length: 1001 }, (_, i): [string, Uint8Array] => [`f${i}.html`, PAGE]),
      ],
      /more than the 5000 files/,
    ],
    [
      'a page too large to be read',
      () => [['a.html', Buffer.concat([PAGE, zeros(65 * MB).fill(32)])]],
      /a page or a style sheet may have 64 MB/,
    ],
  ];
  for (const [name, files, why] of TOO_MUCH)
    test(`refused: ${name}`, async () => {
      const answer = await client.upload(files());
      assert.equal(answer.status, 413, answer.text);
      assert.match(answer.text, why);
      assert.deepEqual(await client.list(), [], 'nothing is left behind');
    });

  test('what says that it is longer than may be is refused at once', async () => {
    const status = await new Promise<number>((resolve, reject) => {
      const asked = request(
        `${app.url}/api/specimens`,
        {
          method: 'POST',
          headers: {
            origin: app.url,
            'content-type': 'multipart/form-data; boundary=b',
            'content-length': String(2000 * MB),
          },
        },
        (answer) => resolve(answer.statusCode ?? 0),
      );
      asked.once('error', reject);
      asked.write('--b\r\n');
    });
    assert.equal(status, 413);
  });

  test('office documents beside a page are files like any other', async () => {
    const office = zipSync({ '[Content_Types].xml': encode('<Types/>'), 'word/document.xml': encode('<w/>') });
    const answered = await client.upload([
      ['index.html', PAGE],
      ['report.docx', office],
      ['figures.xlsx', office],
    ]);
    assert.equal(answered.status, 201, answered.text);
    const [{ key, id } = { key: '', id: '' }] = await client.list();
    const served = await fetch(`${app.url}/frame/${key}/report.docx`);
    assert.equal((await served.arrayBuffer()).byteLength, office.length);
    await client.ask('DELETE', `/api/specimens/${id}`);
    const archive = await client.upload([['site', zipSync({ 'a.html': PAGE })]]);
    assert.equal(archive.status, 201, 'one that comes alone is unpacked whatever it is called');
    await client.ask('DELETE', `/api/specimens/${archive.json<{ id: string }>().id}`);
  });

  test('an import that fails half-way leaves nothing', async () => {
    const manifest = {
      normetra: 'specimen/1',
      name: 'Half',
      scripts: 'run',
      entry: 'a.html',
      drawing: null,
      readings: [],
      trials: [{ page: 'a.html', name: 'T', edits: [] }],
      meant: [
        { page: 'a.html', key: 'same', reason: 'one' },
        { page: 'a.html', key: 'same', reason: 'two' },
      ],
    };
    const zip = zipSync({ 'normetra.json': encode(JSON.stringify(manifest)), 'files/a.html': PAGE });
    const answer = await client.upload([['x.zip', zip]]);
    assert.ok(answer.status >= 400 && answer.status < 500, answer.text);
    assert.deepEqual(await client.list(), []);
  });

  const SLOW: [string, string][] = [
    ['titles that never end', `${'<title'.repeat(60_000)}>`],
    ['2000 written documents in frames', '<iframe srcdoc="<p>x</p>"></iframe>'.repeat(2000)],
    [
      'written documents in each other',
      Array.from({ length: 12 }).reduce<string>(
        (inner) => `<iframe srcdoc="${inner.replace(/&/g, '&amp;').replace(/"/g, '&quot;')}"></iframe>`,
        '<p>x',
      ),
    ],
  ];
  for (const [name, html] of SLOW)
    test(`${name}: answered, and served`, async () => {
      const answered = await client.ask('POST', '/api/specimens', { html, css: '' });
      assert.equal(answered.status, 201, answered.text);
      const { id } = answered.json<{ id: string }>();
      const { key } = (await client.list()).find((entry) => entry.id === id)!;
      const page = await fetch(`${app.url}/frame/${key}/index.html`);
      assert.equal(page.status, 200);
      assert.ok((await page.text()).length < 20 * MB);
      await client.ask('DELETE', `/api/specimens/${id}`);
    });

  test('folders of a specimen have their index, and files their neighbours', async () => {
    const answered = await client.upload([
      ['index.html', PAGE],
      ['sub/index.html', encode('<title>Sub</title><link rel=stylesheet href=a.css>')],
      ['sub/a.css', encode('p{}')],
    ]);
    const { id } = answered.json<{ id: string }>();
    const { key } = (await client.list()).find((entry) => entry.id === id)!;
    const { port } = new URL(app.url);
    const get = (path: string, headers: Record<string, string> = {}) =>
      new Promise<{ status: number; location: string; body: string }>((resolve, reject) => {
        request(
          { host: '127.0.0.1', port, path, headers: { host: `${key}.localhost:${port}`, ...headers } },
          (answer) => {
            let body = '';
            answer.on('data', (piece: Buffer) => (body += piece.toString()));
            answer.on('end', () =>
              resolve({
                status: answer.statusCode ?? 0,
                location: String(answer.headers.location ?? ''),
                body,
              }),
            );
          },
        )
          .once('error', reject)
          .end();
      });
    assert.match((await get('/sub/')).body, /Sub/);
    assert.deepEqual({ ...(await get('/sub')), body: '' }, { status: 301, location: 'sub/', body: '' });
    assert.equal((await get('/sub/a.css')).body, 'p{}');
    for (const path of [
      '/../../api/specimens',
      '/%2e%2e/%2e%2e/api/specimens',
      '/..\\..\\api\\specimens',
      '/x/../../../api/specimens',
    ])
      assert.equal((await get(path)).status, 404, path);
    const foreign = await get('/api/specimens', {
      host: `127.0.0.1:${port}`,
      referer: `http://evil.invalid/frame/${key}/x`,
    });
    assert.equal(foreign.status, 200, 'a foreign Referer leads nowhere');
    await client.ask('DELETE', `/api/specimens/${id}`);
  });

  test('answers of the API are for nobody else', async () => {
    for (const path of ['/api/specimens', '/api/none', '/api/health']) {
      const { headers } = await client.ask('GET', path);
      assert.equal(headers.get('x-content-type-options'), 'nosniff', path);
      assert.equal(headers.get('cross-origin-resource-policy'), 'same-origin', path);
      assert.match(headers.get('content-security-policy') ?? '', /frame-ancestors 'none'/, path);
    }
    const page = await client.ask('GET', '/');
    const { port } = new URL(app.url);
    assert.match(
      page.headers.get('content-security-policy') ?? '',
      new RegExp(`frame-src 'self' http://\\*\\.localhost:${port};`),
    );
  });
});
