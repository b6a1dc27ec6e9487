/** The page of a dev server: taken as its scripts have made it, followed as it is hot-updated, with what a visitor must do first. */
import assert from 'node:assert/strict';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { createServer as createVite, type ViteDevServer } from 'vite';
import { run } from '../../support/command.ts';
import { openDesk, pickBySelector, ready, temporaryFolder, until, type Desk } from '../../support/app.ts';

let desk: Desk;
let root: string;
let vite: ViteDevServer;
let address: string;

before(async () => {
  desk = await openDesk({ NORMETRA_DEMO: 'none' });
  root = temporaryFolder();
  mkdirSync(join(root, 'src'));
  writeFileSync(
    join(root, 'index.html'),
    '<!doctype html><html><head><title>Crew board</title></head><body><div id="app"></div><script type="module" src="/src/main.js"></script></body></html>',
  );
  writeFileSync(
    join(root, 'src/main.js'),
    `import './style.css';
document.querySelector('#app').innerHTML = '<h1 class="title">Crew board</h1><ul class="crew">' +
  ['Mate', 'Deckhand', 'Engineer'].map((name) => '<li class="card">' + name + '</li>').join('') + '</ul>';`,
  );
  writeFileSync(
    join(root, 'src/style.css'),
    '.crew { display: flex; gap: 12px; padding: 0 }\n.card { flex: none; width: 300px }\n',
  );
  vite = await createVite({
    root,
    configFile: false,
    logLevel: 'silent',
    server: { host: '127.0.0.1', port: 0 },
  });
  await vite.listen();
  address = `http://127.0.0.1:${(vite.httpServer!.address() as AddressInfo).port}/`;
});
after(async () => {
  await vite.close();
  await desk.close();
  rmSync(root, { recursive: true, force: true });
});

async function openOnBench(page: Page, place: string): Promise<void> {
  await page.goto(desk.app.url);
  await page.getByRole('tab', { name: 'Live page' }).click();
  await page.locator('[data-place]').fill(place);
  await page.locator('[data-place]').press('Enter');
  await page.locator('[data-origin]').waitFor();
  await ready(page);
}

const revisionOf = async (page: Page): Promise<number> =>
  Number((await page.locator('[data-origin-revision]').innerText()).replace(/\D+/g, ''));

describe('a dev server', () => {
  test('its page is measured as scripts have made it, and again after a hot update', async () => {
    const { page, errors } = await desk.page();
    await openOnBench(page, address);
    await pickBySelector(page, '.card:nth-child(2)');
    assert.match(await page.locator('[data-account]').innerText(), /300/);
    const number = await revisionOf(page);
    const style = join(root, 'src/style.css');
    writeFileSync(style, readFileSync(style, 'utf8').replace('300px', '417px'));
    await until(
      () => revisionOf(page),
      (now) => now > number,
    );
    await page.locator('[data-since]').waitFor();
    await ready(page);
    assert.match(await page.locator('[data-account]').innerText(), /417/);
    assert.match(await page.locator('[data-since]').innerText(), /boxes: .*resized/);
    // What a trial says of it is said of the page as it stands; its files are elsewhere.
    await page.locator('[data-mute]').first().click();
    await page.locator('[data-edit-row]').waitFor();
    await page.locator('[data-part=home]').click();
    await page.locator('[data-diff]').waitFor();
    assert.equal(await page.locator('[data-write]').count(), 0);
    await page.locator('[data-take-again]').click();
    await page.locator('[data-take-again]:enabled').waitFor();
    await ready(page);
    assert.deepEqual(errors, []);
    await desk.clear();
  });

  test('a server that has gone is said, and the last state stays', async () => {
    const { page } = await desk.page();
    const other: Server = createServer((_request, response) => {
      response.setHeader('content-type', 'text/html');
      response.end('<!doctype html><title>Short</title><p>here for a while');
    });
    await new Promise<void>((done) => other.listen(0, '127.0.0.1', done));
    await openOnBench(page, `http://127.0.0.1:${(other.address() as AddressInfo).port}/`);
    other.closeAllConnections();
    await new Promise((done) => other.close(done));
    await page.locator('[data-take-again]').click();
    await page
      .getByText(/could not be opened: nothing answers there/)
      .first()
      .waitFor();
    assert.ok((await page.locator('[data-facts]').innerText()).includes('boxes'));
    await desk.clear();
  });
});

