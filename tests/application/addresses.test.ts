/** Pages at addresses: what is asked of their servers, word for word, and what is refused. */
import assert from 'node:assert/strict';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { after, before, beforeEach, describe, test } from 'node:test';
import { openPage } from '../../src/lib/server/engines/source.ts';
import { run } from '../support/command.ts';

const HTML = { 'content-type': 'text/html' };

const VITE = `<!doctype html><title>App</title><script type="module" src="/@vite/client"></script>
<script type="module" src="/src/main.js?t=1"></script><link rel=stylesheet href="/style.css?v=2"><div id=app></div>`;

type Answer = (req: IncomingMessage, res: ServerResponse) => void;
const PATHS: Record<string, Answer> = {
  '/': (_, res) => res.writeHead(200, HTML).end('<!doctype html><title>Root</title><p>x'),
  '/app?mode=dev': (_, res) => res.writeHead(200, HTML).end(VITE),
  '/@vite/client': (_, res) =>
    res.writeHead(200, { 'content-type': 'text/javascript' }).end('document.title += " client"'),
  '/src/main.js?t=1': (_, res) =>
    res
      .writeHead(200, { 'content-type': 'text/javascript' })
      .end('document.getElementById("app").textContent = "made"; throw new Error("at the end")'),
  '/style.css?v=2': (_, res) => res.writeHead(200, { 'content-type': 'text/css' }).end('#app { width: 123px }'),
  '/old': (_, res) => res.writeHead(302, { location: '/' }).end(),
  '/round': (_, res) => res.writeHead(302, { location: '/round' }).end(),
  '/to-metadata': (_, res) => res.writeHead(302, { location: 'http://169.254.169.254/latest' }).end(),
  '/to-mapped': (_, res) => res.writeHead(302, { location: 'http://[::ffff:169.254.169.254]/' }).end(),
  '/to-file': (_, res) => res.writeHead(302, { location: 'file:///etc/passwd' }).end(),
  '/pdf': (_, res) => res.writeHead(200, { 'content-type': 'application/pdf' }).end('%PDF-1.7 <p>'),
  '/lying-pdf': (_, res) => res.writeHead(200, HTML).end('%PDF-1.7 <p>'),
  '/json': (_, res) => res.writeHead(200, { 'content-type': 'application/json' }).end('{"a":"<p>"}'),
  '/lying-json': (_, res) => res.writeHead(200, HTML).end('{"a":"<p>"}'),
  '/xml': (_, res) =>
    res.writeHead(200, { 'content-type': 'application/xml' }).end('<?xml version="1.0"?><a/>'),
  '/bytes': (_, res) => res.writeHead(200, HTML).end(Buffer.from([1, 2, 3, 0x3c, 0x70, 0x3e, 0, 7])),
  '/mhtml': (_, res) =>
    res
      .writeHead(200, { 'content-type': 'multipart/related' })
      .end('MIME-Version: 1.0\nContent-Type: multipart/related; boundary=b\n\n--b\n<p>'),
  '/subresources': (_, res) =>
    res
      .writeHead(200, HTML)
      .end('<!doctype html><title>S</title><link rel=stylesheet href=/leads.css><img src=/leads.png><p>x'),
  '/leads.css': (req, res) =>
    res.writeHead(302, { location: `http://localhost:${req.socket.localPort ?? 0}/elsewhere.css` }).end(),
  '/leads.png': (_, res) => res.writeHead(302, { location: 'http://169.254.169.254/x.png' }).end(),
};

