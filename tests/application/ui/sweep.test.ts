/** The Sweep, devices and default styles in the real interface. */
import assert from 'node:assert/strict';
import { after, afterEach, before, describe, test } from 'node:test';
import { openBench, openDesk, pickBySelector, ready, type Desk } from '../../support/app.ts';

/** The database in which this version keeps sweeps (src/lib/ui/sweep/store.ts). */
const SWEEPS = 'normetra-sweeps-2';

/** In a page: puts as many sweeps where the browser keeps them, `other 00` the last of them. */
const keepOthers = `(count) => new Promise((done, fail) => {
  const opening = indexedDB.open('${SWEEPS}');
  opening.onupgradeneeded = () => opening.result.createObjectStore('sweeps');
  opening.onerror = () => fail(opening.error);
  opening.onsuccess = () => {
    const change = opening.result.transaction('sweeps', 'readwrite');
    const names = Array.from({ length: count }, (_, i) => 'other ' + String(i).padStart(2, '0'));
    for (const name of names) change.objectStore('sweeps').put({}, name);
    change.objectStore('sweeps').put(names, 'names');
    change.oncomplete = () => { opening.result.close(); done(); };
  };
})`;

/** In a page: the names of what is kept, in the order of the alphabet. */
const keptNames = `new Promise((done, fail) => {
  const opening = indexedDB.open('${SWEEPS}');
  opening.onerror = () => fail(opening.error);
  opening.onsuccess = () => {
    const asked = opening.result.transaction('sweeps').objectStore('sweeps').getAllKeys();
    asked.onsuccess = () => { opening.result.close(); done(asked.result); };
  };
})`;