describe('normetra capture', () => {
  /** A site with a login and a session, and a menu that a script opens. */
  const site = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://site.invalid');
    response.setHeader('content-type', 'text/html; charset=utf-8');
    const isIn = (request.headers.cookie ?? '').includes('session=crew');
    if (pathname === '/login') {
      response.setHeader('set-cookie', 'session=crew; HttpOnly');
      response.writeHead(303, { location: '/' });
      return response.end();
    }
    if (pathname === '/guarded' && request.headers.authorization !== `Basic ${btoa('mate:rope')}`) {
      response.writeHead(401, { 'www-authenticate': 'Basic realm="crew"' });
      return response.end();
    }
    if (!isIn && pathname === '/')
      return response.end(
        '<!doctype html><title>In</title><form action="/login"><button>Sign in</button></form>',
      );
    response.end(`<!doctype html><title>Roster</title><button class="menu" onclick="document.querySelector('nav').hidden = false">Menu</button>
<nav hidden style="width: 234px"><a href="/">Watch</a></nav><input name="who">`);
  });
  let base: string;
  before(async () => {
    await new Promise<void>((done) => site.listen(0, '127.0.0.1', done));
    base = `http://127.0.0.1:${(site.address() as AddressInfo).port}`;
  });
  after(() => {
    site.closeAllConnections();
    site.close();
  });

  /** The text of a box of a page that was captured under `options`. */
  async function captured(path: string, options: string[], selector: string): Promise<string> {
    const file = join(root, 'captured.zip');
    const taken = await run('capture', base + path, '--out', file, ...options);
    assert.equal(taken.code, 0, taken.err);
    const read = await run('read', file, '--select', selector);
    assert.equal(read.code, 0, read.err);
    return read.out;
  }

  test('does what a visitor must do first', async () => {
    const out = await captured(
      '/',
      ['--do', 'click form button', '--do', 'wait .menu', '--do', 'click .menu'],
      'nav',
    );
    assert.match(out, /234/);
  });

  test('takes cookies of a visit, as both formats have them', async () => {
    const lines = join(root, 'cookies.txt');
    writeFileSync(lines, `# Netscape HTTP Cookie File\n127.0.0.1\tFALSE\t/\tFALSE\t0\tsession\tcrew\n`);
    const state = join(root, 'state.json');
    writeFileSync(
      state,
      JSON.stringify({ cookies: [{ name: 'session', value: 'crew', domain: '127.0.0.1' }], origins: [] }),
    );
    for (const file of [lines, state])
      assert.match(await captured('/', ['--cookies', file, '--do', 'fill input = mate'], 'input'), /input/);
  });

  test('tells the page’s own server a name and a password', async () => {
    assert.match(await captured('/guarded', ['--user', 'mate:rope', '--do', 'click .menu'], 'nav'), /234/);
  });

  test('refuses with a sentence what it cannot do', async () => {
    const odd = join(root, 'odd.txt');
    writeFileSync(odd, 'session crew');
    for (const [args, why] of [
      [[`${base}/guarded`], /asks for a name and a password/],
      [[`${base}/`, '--do', 'jump .menu'], /“jump \.menu” is no step\. Steps are:/],
      [[`${base}/`, '--do', 'press'], /is no step/],
      [[`${base}/`, '--cookies', odd], /line 1 has 1 fields/],
      [[`${base}/`, '--user', 'mate'], /NAME:PASSWORD/],
      [['http://169.254.169.254/'], /is at a link-local or special address/],
      [['ftp://host.invalid/'], /ftp:\/\/ is not opened/],
      [['page.html'], /Name the address of one page/],
    ] as const) {
      const { code, err } = await run('capture', ...args, '--out', join(root, 'none.zip'));
      assert.equal(code, 2, `${args.join(' ')}: ${err}`);
      assert.match(err, why);
    }
  });
});
