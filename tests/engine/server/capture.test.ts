/** Captures against the live pages that they were taken of: every box where it was, and nothing fetched that was not meant. */
import assert from 'node:assert/strict';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { after, before, describe, test } from 'node:test';
import { launch } from '../../../src/lib/server/engines/drivers/chromium.ts';
import { openHeadless, type Headless } from '../../../src/lib/server/engines/headless.ts';
import { openLivePage, type Captured } from '../../../src/lib/server/capture/live-page.ts';
import { typeOf } from '../../../src/lib/server/ingest/paths.ts';
import type { Browser } from 'playwright-core';

const VIEW = { width: 1000, height: 700 };

type Answer = string | { type: string; body: string } | { location: string };
const css = (body: string): Answer => ({ type: 'text/css', body });
const picture = (width: number, height: number): Answer => ({
  type: 'image/svg+xml',
  body: `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="9" height="9"/></svg>`,
});
const page = (head: string, body: string): string =>
  `<!doctype html><html><head><title>Live</title>${head}</head><body>${body}</body></html>`;

/** Pages by what there is to them, each with the files of its server; OTHER stands for the host of another server. */
const PAGES: Record<string, Record<string, Answer>> = {
  'a page without scripts': {
    '/': page('<link rel="stylesheet" href="a.css">', '<p class="a">text</p><img src="/p.svg">'),
    '/a.css': css('.a { padding: 3px; background: url(p.svg) }'),
    '/p.svg': picture(33, 21),
  },
  'elements made by scripts': {
    '/': page(
      '<style>li { padding: 4px }</style>',
      '<ul></ul><script>for (let i = 0; i < 9; i++) document.querySelector("ul").append(Object.assign(document.createElement("li"), { textContent: "item " + i }));</script>',
    ),
  },
  'rules made by scripts': {
    '/': page(
      '',
      `<p class="x">text</p><script>const s = document.head.appendChild(document.createElement('style')); s.sheet.insertRule('.x { margin: 31px; width: 40% }');
const t = new CSSStyleSheet(); t.replaceSync('body { padding-left: 17px }'); document.adoptedStyleSheets = [t];</script>`,
    ),
  },
  'open and closed shadow roots': {
    '/': page(
      '<style>:not(:defined) { display: none } x-b { margin: 3px }</style>',
      `<x-a>slotted</x-a><x-b></x-b><script>for (const [name, mode] of [['x-a', 'open'], ['x-b', 'closed']]) customElements.define(name, class extends HTMLElement { constructor() { super();
const root = this.attachShadow({ mode }); root.innerHTML = '<style>p { padding: 11px } :host { display: block }</style><p>inside <slot></slot></p>'; const s = new CSSStyleSheet(); s.replaceSync('p { border: 2px solid }'); root.adoptedStyleSheets = [s]; } });</script>`,
    ),
  },
  'forms filled in': {
    '/': page(
      '<style>:checked + label { padding: 9px } input:placeholder-shown { width: 300px } details[open] { margin: 5px }</style>',
      `<input id="i" placeholder="name"><input type="checkbox" id="c"><label for="c">on</label><textarea id="t"></textarea><select id="s"><option>one<option>a much longer one</select><details><summary>more</summary>inside</details>
<script>i.value = 'typed'; c.checked = true; t.value = 'two\\nlines'; s.value = 'a much longer one'; document.querySelector('details').open = true;</script>`,
    ),
  },
  'a dialog, a popover and what is scrolled': {
    '/': page(
      '<style>dialog { width: 300px } #s { height: 60px; overflow: auto } #s div { height: 400px } ::backdrop { background: red }</style>',
      '<div id="s"><div>tall</div></div><dialog id="d"><button>ok</button></dialog><div popover id="p">over</div><script>s.scrollTop = 77; d.showModal(); p.showPopover();</script>',
    ),
  },
  'canvas and pictures that come late': {
    '/': page(
      '',
      `<canvas id="c" width="120" height="40"></canvas><div style="height: 3000px"></div><img loading="lazy" src="/p.svg?n=1"><img src="/p.svg?n=22"><script>c.getContext('2d').fillRect(0, 0, 60, 40);</script>`,
    ),
    '/p.svg?n=1': picture(44, 20),
    '/p.svg?n=22': picture(88, 50),
  },
  'sheets and fonts of another host': {
    '/': page('<link rel="stylesheet" href="OTHER/deep/c.css?v=3">', '<p class="c">text</p>'),
    '/deep/c.css?v=3': css('@import "/more.css"; .c { padding: 6px }'),
    '/more.css': css('.c { width: 222px }'),
  },
  'addresses without endings, and redirects': {
    '/': page(
      '<link rel="stylesheet" href="/style?theme=day"><link rel="stylesheet" href="/old.css">',
      '<p class="c">text</p><img src="/picture">',
    ),
    '/style?theme=day': css('.c { padding: 13px }'),
    '/old.css': { location: '/new/place.css' },
    '/new/place.css': css('@import "./part.css";'),
    '/new/part.css': css('.c { margin: 21px }'),
    '/picture': picture(70, 30),
  },
  'frames, written and addressed': {
    '/': page(
      '',
      '<iframe src="/inner/page.html" width="400"></iframe><iframe srcdoc="<p>by hand</p><script>document.body.append(\'script\')</script>"></iframe>',
    ),
    '/inner/page.html': page(
      '<link rel="stylesheet" href="i.css">',
      '<p>inner</p><script>document.body.append("made")</script>',
    ),
    '/inner/i.css': css('p { margin: 40px }'),
  },
  'a base, and right to left': {
    '/': `<!doctype html><html dir="rtl"><head><base href="/deep/"><link rel="stylesheet" href="a.css"></head><body><p>text</p><img src="p.svg"></body></html>`,
    '/deep/a.css': css('p { padding-inline-start: 70px } img { margin: 5px }'),
    '/deep/p.svg': picture(60, 60),
  },
  'text that markup must escape': {
    '/': page(
      '<style>.q::before { content: "<b>&amp;" }</style>',
      `<pre>\n\nlines</pre><p class="q" title='a "quoted" <b>'></p><script>document.querySelector('p').textContent = 'a < b && c > d \\u00a0 é';
document.body.insertAdjacentHTML('beforeend', '<svg width="30" height="20" viewBox="0 0 3 2"><linearGradient id="g"/><rect width="3" height="2"/></svg><template><p>not shown</p></template>')</script>`,
    ),
  },
};

