/** Each way of bringing a page in, and each refusal, in the real interface. */
import { zipSync } from 'fflate';
import assert from 'node:assert/strict';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { openDesk, pickBySelector, ready, temporaryFolder, type Desk } from '../../support/app.ts';

const text = (value: string): Uint8Array => new TextEncoder().encode(value);
const file = (name: string, content: string | Uint8Array, mimeType = '') => ({
  name,
  mimeType,
  buffer: Buffer.from(content),
});

const PAGE = `<!doctype html><html><head><title>A box</title><link rel="stylesheet" href="css/main.css"></head>
<body><div class="box">box</div><img src="/images/dot.png" alt=""></body></html>`;
const SHEETS = {
  'css/main.css': '@import "parts/deep.css";\n.box { padding: 3px }',
  'css/parts/deep.css': '@import url(deeper.css);\n.box { width: 123px }',
  'css/parts/deeper.css': '.box { margin: 4px; background: url(../../images/dot.png) }',
};
const DOT = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII=',
  'base64',
);
const SITE: Record<string, string | Uint8Array> = { 'index.html': PAGE, ...SHEETS, 'images/dot.png': DOT };

/** A zip whose parts are as told, wrong ones included: fields that a packing library would not write. */
function rawZip(entries: { name: string; data?: string; unix?: number; claimed?: number }[]): Uint8Array {
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const { name, data = '', unix = 0o100644, claimed } of entries) {
    const bytes = Buffer.from(data);
    const path = Buffer.from(name);
    const size = claimed ?? bytes.length;
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    local.writeUInt16LE(20, 4);
    local.writeUInt32LE(size, 18);
    local.writeUInt32LE(size, 22);
    local.writeUInt16LE(path.length, 26);
    parts.push(local, path, bytes);
    const head = Buffer.alloc(46);
    head.writeUInt32LE(0x02014b50, 0);
    head.writeUInt16LE(0x0314, 4);
    head.writeUInt16LE(20, 6);
    head.writeUInt32LE(size, 20);
    head.writeUInt32LE(size, 24);
    head.writeUInt16LE(path.length, 28);
    head.writeUInt32LE((unix << 16) >>> 0, 38);
    head.writeUInt32LE(offset, 42);
    central.push(head, path);
    offset += 30 + path.length + bytes.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...parts, directory, end]);
}

const zip = (files: Record<string, string | Uint8Array>): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries(files).map(([path, content]) => [
        path,
        typeof content === 'string' ? text(content) : content,
      ]),
    ),
  );