describe('pages at addresses', () => {
  let server: Server;
  let asked: string[] = [];
  let base = '';
  before(async () => {
    server = createServer((req, res) => {
      asked.push(`${req.headers.host?.split(':')[0]}${req.url}`);
      const answer = PATHS[req.url ?? ''];
      if (answer) answer(req, res);
      else res.writeHead(404).end();
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  beforeEach(() => (asked = []));
  after(() => {
    server.closeAllConnections();
    server.close();
  });

  test('paths and queries go through unchanged, and scripts that fail are told', async () => {
    const { code, out, err } = await run('find', `${base}/app?mode=dev`, '--scripts', 'run', '--json');
    assert.equal(code, 0, err);
    for (const path of ['/app?mode=dev', '/@vite/client', '/src/main.js?t=1', '/style.css?v=2'])
      assert.ok(asked.includes(`127.0.0.1${path}`), `${path} among ${asked.join(', ')}`);
    const { scripts } = JSON.parse(out) as {
      scripts: { mode: string; failed: { why: string; line: number }[] };
    };
    assert.equal(scripts.mode, 'run');
    assert.ok(
      scripts.failed.some(({ why }) => /at the end/.test(why)),
      JSON.stringify(scripts),
    );
  });

  test('a page that is empty without its scripts says so', async () => {
    const { out } = await run('find', `${base}/app?mode=dev`);
    assert.match(out, /Nothing can be seen on the page without its scripts.*--scripts run lets them run/);
    const { err } = await run('read', `${base}/app?mode=dev`);
    assert.match(err, /Nothing can be seen on the page without its scripts/);
  });

  test('where an address leads is told', async () => {
    assert.deepEqual((await openPage(`${base}/old`, null)).redirected, { from: `${base}/old`, to: `${base}/` });
    const { out } = await run('find', `${base}/old`);
    assert.match(out, /\/old leads to .*: that is what was measured/);
  });

  test('what a page asks for does not lead elsewhere: no request is sent there', async () => {
    const source = await openPage(`${base}/subresources`, null);
    assert.equal(await source.file('leads.css', 'leads.css'), null);
    assert.equal(await source.file('leads.png', 'leads.png'), null);
    assert.deepEqual(
      asked.filter((text) => !text.startsWith('127.0.0.1')),
      [],
    );
  });

  const REFUSED: [string, () => string, RegExp][] = [
    [
      'a redirect to a metadata service',
      () => `${base}/to-metadata`,
      /is at 169\.254\.169\.254, a link-local or special address/,
    ],
    ['the same, mapped into IPv6', () => `${base}/to-mapped`, /link-local or special address/],
    [
      'an address of that kind itself',
      () => 'http://[::ffff:169.254.169.254]/',
      /link-local or special address/,
    ],
    ['one in other numerals', () => 'http://0xa9fea9fe/', /link-local or special address/],
    ['a redirect to a file', () => `${base}/to-file`, /file:\/\/ is not fetched/],
    ['a redirect without end', () => `${base}/round`, /redirects without end/],
    [
      'a page that is not there',
      () => `${base}/none`,
      /There is no page at .*\/none: its server answers with 404/,
    ],
    ['a PDF', () => `${base}/pdf`, /is a PDF document, not an HTML page/],
    ['a PDF that says it is HTML', () => `${base}/lying-pdf`, /is a PDF document/],
    ['JSON', () => `${base}/json`, /is JSON/],
    ['JSON that says it is HTML', () => `${base}/lying-json`, /is JSON/],
    ['XML', () => `${base}/xml`, /is XML/],
    ['bytes', () => `${base}/bytes`, /bytes that are no text/],
    ['a saved page', () => `${base}/mhtml`, /is a saved page in MHTML/],
    [
      'a port where nothing listens',
      () => 'http://127.0.0.1:48917/',
      /could not be fetched: nothing listens there/,
    ],
    ['a name that is unknown', () => 'http://nowhere.invalid/', /the name of its host/],
    ['what is no address', () => 'http://', /is no address/],
    ['another scheme', () => 'ftp://127.0.0.1/x', /ftp:\/\/ is not fetched/],
  ];
  for (const [name, address, why] of REFUSED)
    test(`refused: ${name}`, () => assert.rejects(openPage(address(), null), why));
});
