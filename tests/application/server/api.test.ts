/** What the server refuses and what it answers, request by request, and what its database keeps. */
import assert from 'node:assert/strict';
import { unzipSync } from 'fflate';
import { rmSync } from 'node:fs';
import { request } from 'node:http';
import { after, before, describe, test } from 'node:test';
import { startApp, type App } from '../../support/app.ts';

describe('the server', () => {
  let app: App;
  before(async () => {
    app = await startApp(undefined, { NORMETRA_DEMO: 'none' });
  });
  after(async () => {
    await app.stop();
    rmSync(app.folder, { recursive: true, force: true });
  });

  const ask = async (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
    const response = await fetch(app.url + path, {
      method,
      headers: {
        origin: app.url,
        ...(typeof body === 'string' ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    return { status: response.status, text, json: () => JSON.parse(text) as Record<string, unknown> };
  };
  const make = async (html = '<title>One</title><p>x', css = 'p { margin: 0 }') =>
    String((await ask('POST', '/api/specimens', { html, css })).json()['id']);
  const list = async () =>
    (await ask('GET', '/api/specimens')).json() as unknown as {
      id: string;
      name: string;
      key: string;
      readings: number;
      missing: number;
      scripts: string;
    }[];

  const refusals: [string, [string, string, unknown?, Record<string, string>?], number, RegExp][] = [
    [
      'a body that is no JSON',
      ['POST', '/api/specimens', '{', { 'content-type': 'application/json' }],
      400,
      /body: the request's body is not JSON/,
    ],
    [
      'a field that is missing',
      ['POST', '/api/specimens', { html: '<p>' }],
      400,
      /css: .*Correct it and send the request again/,
    ],
    ['a field of another type', ['POST', '/api/specimens', { html: 5, css: '' }], 400, /html: /],
    [
      'a form without files',
      ['POST', '/api/specimens', 'x', { 'content-type': 'multipart/form-data; boundary=b' }],
      400,
      /the upload broke off or is not a form/,
    ],
    [
      'a specimen that is not there',
      ['PATCH', '/api/specimens/none', { name: 'x', version: 1 }],
      404,
      /there is no such specimen/,
    ],
    [
      'an empty name',
      ['PATCH', '/api/specimens/none', { name: '  ', version: 1 }],
      400,
      /name: a specimen needs a name/,
    ],
    [
      'a zero behind numbers in a list',
      ['POST', '/api/specimens', { html: 'x', css: '', more: [1, 'a\0'] }],
      400,
      /more\.1: it holds the character U\+0000/,
    ],
    ['an unknown mode of scripts', ['PATCH', '/api/specimens/none', { scripts: 'maybe' }], 400, /scripts: /],
    [
      'a drawing of nonsense',
      ['PATCH', '/api/specimens/none', { drawing: { width: 0, height: 1, marks: [] } }],
      400,
      /drawing\.width: /,
    ],
    ['deleting what is not there', ['DELETE', '/api/specimens/none'], 404, /there is no such specimen/],
    [
      'restoring what was not deleted',
      ['POST', '/api/specimens/none/restore'],
      404,
      /there is no such specimen/,
    ],
    [
      'a reading that is none',
      ['POST', '/api/specimens/none/readings', { note: '' }],
      404,
      /there is no such specimen/,
    ],
    ['a reading that is not there', ['GET', '/api/readings/none'], 404, /there is no such reading/],
    ['sources without a key', ['GET', '/api/specimens/none/sources'], 404, /there is no such revision/],
    [
      'another origin',
      ['POST', '/api/specimens', { html: '<p>', css: '' }, { origin: 'http://evil.invalid' }],
      403,
      /must come from a page of Normetra itself/,
    ],
  ];
  for (const [name, args, status, why] of refusals)
    test(`refused: ${name}`, async () => {
      const answer = await ask(...args);
      assert.equal(answer.status, status, answer.text);
      assert.match(String(answer.json()['error']), why);
      assert.deepEqual(await list(), []);
    });

  test('a host that is not served', async () => {
    const status = await new Promise<number>((resolve, reject) => {
      const asked = request(`${app.url}/api/specimens`, { headers: { host: 'evil.invalid' } }, (answer) =>
        resolve(answer.resume().statusCode ?? 0),
      );
      asked.once('error', reject).end();
    });
    assert.equal(status, 421);
  });

  test('made, renamed, duplicated, deleted, taken back', async () => {
    const id = await make('<title>One</title><link rel=stylesheet href=gone.css><p>x');
    assert.equal((await list())[0]!.missing, 1);
    await ask('PATCH', `/api/specimens/${id}`, { name: ' Two ', scripts: 'run', version: 1 });
    const copy = String((await ask('POST', `/api/specimens/${id}/duplicate`)).json()['id']);
    assert.deepEqual((await list()).map(({ name, scripts }) => `${name} ${scripts}`).sort(), [
      'Two (copy) run',
      'Two run',
    ]);
    assert.notEqual((await list())[0]!.key, (await list())[1]!.key);
    await ask('DELETE', `/api/specimens/${id}`);
    assert.deepEqual(
      (await list()).map(({ id }) => id),
      [copy],
    );
    assert.equal((await ask('POST', `/api/specimens/${id}/restore`)).status, 200);
    assert.equal((await list()).length, 2);
    for (const entry of await list()) await ask('DELETE', `/api/specimens/${entry.id}`);
  });

  test('sources are those of the revision that is asked for', async () => {
    const id = await make();
    const [first] = await list();
    const form = new FormData();
    form.append('files', new File(['p { margin: 9px }'], 'style.css'));
    form.append('paths', 'style.css');
    const revised = await fetch(`${app.url}/api/specimens/${id}/revisions?newest=1`, {
      method: 'POST',
      headers: { origin: app.url },
      body: form,
    });
    assert.deepEqual(await revised.json(), { number: 2 });
    const [second] = await list();
    const css = async (key: string) =>
      (await ask('GET', `/api/specimens/${id}/sources?key=${key}`)).json()['style.css'];
    assert.equal(await css(first!.key), 'p { margin: 0 }');
    assert.equal(await css(second!.key), 'p { margin: 9px }');
    await ask('DELETE', `/api/specimens/${id}`);
  });

  test('an export holds the files as they came, and says what it is', async () => {
    const id = await make('<title>Café & co</title><p>x');
    const response = await fetch(`${app.url}/api/specimens/${id}/export`);
    assert.match(response.headers.get('content-disposition')!, /filename="Caf-co\.zip"/);
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    assert.deepEqual(Object.keys(files).sort(), ['files/index.html', 'files/style.css', 'normetra.json']);
    const manifest = JSON.parse(new TextDecoder().decode(files['normetra.json'])) as Record<string, unknown>;
    assert.equal(manifest['normetra'], 'specimen/1');
    assert.equal(manifest['entry'], 'index.html');
    await ask('DELETE', `/api/specimens/${id}`);
  });

  test('an export brought in again has its trials, and the grades of its findings', async () => {
    const id = await make('<title>Kept</title><p>x');
    const edits = [
      { id: 'a', change: { do: 'remove', file: 'index.html', path: 'body > p' }, group: 'no text', on: false },
    ];
    const posted = [
      ['trials', { page: 'index.html', name: 'Shorter', edits }],
      [
        'grades',
        { page: 'index.html', rule: 'size/square', place: 'body > p', grade: 'meant', why: 'It breathes' },
      ],
    ] as const;
    for (const [what, body] of posted)
      assert.equal((await ask('POST', `/api/specimens/${id}/${what}`, body)).status, 201);
    const zip = await (await fetch(`${app.url}/api/specimens/${id}/export`)).arrayBuffer();
    await ask('DELETE', `/api/specimens/${id}`);
    const form = new FormData();
    form.append('files', new Blob([zip]), 'kept.zip');
    const brought = await fetch(`${app.url}/api/specimens`, {
      method: 'POST',
      headers: { origin: app.url },
      body: form,
    });
    const { id: again } = (await brought.json()) as { id: string };
    assert.notEqual(again, id);
    for (const [what, body] of posted) {
      const [entry] = (await ask('GET', `/api/specimens/${again}/${what}`)).json() as unknown as object[];
      const kept = JSON.parse(JSON.stringify(entry)) as Record<string, unknown>;
      for (const [name, value] of Object.entries(body))
        if (name !== 'edits') assert.deepEqual(kept[name], value);
      if (what === 'trials') {
        const [edit] = kept['edits'] as Record<string, unknown>[];
        assert.deepEqual({ ...edit, ...edits[0] }, edit);
      }
    }
    await ask('DELETE', `/api/specimens/${again}`);
  });

  test('a specimen is served on its own host alone, as a sandboxed document', async () => {
    const id = await make();
    const [{ key } = { key: '' }] = await list();
    const get = (host: string, path: string) =>
      new Promise<{ status: number; policy: string; body: string }>((resolve, reject) => {
        const asked = request(app.url + path, { headers: { host } }, (answer) => {
          let body = '';
          answer.on('data', (chunk: Buffer) => (body += chunk.toString()));
          answer.on('end', () =>
            resolve({
              status: answer.statusCode ?? 0,
              policy: String(answer.headers['content-security-policy'] ?? ''),
              body,
            }),
          );
        });
        asked.once('error', reject).end();
      });
    const port = new URL(app.url).port;
    const page = await get(`${key}.localhost:${port}`, '/index.html');
    assert.equal(page.status, 200);
    assert.match(page.policy, /^sandbox allow-scripts; default-src 'none'/);
    assert.match(page.body, /<script nonce=/);
    assert.equal((await get(`${key}.localhost:${port}`, '/style.css')).body, 'p { margin: 0 }');
    for (const [host, path] of [
      [`${key}.localhost:${port}`, '/gone.css'],
      [`${key}.localhost:${port}`, '/api/specimens'],
      [`${'0'.repeat(32)}.localhost:${port}`, '/index.html'],
    ] as const) {
      const missing = await get(host, path);
      assert.equal(missing.status, 404, path);
      assert.match(missing.policy, /^sandbox allow-scripts/);
    }
    await ask('DELETE', `/api/specimens/${id}`);
  });
});
