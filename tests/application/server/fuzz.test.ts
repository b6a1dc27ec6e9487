/**
 * Requests and archives made at random: whatever is sent, the answer is no error of the server's, and what is refused names a
 * field. `RUNS=n` makes more of them, `SEED=n` the same again.
 */
import assert from 'node:assert/strict';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { rmSync } from 'node:fs';
import { request } from 'node:http';
import { after, before, describe, test } from 'node:test';
import { startApp, type App } from '../../support/app.ts';
import { clientOf } from '../../support/client.ts';

const RUNS = Number(process.env['RUNS'] ?? 1200);
const SEED = Number(process.env['SEED'] ?? Date.now() % 1_000_000);

const ODD_TEXTS = [
  '',
  ' ',
  '\0',
  'a\0b',
  '\ud800',
  'x\udfff',
  '__proto__',
  'constructor',
  'prototype',
  'toString',
  'hasOwnProperty',
  '"',
  "'",
  '\r\n',
  'a\r\nb: c',
  '../../etc/passwd',
  '..',
  '/',
  '\\',
  '%00',
  '%',
  '%zz',
  '%2e%2e%2f',
  'null',
  'NaN',
  '-1',
  'é',
  '💥',
  'x'.repeat(3000),
  'a'.repeat(70_000),
  '<script>',
  '${x}',
  'index.html',
  'style.css',
  "'; drop table files; --",
];
const text = fc.oneof(
  fc.constantFrom(...ODD_TEXTS),
  fc.string({ maxLength: 40 }),
  fc.string({ unit: 'binary', maxLength: 20 }),
);
const number = fc.oneof(
  fc.constantFrom(0, -1, 1, 1.5, 2 ** 31, 2 ** 31 - 1, -(2 ** 31) - 1, 2 ** 53, 1e308, -0),
  fc.integer(),
);
const leaf = fc.oneof(text, number, fc.boolean(), fc.constant(null), fc.constant([]), fc.constant({}));
const json = fc.letrec((tie) => ({
  any: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.array(tie('any'), { maxLength: 4 }),
    fc.dictionary(fc.oneof(text, fc.constantFrom('name', 'edits', 'version', 'page', 'key')), tie('any'), {
      maxKeys: 4,
    }),
  ),
})).any;

const change = fc.oneof(
  fc.record({ do: fc.constant('remove'), file: text, path: text }),
  fc.record({ do: fc.constant('attribute'), file: text, path: text, name: text, value: leaf }),
  fc.record({ do: text, at: json, property: text, value: text }),
);
const edit = fc.record({ id: text, change }, { requiredKeys: ['change'] });
const size = fc.oneof(number, fc.constant(800));
const reading = fc.record({
  normetra: fc.constant('stored-reading/1'),
  frameBase: text,
  page: text,
  note: text,
  pick: text,
  described: fc.record({
    url: text,
    mode: fc.constantFrom('standards', 'quirks', 'x'),
    engine: fc.record({ name: text, version: text }),
    sheets: fc.constant([]),
    roots: size,
    defaultKeys: fc.constant([]),
  }),
  validity: fc.constant({ supports: [], declarations: [] }),
  defaults: fc.constant({}),
  reading: fc.record({
    engine: fc.record({ name: text, version: text }),
    viewport: fc.record({ width: size, height: size, layoutWidth: size, ratio: size }),
    document: fc.record({
      mode: fc.constantFrom('standards', 'quirks'),
      url: text,
      title: text,
      scrollWidth: size,
      scrollHeight: size,
      clientWidth: size,
      clientHeight: size,
      scrollX: size,
      scrollY: size,
    }),
    count: size,
  }),
});

/** Bodies that routes expect, with a field or two that they do not. */
const BODIES = fc.oneof(
  json,
  fc.record({ html: text, css: text }),
  fc.record({ name: text, scripts: text, version: leaf, drawing: json }, { requiredKeys: [] }),
  fc.record({ page: text, name: text, edits: fc.array(edit, { maxLength: 3 }) }),
  fc.record(
    { version: leaf, name: text, edits: fc.oneof(json, fc.array(edit, { maxLength: 3 })) },
    { requiredKeys: [] },
  ),
  fc.record(
    { page: text, key: text, reason: text, version: leaf },
    { requiredKeys: ['page', 'key', 'reason'] },
  ),
  fc.record({
    key: fc.oneof(text, fc.constant('KEY')),
    texts: fc.dictionary(text, text, { maxKeys: 3 }),
    underlay: json,
  }),
  fc.record({ standards: text, quirks: text }),
  reading,
);