describe('bringing a page in', () => {
  let desk: Desk;
  let page: Page;
  before(async () => {
    desk = await openDesk({ NORMETRA_DEMO: 'none' });
    ({ page } = await desk.page());
  });
  after(() => desk.close());

  const count = async () => {
    await page.goto(desk.app.url);
    await page.getByRole('heading', { name: 'Shelf' }).waitFor();
    return page.locator('[data-specimen]').count();
  };
  const isMeasured = async () => {
    await page.waitForURL(/\/bench\//);
    await ready(page);
  };
  const boxIs = async (sentence: string) => {
    await pickBySelector(page, '.box');
    assert.equal(await page.locator('[data-sentence=x]').innerText(), sentence);
  };

  test('an empty Shelf says what to do', async () => {
    assert.equal(await count(), 0);
    await page.getByText('The Shelf is empty.').waitFor();
  });

  test('HTML and CSS pasted', async () => {
    await count();
    await page.getByRole('tab', { name: 'Paste' }).click();
    await page.getByLabel('HTML', { exact: false }).first().fill('<div class="box">pasted</div>');
    await page.getByLabel(/^CSS/).fill('.box { width: 50%; padding: 0 8px; box-sizing: border-box }');
    await page.getByRole('button', { name: 'Measure it' }).click();
    await isMeasured();
    await boxIs('632 wide = 632 border box.');
  });

  test('one file: what is missing is listed with its place, and the page opens', async () => {
    await count();
    await page.locator('[data-bring=files]').setInputFiles([file('page.html', PAGE)]);
    await isMeasured();
    const missing = (await page.locator('[data-missing]').innerText()).replace(/\s+/g, ' ');
    assert.match(missing, /2 missing from the upload/i);
    assert.match(missing, /css\/main\.css style sheet, asked for in page\.html:1/);
    assert.match(missing, /\/images\/dot\.png image, asked for in page\.html:2/);
  });

  const folder = temporaryFolder();
  test('a whole folder: nested imports, images, root-relative addresses', async () => {
    for (const [path, content] of Object.entries(SITE)) {
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), content);
    }
    await count();
    await page.locator('[data-bring=folder]').setInputFiles(folder);
    await isMeasured();
    assert.equal(await page.locator('[data-missing]').count(), 0);
    await boxIs('129 wide = 123 content, 3 + 3 padding.');
    const sum = (await page.locator('[data-sum=x]').innerText()).replace(/\s+/g, ' ');
    assert.match(sum, /width: 123px \.box deep\.css:2/);
    const [bar] = await page.locator('[data-bar=x] title').allTextContents();
    assert.match(bar!, /margin-left: 4 px/);
    rmSync(folder, { recursive: true });
  });

  test('a zip, with and without a folder around everything', async () => {
    for (const prefix of ['', 'site/']) {
      await count();
      const entries = Object.fromEntries(
        Object.entries(SITE).map(([path, content]) => [prefix + path, content]),
      );
      await page
        .locator('[data-bring=files]')
        .setInputFiles([file('site.zip', zip(entries), 'application/zip')]);
      await isMeasured();
      await boxIs('129 wide = 123 content, 3 + 3 padding.');
    }
  });

  test('several files dropped', async () => {
    await count();
    const transfer = await page.evaluateHandle(
      ([html, css]) => {
        const data = new DataTransfer();
        data.items.add(new File([html!], 'drop.html', { type: 'text/html' }));
        data.items.add(new File([css!], 'main.css', { type: 'text/css' }));
        return data;
      },
      [PAGE.replace('css/main.css', 'main.css'), '.box { width: 77px }'],
    );
    await page.dispatchEvent('main', 'drop', { dataTransfer: transfer });
    await isMeasured();
    await boxIs('77 wide = 77 content.');
  });

  test('character sets, base, style elements and attributes', async () => {
    await count();
    const html =
      '<!doctype html><meta charset="windows-1252"><title>café</title><base href="deep/"><link rel=stylesheet href="s.css"><style>\n' +
      '.box { height: 9px }</style><p class="box bé" style="border: 1px solid; padding-left: 2px">x';
    const files = {
      'latin.html': Buffer.from(html, 'latin1'),
      'deep/s.css': Buffer.from('.bé { width: 66px }', 'latin1'),
    };
    await page.locator('[data-bring=files]').setInputFiles([file('latin.zip', zip(files))]);
    await isMeasured();
    assert.equal(await page.getByRole('heading', { level: 1 }).innerText(), 'café');
    await boxIs('70 wide = 66 content, 2 padding, 1 + 1 border.');
    const declared = (await page.locator('[data-account]').innerText()).replace(/\s+/g, ' ');
    assert.match(declared, /height: 9px \.box latin\.html:2/);
    assert.match(declared, /padding-left: 2px style attribute latin\.html:2/);
    assert.equal(await page.locator('[data-missing]').count(), 0);
  });

  test('an exported specimen comes back with its readings', async () => {
    await count();
    await page.locator('[data-specimen] h2 a', { hasText: 'café' }).click();
    await ready(page);
    await page.locator('[data-save]').click();
    await page.keyboard.type('kept');
    await page.keyboard.press('Enter');
    await page.locator('[data-readings]', { hasText: 'kept' }).waitFor();
    await count();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByLabel('Export café as a zip').click(),
    ]);
    const path = await download.path();
    const before = await count();
    await page.locator('[data-bring=files]').setInputFiles(path);
    await isMeasured();
    await page.locator('[data-readings] button', { hasText: 'kept' }).click();
    await page.locator('[role=status]', { hasText: 'saved reading' }).waitFor();
    assert.equal(await count(), before + 1);
  });

  test('changed files make a new revision', async () => {
    await count();
    await page.locator('[data-bring=files]').setInputFiles([file('site.zip', zip(SITE))]);
    await isMeasured();
    await page
      .locator('[data-replace]')
      .setInputFiles([file('deep.css', '@import url(deeper.css);\n.box { width: 321px }')]);
    await page.getByText('Revision 2.').waitFor();
    await ready(page);
    await boxIs('327 wide = 321 content, 3 + 3 padding.');
  });

  const many = Object.fromEntries(Array.from({ length: 5001 }, (_, i) => [`f${i}.txt`, '']));
  const refusals: [string, () => { name: string; mimeType: string; buffer: Buffer }[], RegExp][] = [
    [
      'what is named like a page and is none',
      () => [file('page.html', 'just words')],
      /“page\.html” is named like a page but is not HTML/,
    ],
    [
      'an image',
      () => [file('dot.png', DOT)],
      /There is no HTML page among “dot\.png”\. Add the page's \.html file\./,
    ],
    ['an empty page', () => [file('page.html', '')], /“page\.html” is empty\. Save the page with its content/],
    [
      'a zip that is broken',
      () => [file('a.zip', Buffer.from(zip(SITE)).subarray(0, 150))],
      /“a\.zip” cannot be read as a zip archive[\s\S]*Pack it again/,
    ],
    ['a zip with nothing in it', () => [file('a.zip', zip({}))], /“a” holds no files/],
    [
      'a path that leads out',
      () => [file('a.zip', rawZip([{ name: '../../etc/page.html', data: '<p>' }]))],
      /leads out of it/,
    ],
    [
      'an absolute path',
      () => [file('a.zip', rawZip([{ name: '/etc/page.html', data: '<p>' }]))],
      /leads out of/,
    ],
    [
      'a link',
      () => [file('a.zip', rawZip([{ name: 'page.html', data: '/etc/passwd', unix: 0o120777 }]))],
      /holds a link, “page\.html”/,
    ],
    [
      'a zip that unpacks to too much',
      () => [file('a.zip', rawZip([{ name: 'page.html', data: '<p>', claimed: 300 * 1024 * 1024 }]))],
      /are more than the 200 MB that a specimen may have/,
    ],
    [
      'too many files',
      () => [file('a.zip', zip({ 'page.html': '<p>', ...many }))],
      /more than the 5000 files that a specimen may have/,
    ],
    [
      'one path twice',
      () => [file('page.html', '<p>1'), file('page.html', '<p>2')],
      /“page\.html” was sent twice/,
    ],
  ];
  for (const [what, files, why] of refusals)
    test(`refused: ${what}`, async () => {
      const before = await count();
      await page.locator('[data-bring=files]').setInputFiles(files());
      await page.locator('[data-refused]').waitFor();
      assert.match(await page.locator('[data-refused]').innerText(), why);
      assert.equal(await count(), before);
    });

  test('refused: nothing pasted, and CSS alone', async () => {
    const before = await count();
    await page.getByRole('tab', { name: 'Paste' }).click();
    await page.getByRole('button', { name: 'Measure it' }).click();
    await page.locator('[data-refused]', { hasText: 'nothing in the boxes yet' }).waitFor();
    await page.getByLabel(/^CSS/).fill('p { margin: 0 }');
    await page.getByRole('button', { name: 'Measure it' }).click();
    await page.locator('[data-refused]', { hasText: 'CSS but no HTML' }).waitFor();
    assert.equal(await count(), before);
  });
});