describe('across widths and default styles', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  test('a sweep from the Bench, its bands, and from the end of a band back to the Bench there', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'timetable', '?w=1280');
    await ready(page);
    await page.keyboard.press('w');
    await page.locator('[data-bands]').getByText('trouble band').waitFor({ timeout: 400_000 });
    await page.getByRole('navigation', { name: 'Views' }).getByText('Sweep').click();
    await page.locator('[data-band=overflow]').first().waitFor();
    const last = Number(
      await page.locator('[data-band=overflow] [data-last]').first().getAttribute('data-last'),
    );
    assert.match(await page.getByText('Scrolls sideways at').first().innerText(), new RegExp(`240–${last} px`));
    assert.ok((await page.locator('[data-flip]').count()) > 5);
    await page.locator('[data-strip] button').first().waitFor();
    await page.getByLabel('Selector of the box').fill('table');
    await page.getByRole('button', { name: 'Add' }).click();
    await page.getByText('The width of table.timetable').waitFor();
    const label = () => page.locator('[data-course] text').first().getAttribute('fill');
    const byDay = await label();
    await page.getByRole('button', { name: 'Change to the night theme' }).click();
    await page.waitForFunction(
      (fill) => document.querySelector('[data-course] text')?.getAttribute('fill') !== fill,
      byDay,
    );
    await page.getByRole('button', { name: 'Change to the day theme' }).click();
    await page.locator('[data-band=overflow] [data-last]').first().click();
    await page.waitForURL(/\/bench\//);
    await ready(page);
    // The frame in which the sweep measured may still be there, at another width.
    const overflow = async (width: number) => {
      const frames = page.frames().filter((frame) => frame.url().includes('timetable.html'));
      const all = await Promise.all(
        frames.map((frame) =>
          frame
            .evaluate(
              '[innerWidth, document.scrollingElement.scrollWidth - document.scrollingElement.clientWidth]',
            )
            // One that nobody sees may be taken away while it is asked.
            .catch(() => [-1, -1]),
        ),
      );
      return (all as number[][]).find(([own]) => own === width)?.[1];
    };
    assert.equal(await overflow(last), 1);
    await page.keyboard.press('.');
    await page.waitForFunction(
      (width) => new URL(location.href).searchParams.get('w') === String(width),
      last + 1,
    );
    await ready(page);
    assert.equal(await overflow(last + 1), 0);
    assert.deepEqual(errors, []);
  });

  test('a sweep is there again after the page is loaded anew, until it is made again', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    await ready(page);
    await page.evaluate(`(${keepOthers})(12)`);
    await page.getByRole('navigation', { name: 'Views' }).getByText('Sweep').click();
    const status = page.locator('[data-status=done]');
    await status.waitFor({ timeout: 400_000 });
    const kept = await page.evaluate<string[]>(keptNames);
    assert.deepEqual(
      kept.filter((name) => name.startsWith('other')),
      Array.from({ length: 11 }, (_, i) => `other ${String(i).padStart(2, '0')}`),
      'twelve are kept, the last ones',
    );
    const reported = async () => [
      await page.locator('[data-flip]').allInnerTexts(),
      await page.locator('[data-band]').allInnerTexts(),
      await page.locator('[data-strip] button').count(),
    ];
    const [before, text] = [await reported(), await status.innerText()];
    assert.match(text, /^\d+ of 1681 widths measured\s/);
    await page.reload();
    await page.locator('[data-status=done]').waitFor();
    assert.deepEqual(await reported(), before);
    const now = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium' }).format(new Date());
    assert.match(await status.innerText(), new RegExp(`widths measured ${now}, \\d\\d:\\d\\d`));
    await page.getByLabel('Selector of the box').fill('h1');
    await page.getByRole('button', { name: 'Add' }).click();
    await page.getByText(/The width of .*h1/).waitFor();
    // One that is stopped does not take its place.
    await page.getByRole('button', { name: 'Sweep again' }).click();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.locator('[data-status=stopped]').waitFor();
    await page.reload();
    await page.locator('[data-status=done]').waitFor();
    assert.deepEqual(await reported(), before);
    // Under other defaults it is another, and there again as well.
    await page.locator('[data-defaults]').selectOption('nothing');
    await page.waitForURL(/defaults=nothing/);
    await status.waitFor({ timeout: 400_000 });
    assert.match(await status.innerText(), /^\d+ of 1681 widths measured\s/);
    await page.reload();
    await page.getByText(`widths measured ${now}`).waitFor();
    assert.deepEqual(errors, []);
  });

  test('a page without a viewport meta element as a phone shows it', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Harbour guide', '?w=1280');
    await ready(page);
    await page.getByLabel('Common sizes').selectOption({ label: 'phone 360 × 800' });
    const bar = page.locator('[data-device]');
    await bar.waitFor();
    assert.match(
      await bar.innerText(),
      /There is no viewport meta element: the device lays the page out 980 px wide/,
    );
    await page.waitForFunction(() => new URL(location.href).searchParams.get('w') === '980');
    assert.match(
      await bar.locator('[data-zoomed-out]').innerText(),
      /The page reaches to 1408 px: the device zooms out to 26 % until all of it is in view/,
    );
    await bar.getByText('Turn').click();
    assert.match(await bar.innerText(), /800 × 360/);
    await bar.getByText('Leave').click();
    assert.equal(await bar.count(), 0);
    assert.deepEqual(errors, []);
  });

  test('a page has no less room for its scrollbars as a phone shows it', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'timetable', '?w=360');
    await ready(page);
    const facts = page.locator('[data-facts]');
    assert.match(await facts.innerText(), /of which a scrollbar takes 15/);
    await page.getByLabel('Common sizes').selectOption({ label: 'phone 360 × 800' });
    const locator = page.locator('[data-zoomed-out]');
    await facts.getByText('It is 314 px wider').waitFor();
    assert.doesNotMatch(await facts.innerText(), /scrollbar/);
    assert.match(
      await locator.innerText(),
      /reaches to 674 px: it can be dragged sideways and zoomed out to 53 %/,
    );
    // What a trial is held against has none either: nothing is otherwise but what the trial makes so.
    await pickBySelector(page, '.tides');
    await page.locator('[data-edit=min-width]').focus();
    await page.keyboard.press('x');
    await locator.getByText('reaches to 409 px').waitFor();
    await page.locator('[data-part=moved]').click();
    const sum = await page.locator('[data-moved-sum]').innerText();
    assert.ok(Number(/^(\d+) resized/.exec(sum)?.[1]) <= 5, sum);
    await page.locator('[data-device]').getByText('Leave').click();
    await facts.getByText('of which a scrollbar takes 15').waitFor();

    // So it is at all widths: the page fits from as many px on as it needs, not from 15 more.
    await page.getByLabel('Common sizes').selectOption({ label: 'phone 360 × 800' });
    await facts.getByText('It is 49 px wider').waitFor();
    await page.getByRole('navigation', { name: 'Views' }).getByText('Sweep').click();
    await page.locator('[data-status=done]').waitFor({ timeout: 400_000 });
    assert.equal(await page.locator('[data-scrollbars]').inputValue(), 'over');
    const over = /Scrolls sideways at\s+(?:\d+–\d+,\s+)*\d+–(\d+) px/;
    const reach = async () => Number(over.exec(await page.locator('main, body').first().innerText())?.[1]);
    const last = await reach();
    await page.locator('[data-scrollbars]').selectOption('beside');
    await page.waitForURL(/scrollbars=beside/);
    await page.locator('[data-status=done]').waitFor({ timeout: 400_000 });
    assert.equal((await reach()) - last, 15);
    assert.deepEqual(errors, []);
  });

  test('a page under other default styles', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Harbour guide', '?w=1280');
    await ready(page);
    const height = async () => {
      await ready(page);
      return page
        .frames()
        .find((frame) => frame.url().includes('harbour-guide.html'))!
        .evaluate('document.querySelector("h1").getBoundingClientRect().height') as Promise<number>;
    };
    const before = await height();
    await page.locator('[data-defaults]').selectOption('nothing');
    await page.waitForURL(/defaults=nothing/);
    await page.waitForLoadState();
    await page.locator('[data-status=ready]').waitFor({ state: 'attached' });
    assert.ok((await height()) < before / 1.5);
    await page.keyboard.press('t');
    await page.getByRole('tab', { name: 'Moved' }).click();
    await page.locator('[data-against]').selectOption('defaults');
    await page.locator('[data-moved-sum]').waitFor();
    const moved = await page.locator('[data-moved-sum]').innerText();
    assert.ok(Number(/^(\d+) resized/.exec(moved)?.[1]) > 20, moved);
    assert.deepEqual(errors, []);
  });

  test('what depends on default styles is found on the Bench, and pinned down', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Crew notices', '?w=1280&defaults=nothing');
    await ready(page);
    const locator = page.locator('[data-finding=defaults]', { hasText: 'p.log' });
    await locator.locator('button').first().click();
    assert.match(
      await locator.innerText(),
      /2 boxes like p\.log are up to 16 px otherwise under Nothing at all/,
    );
    const rests = page.locator('[data-rests]');
    assert.match(await rests.innerText(), /p × 2\s+margin-bottom: 1em, then 0px/);
    await locator.locator('[data-apply]').click();
    await locator.waitFor({ state: 'detached' });
    // What the trial pins down rests on nothing any more.
    await page.waitForFunction(
      () => !/p × 2/.test(document.querySelector<HTMLElement>('[data-rests]')?.innerText ?? ''),
    );
    // Frames in which causes are proved come and go: the page itself is among those that have it.
    const tops = await Promise.all(
      page
        .frames()
        .filter((frame) => frame.url().includes('notices.html'))
        .map((frame) =>
          frame
            .$$eval('p.log', (list) => list.map((entry) => getComputedStyle(entry).marginTop))
            .catch(() => []),
        ),
    );
    assert.ok(tops.flat().includes('16px'), JSON.stringify(tops));
    assert.deepEqual(errors, []);
  });

  test('the Atlas tells where two profiles differ, and takes a style sheet', async () => {
    const { page, errors } = await desk.page();
    await page.goto(`${desk.app.url}/atlas?a=chromium&b=nothing`);
    await page.locator('[data-element=h1]').first().waitFor();
    assert.match(await page.locator('[data-element=h1]').first().innerText(), /h1/);
    const texts = await page.locator('[data-element]').allInnerTexts();
    const off = texts.map((text) => Number(/([\d.]+) px$/.exec(text.trim())?.[1] ?? 0));
    assert.equal(off[0], Math.max(...off), 'the largest difference comes first');
    await page
      .locator('input[type=file]')
      .setInputFiles([
        { name: 'plain.css', mimeType: 'text/css', buffer: Buffer.from('h1 { margin: 3px 0 }') },
      ]);
    await page.waitForURL(/b=plain\.css/);
    await page.getByLabel('First profile').selectOption('this-browser');
    await page.waitForFunction(() => document.querySelectorAll('[data-element]').length === 1);
    assert.match(
      await page.locator('[data-differences]').innerText(),
      /margin \(top, bottom\)\s+0\.67em\s+3px/,
    );
    assert.deepEqual(errors, []);
  });
});
