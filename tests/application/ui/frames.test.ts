/** Frames within a page: what is in those of the specimen is listed, explained by its own sheets, and drawn in its place. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { openDesk, ready, type Desk } from '../../support/app.ts';

const PAGE = `<!doctype html><html><head><title>Outer</title><style>body { margin: 0 } iframe { border: 5px solid; padding: 2px; display: block; margin-left: 100px } p { width: 300px }</style></head>
<body><p>outer</p><iframe src="inner/page.html" width="400" height="120"></iframe><iframe width="200" height="60" srcdoc="<style>b { display: block; width: 44px }</style><b>in a srcdoc</b>"></iframe><iframe src="http://elsewhere.invalid/" width="90" height="30"></iframe></body></html>`;
const INNER = `<!doctype html><link rel="stylesheet" href="inner.css"><style>body { margin: 10px }</style><p class="note">inner</p><iframe width="80" height="20" srcdoc="<i style='display:block;width:33px'>deep</i>"></iframe>`;
const CSS = '@media (max-width: 500px) { .note { width: 70px; padding-left: 6px } }\np { margin: 0 }';

describe('frames', () => {
  let desk: Desk;
  let page: Page;
  before(async () => {
    desk = await openDesk({ NORMETRA_DEMO: 'none' });
    ({ page } = await desk.page());
    await page.goto(desk.app.url);
    const file = (name: string, text: string) => ({ name, mimeType: '', buffer: Buffer.from(text) });
    const { zipSync, strToU8 } = await import('fflate');
    const zip = Buffer.from(
      zipSync({
        'outer.html': strToU8(PAGE),
        'inner/page.html': strToU8(INNER),
        'inner/inner.css': strToU8(CSS),
      }),
    );
    await page.locator('[data-bring=files]').setInputFiles([{ ...file('site.zip', ''), buffer: zip }]);
    await page.waitForURL(/bench/);
    await ready(page);
  });
  after(() => desk.close());

  const at = async (x: number, y: number): Promise<string> => {
    const glass = (await page.locator('[data-glass]').boundingBox())!;
    const zoom = glass.width / 1280;
    await page.mouse.click(glass.x + x * zoom, glass.y + y * zoom);
    await page.locator('[data-account]').waitFor();
    return (await page.locator('[data-path]').innerText()).trim();
  };

  test('a box in a frame is picked where it is drawn, and explained by its own document’s sheets', async () => {
    // The outer paragraph with its margins is 50 or so tall; the first frame begins below it.
    const top = Number((await page.locator('[data-facts]').innerText()).length > 0 && 50);
    const path = await at(100 + 7 + 10 + 20, top + 7 + 10 + 8);
    assert.equal(path, 'body > iframe:nth-child(2) >>> html > body > p');
    assert.equal(await page.locator('[data-sentence=x]').innerText(), '76 wide = 70 content, 6 padding.');
    assert.match(
      (await page.locator('[data-sum=x]').innerText()).replace(/\s+/g, ' '),
      /width: 70px \.note inner\.css:1/,
    );
    await page.locator('[data-sum=x] [data-source="inner/inner.css:1"]').first().hover();
    await page.locator('[data-lit]').waitFor();
    assert.equal(await page.locator('[data-lit]').count(), 1);
    const kin = (await page.locator('[data-account]').innerText()).replace(/\s+/g, ' ');
    assert.match(kin, /html root .* body block .* iframe replaced, block/);
  });

  test('the link to a box in a frame brings it back', async () => {
    await page.reload();
    await ready(page);
    assert.equal(await page.locator('[data-account]').getAttribute('data-account'), 'p.note');
  });

  test('walking goes in and out of a frame; a srcdoc has its inside, another’s page has not', async () => {
    await page.locator('[data-stage]').focus();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowUp');
    await page.locator('[data-account="iframe"]').waitFor();
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction(
      () => document.querySelector('[data-path]')?.textContent?.trim() === 'body > iframe:nth-child(3)',
    );
    await page.keyboard.press('ArrowDown');
    await page.locator('[data-account="html"]').waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowDown');
    await page.locator('[data-account="b"]').waitFor();
    assert.equal(await page.locator('[data-sentence=x]').innerText(), '44 wide = 44 content.');
    const facts = await page.locator('[data-facts]').innerText();
    assert.match(facts, /Not looked into: iframe, a frame with a document of its own/);
    assert.equal(facts.match(/Not looked into/g)!.length, 1);
  });

  test('frames in frames', async () => {
    const url = new URL(page.url());
    url.searchParams.set('pick', 'body > iframe:nth-child(2) >>> html > body > iframe >>> html > body > i');
    await page.goto(url.href);
    await ready(page);
    await page.locator('[data-account="i"]').waitFor();
    assert.equal(await page.locator('[data-sentence=x]').innerText(), '33 wide = 33 content.');
  });
});