let servers: Server[] = [];
let headless: Headless;
let browser: Browser;

async function serve(files: Record<string, Answer>, asked: string[] = []): Promise<string> {
  let other = '';
  const server = createServer((request, response) => {
    asked.push(request.url!);
    const answer = files[request.url!];
    response.setHeader('access-control-allow-origin', '*');
    if (answer === undefined) return response.writeHead(404).end();
    if (typeof answer !== 'string' && 'location' in answer)
      return response.writeHead(302, { location: answer.location }).end();
    response.setHeader('content-type', typeof answer === 'string' ? 'text/html; charset=utf-8' : answer.type);
    response.end((typeof answer === 'string' ? answer : answer.body).replaceAll('OTHER', other));
  });
  servers.push(server);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  // The same server under another name is another host to the page.
  other = `http://localhost:${port}`;
  return `http://127.0.0.1:${port}/`;
}

async function capture(address: string, also: string[] = []): Promise<Captured> {
  const live = await openLivePage({
    address: new URL(address),
    width: VIEW.width,
    height: VIEW.height,
    steps: [],
    cookies: [],
    credentials: null,
    also: also.map((host) => new URL(host)),
  });
  try {
    return await live.freeze();
  } finally {
    await live.close();
  }
}

/** The boxes of a live page, shadow trees before the children of their hosts; closed shadow roots are opened for it. */
async function liveBoxes(address: string): Promise<[string, number, number, number, number][]> {
  const open = await browser.newPage({ viewport: VIEW });
  try {
    await open.addInitScript(() => {
      const attach = Element.prototype.attachShadow;
      Element.prototype.attachShadow = function (init) {
        return attach.call(this, { ...init, mode: 'open' });
      };
    });
    await open.goto(address);
    await open.evaluate(() => {
      for (const image of document.querySelectorAll('img')) image.loading = 'eager';
    });
    await open.waitForTimeout(500);
    return await open.evaluate(() => {
      const out: [string, number, number, number, number][] = [];
      const stack: (Element | ShadowRoot)[] = [document.documentElement];
      for (let node = stack.pop(); node; node = stack.pop()) {
        stack.push(...Array.from(node.children).reverse());
        if (!(node instanceof Element)) continue;
        const { x, y, width, height } = node.getBoundingClientRect();
        out.push([node.localName, x + scrollX, y + scrollY, width, height]);
        if (node.shadowRoot) stack.push(node.shadowRoot);
      }
      return out;
    });
  } finally {
    await open.close();
  }
}

