/** Bound to more than this machine, the application answers nothing without its token. */
import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { request } from 'node:http';
import { networkInterfaces } from 'node:os';
import { after, before, describe, test } from 'node:test';
import { startApp, until, type App } from '../../support/app.ts';

const TOKEN = 'a-token-of-the-tests';

interface Got {
  status: number;
  body: string;
  cookie: string;
  location: string;
}

describe('the token', () => {
  let app: App;
  let port = '';
  before(async () => {
    app = await startApp(undefined, { NORMETRA_DEMO: 'none', NORMETRA_TOKEN: TOKEN }, ['--host', '0.0.0.0']);
    port = new URL(app.url).port;
  });
  after(async () => {
    await app.stop();
    rmSync(app.folder, { recursive: true, force: true });
  });

  const get = (path: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Got> =>
    new Promise((resolve, reject) => {
      request({ host: '127.0.0.1', port, path, method, headers }, (answer) => {
        let body = '';
        answer.on('data', (piece: Buffer) => (body += piece.toString()));
        answer.on('end', () =>
          resolve({
            status: answer.statusCode ?? 0,
            body,
            cookie: String(answer.headers['set-cookie'] ?? '').split(';')[0]!,
            location: String(answer.headers.location ?? ''),
          }),
        );
      })
        .once('error', reject)
        .end();
    });

  test('it says at its start who can reach it, and prints the address with the token', async () => {
    await until(
      () => Promise.resolve(app.said()),
      (text) => /Whoever/.test(text),
    );
    assert.match(app.said(), /Whoever can reach an address of this machine on port \d+ and knows the token/);
    assert.ok(app.said().includes(`/?token=${TOKEN}`));
  });

  const hosts = ['127.0.0.1', 'localhost', 'evil.invalid', 'bare.localhost', `${'a'.repeat(32)}.localhost`];
  for (const host of hosts)
    for (const path of [
      '/',
      '/api/specimens',
      '/api/health',
      '/frame/bare/standards.html',
      '/_app/x.js',
      '/..//api',
    ])
      test(`nothing of ${path} at ${host}`, async () => {
        const { status, body } = await get(path, { host: `${host}:${port}` });
        assert.equal(status, 401);
        assert.deepEqual(Object.keys(JSON.parse(body) as object), ['error', 'field']);
        assert.ok(!body.includes(TOKEN));
      });

  for (const wrong of ['', 'x', TOKEN.slice(0, -1), `${TOKEN}x`, TOKEN.toUpperCase()])
    test(`a wrong token is none: “${wrong}”`, async () => {
      assert.equal((await get(`/?token=${wrong}`)).status, 401);
      assert.equal((await get('/', { authorization: `Bearer ${wrong}` })).status, 401);
      assert.equal((await get('/', { cookie: `normetra_${port}=${wrong}` })).status, 401);
      assert.equal((await get('/api/specimens', { origin: `http://127.0.0.1:${port}` }, 'POST')).status, 401);
    });

  test('the first visit leaves a cookie, and the address without the token', async () => {
    const first = await get(`/atlas?token=${TOKEN}&x=1`);
    assert.equal(first.status, 303);
    assert.equal(first.location, '/atlas?x=1');
    assert.ok(!first.cookie.includes(TOKEN), 'the cookie is not the token');
    assert.equal((await get('/api/specimens', { cookie: first.cookie })).status, 200);
    assert.equal((await get('/api/specimens', { authorization: `Bearer ${TOKEN}` })).status, 200);
  });

  test('frames of specimens are under names that nobody can make up', async () => {
    const bearer = { authorization: `Bearer ${TOKEN}` };
    const response = await fetch(`${app.url}/api/specimens`, {
      method: 'POST',
      headers: { ...bearer, origin: app.url, 'content-type': 'application/json' },
      body: JSON.stringify({ html: '<p>x', css: '' }),
    });
    assert.equal(response.status, 201);
    const [{ key }] = JSON.parse((await get('/api/specimens', bearer)).body) as [{ key: string }];
    assert.match(key, /^[0-9a-f]{32}-[0-9a-f]{32}$/);
    const at = (name: string) => get('/index.html', { host: `${name}.localhost:${port}` });
    assert.equal((await at(key)).status, 200);
    assert.equal((await at(key.slice(0, 32))).status, 401);
    assert.equal((await at(`${key.slice(0, 33)}${'0'.repeat(32)}`)).status, 401);
    assert.equal((await get(`/frame/${key}/index.html`)).status, 200);
    assert.equal((await get(`/frame/${key.slice(0, 32)}/index.html`)).status, 401);
  });

  test('it is reached at other addresses of this machine', async () => {
    const other = Object.values(networkInterfaces())
      .flatMap((all) => all ?? [])
      .find(({ internal, family }) => !internal && family === 'IPv4')?.address;
    if (!other) return;
    const answer = await fetch(`http://${other}:${port}/api/health`, {
      headers: { authorization: `Bearer ${TOKEN}` },
    });
    assert.equal(answer.status, 200);
    assert.equal((await fetch(`http://${other}:${port}/api/health`)).status, 401);
  });
});