const PATHS = [
  '/api/specimens',
  '/api/specimens/ID',
  '/api/specimens/ID/trials',
  '/api/specimens/ID/grades',
  '/api/specimens/ID/grades/X',
  '/api/specimens/ID/readings',
  '/api/specimens/ID/sources?key=X',
  '/api/specimens/ID/export',
  '/api/specimens/ID/duplicate',
  '/api/specimens/ID/overlays',
  '/api/specimens/ID/restore',
  '/api/specimens/ID/revisions?newest=X&base=X',
  '/api/trials/X',
  '/api/trials/X?version=X',
  '/api/trials/TRIAL',
  '/api/readings/X',
  '/api/atlas',
  '/api/atlas/X',
  '/api/atlas/underlays',
  '/api/health',
  '/api/X',
  '/api/specimens/X',
  '/api/specimens/X/trials',
  '/api',
  '/api/',
  '/X',
  '/frame/X/X',
  '/frame/KEY/X',
  '/bench/X',
  '/sweep/X',
];
const METHODS = ['GET', 'POST', 'PATCH', 'DELETE', 'PUT', 'HEAD', 'OPTIONS'];
const TYPES = [
  'application/json',
  'text/plain',
  'multipart/form-data',
  'multipart/form-data; boundary=b',
  '',
  'x',
];

interface Tried {
  method: string;
  path: string;
  body: string | null;
  headers: Record<string, string>;
}

/** Packed with a name that objects cannot have as another key. */
function zipOf(files: Record<string, Uint8Array>): Uint8Array {
  const entries = Object.entries(files).filter(([path]) => path !== '' && path !== '__proto__');
  return zipSync(Object.fromEntries(entries), { level: 0 });
}