describe('a capture', () => {
  before(async () => {
    [headless, browser] = await Promise.all([openHeadless(), launch()]);
  });
  after(async () => {
    await Promise.all([headless.close(), browser.close()]);
    for (const server of servers) {
      server.closeAllConnections();
      server.close();
    }
    servers = [];
  });

  for (const [what, files] of Object.entries(PAGES))
    test(`has every box where the live page has it: ${what}`, async () => {
      const address = await serve(files);
      const other = address.replace('127.0.0.1', 'localhost');
      const { files: taken, entry, left } = await capture(address, [other]);
      assert.deepEqual(left, []);
      const opened = await headless.open(
        taken.map((file) => ({ ...file, type: typeOf(file.path) })),
        entry,
        VIEW,
      );
      try {
        const { reading } = await opened.measure();
        // What adopted sheets say stands in style elements of the capture, which have no boxes.
        const shown = ([tag]: readonly [string, ...number[]]): boolean => tag !== 'style';
        const boxes = Array.from(
          { length: reading.count },
          (_, i): [string, number, number, number, number] => {
            const [x, y, width, height] = reading.rects.subarray(i * 4, i * 4 + 4);
            return [reading.strings[reading.tag[i]!]!, x!, y!, width!, height!];
          },
        ).filter(shown);
        const live = (await liveBoxes(address)).filter(shown);
        assert.deepEqual(
          boxes.map(([tag]) => tag),
          live.map(([tag]) => tag),
        );
        for (const [i, [tag, ...numbers]] of live.entries())
          for (const [n, number] of numbers.entries()) {
            const here = boxes[i]![n + 1] as number;
            assert.ok(Math.abs(here - number) < 0.05, `${tag} (${i}): ${here} for ${number}`);
          }
      } finally {
        await opened.close();
      }
    });

  test('is taken again of the page to which steps have led, without doing them again', async () => {
    const address = await serve({
      '/': page('', '<form action="/in"><input name="as" value="mate"><button>Sign in</button></form>'),
      '/in?as=mate': page('', '<p class="in">in</p>'),
    });
    const live = await openLivePage({
      address: new URL(address),
      ...VIEW,
      steps: ['click button', 'wait .in'],
      cookies: [],
      credentials: null,
      also: [],
    });
    try {
      for (let i = 0; i < 2; i++) assert.equal((await live.freeze()).url, `${address}in?as=mate`);
    } finally {
      await live.close();
    }
  });

  test('of a page without scripts holds the texts as they were served', async () => {
    const files = PAGES['a page without scripts']!;
    const { files: taken } = await capture(await serve(files));
    const text = (path: string): string =>
      new TextDecoder().decode(taken.find((file) => file.path === path)!.bytes);
    assert.equal(text('index.html'), files['/']);
    assert.equal(text('a.css'), (files['/a.css'] as { body: string }).body);
  });

  test('fetches nothing of this machine that was not named, and says so', async () => {
    const secret: string[] = [];
    const hidden = await serve({ '/secret.css': css('p {}'), '/secret.svg': picture(1, 1) }, secret);
    const address = await serve({
      '/': page(
        `<link rel="stylesheet" href="${hidden}secret.css"><link rel="preconnect" href="${hidden}">`,
        `<img src="/away"><iframe src="${hidden}secret.svg"></iframe><script>fetch('${hidden}secret.css').catch(() => 0); new WebSocket('${hidden.replace('http', 'ws')}'); navigator.sendBeacon('${hidden}secret.svg');</script>`,
      ),
      '/away': { location: `${hidden}secret.svg` },
    });
    const { left } = await capture(address);
    assert.deepEqual(secret, []);
    assert.ok(
      left.some((sentence) =>
        sentence.includes(`${new URL(hidden).host} is at a loopback address that was not named`),
      ),
      left.join('\n'),
    );
  });
});