describe(`requests at random, seed ${SEED}`, () => {
  let app: App;
  let previous: { ID: string; KEY: string; TRIAL: string };
  before(async () => {
    app = await startApp(undefined, { NORMETRA_DEMO: 'none' });
    const client = clientOf(app);
    const ID = await client.make();
    const { key } = (await client.list())[0]!;
    const trial = await client.ask('POST', `/api/specimens/${ID}/trials`, { page: 'p', name: 'T', edits: [] });
    previous = { ID, KEY: key, TRIAL: trial.json<{ id: string }>().id };
  });
  after(async () => {
    await app.stop();
    rmSync(app.folder, { recursive: true, force: true });
  });

  const send = ({
    method,
    path,
    body,
    headers,
  }: Tried): Promise<{ status: number; text: string; type: string }> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(app.url);
      const asked = request(
        { hostname, port, path, method, headers: { origin: app.url, ...headers } },
        (answer) => {
          let received = '';
          answer.on('data', (piece: Buffer) => (received += piece.toString()));
          answer.on('end', () =>
            resolve({
              status: answer.statusCode ?? 0,
              text: received,
              type: String(answer.headers['content-type'] ?? ''),
            }),
          );
        },
      );
      asked.once('error', reject);
      asked.end(body ?? undefined);
    });

  /** What may stand in the first line of a request. */
  const inPath = (value: string): string =>
    /^%[\w%]*$/.test(value)
      ? value
      : encodeURIComponent(value.replace(/\p{Surrogate}/gu, '\ufffd')).slice(0, 3000);

  const tried = fc.record({
    method: fc.constantFrom(...METHODS),
    template: fc.constantFrom(...PATHS),
    holes: fc.array(text, { minLength: 3, maxLength: 3 }),
    body: fc.option(
      fc.oneof(
        BODIES.map((value) => JSON.stringify(value)),
        text,
      ),
      { nil: null },
    ),
    type: fc.oneof(
      { weight: 6, arbitrary: fc.constant('application/json') },
      { weight: 1, arbitrary: fc.constantFrom(...TYPES) },
    ),
  });

  const counts = { sent: 0, refused: 0, done: 0 };
  test(`${RUNS} requests`, async () => {
    await fc.assert(
      fc.asyncProperty(tried, async ({ method, template, holes, body, type }) => {
        let next = 0;
        const path = template
          .replace(/\b(ID|KEY|TRIAL)\b/g, (name) => previous[name as keyof typeof previous])
          .replace(/\bX\b/g, () => inPath(holes[next++]!));
        const hasBody = body !== null && !['GET', 'HEAD', 'OPTIONS'].includes(method);
        const tried: Tried = {
          method,
          path,
          body: hasBody ? body.replaceAll('"KEY"', JSON.stringify(previous.KEY)) : null,
          headers: {
            ...(hasBody && type && { 'content-type': type }),
            ...(hasBody && {
              'content-length': String(
                Buffer.byteLength(body.replaceAll('"KEY"', JSON.stringify(previous.KEY))),
              ),
            }),
          },
        };
        // What the tests stand on is not taken away.
        if (method === 'DELETE' && path === `/api/specimens/${previous.ID}`) return;
        const { status, text: answer, type: answered } = await send(tried);
        counts.sent++;
        assert.ok(status < 500, `${method} ${path}: ${status} ${answer.slice(0, 300)}`);
        if (status < 400) return void counts.done++;
        counts.refused++;
        // A step up leads to a page.
        const isApi = new URL(path, app.url).pathname.startsWith('/api');
        if (method === 'HEAD' || (method === 'GET' && !isApi)) return;
        assert.match(answered, /json/, `${method} ${path}: ${status} ${answer.slice(0, 200)}`);
        const { error, field } = JSON.parse(answer) as { error?: string; field?: string };
        assert.ok(error && field, `${method} ${path}: ${answer.slice(0, 200)}`);
      }),
      { numRuns: RUNS, seed: SEED, includeErrorInReport: true },
    );
    assert.ok(counts.done > RUNS / 50 && counts.refused > RUNS / 3, `too one-sided: ${JSON.stringify(counts)}`);
    assert.equal((await clientOf(app).ask('GET', '/api/health')).status, 200);
    assert.ok(app.said().length < 20_000, 'the log does not grow with what is sent');
  });

  const name = fc.oneof(
    fc.constantFrom(
      'a.html',
      'b/c.css',
      'normetra.json',
      'files/a.html',
      'readings/1.json',
      'x.zip',
      '__proto__',
      'constructor.html',
    ),
    text.filter((value) => value.length < 200),
  );
  const contents = fc.oneof(
    fc
      .constantFrom(
        '<title>x</title><p>y',
        '{"normetra":"specimen/1"}',
        '{"normetra":"specimen/1","name":"n","scripts":"run","entry":"a.html","drawing":null,"readings":[]}',
        '{"normetra":"specimen/1","name":"\\u0000","scripts":"run","entry":"\\ud800","drawing":null,"readings":[],"meant":[{"page":"p","key":"\\u0000","reason":"r"}]}',
        '<title'.repeat(2000),
        '',
      )
      .map((value) => new TextEncoder().encode(value)),
    fc.uint8Array({ maxLength: 200 }),
  );
  const archive = fc
    .dictionary(name, contents, { maxKeys: 6 })
    .map(zipOf)
    .chain((zip) =>
      fc.record({
        zip: fc.constant(zip),
        flips: fc.array(fc.nat({ max: Math.max(0, zip.length - 1) }), { maxLength: 4 }),
        cut: fc.option(fc.nat({ max: zip.length }), { nil: null }),
      }),
    )
    .map(({ zip, flips, cut }) => {
      const out = zip.slice(0, cut ?? zip.length);
      for (const at of flips) if (at < out.length) out[at]! ^= 0x55;
      return out;
    });

  test(`${RUNS / 4} archives and files`, async () => {
    const client = clientOf(app);
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(
          archive.map((zip): [string, Uint8Array][] => [['a.zip', zip]]),
          fc.array(fc.tuple(name, contents), { maxLength: 4 }),
        ),
        async (files) => {
          const before = await client.list();
          const answer = await client.upload(files as [string, Uint8Array][]);
          assert.ok(answer.status < 500, `${answer.status} ${answer.text.slice(0, 300)}`);
          const now = await client.list();
          if (answer.status === 201) {
            const { id } = answer.json<{ id: string }>();
            assert.equal(now.find((entry) => entry.id === id)!.scripts, 'hold', 'an import brings no consent');
            return;
          }
          const { error, field } = answer.json<{ error: string; field: string }>();
          assert.ok(error && field, answer.text.slice(0, 200));
          assert.equal(now.length, before.length, 'what is refused leaves nothing behind');
        },
      ),
      { numRuns: Math.round(RUNS / 4), seed: SEED, includeErrorInReport: true },
    );
  });
});
