/** What is wrong, on the Bench: listed by itself, gone through by key, mended by a change that the list confirms. */
import assert from 'node:assert/strict';
import { parseProject } from '../../../src/core/reports/project.ts';
import { after, afterEach, before, describe, test } from 'node:test';
import { openBench, openDesk, ready, type Desk, pickBySelector } from '../../support/app.ts';

describe('findings on the Bench', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  test('are there before anything is clicked, and follow what is tried', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    const rows = page.locator('[data-finding]');
    await rows.first().waitFor();
    const kinds = () =>
      rows.evaluateAll((list) => list.map((entry) => (entry as HTMLElement).dataset['finding']));
    assert.deepEqual(await kinds(), ['overflow', 'overlap', 'gap']);

    await page.keyboard.press('n');
    await page.locator('[data-account="p.ticker"]').waitFor();
    await page.locator('[data-remedy]').first().waitFor();
    const text = await page.locator('[data-blame]').innerText();
    assert.ok(Number(await page.locator('[data-wrong]').getAttribute('data-wrong')) > 0);
    assert.match(text, /Because p\.ticker may not wrap \(white-space: nowrap, board\.css:6\): 227 px/);
    assert.match(text, /white-space: normal/);

    await page.keyboard.press('a');
    await page.locator('[data-edit-row]').waitFor();
    await ready(page);
    await page.waitForFunction(() => document.querySelectorAll('[data-finding=overflow]').length === 0);
    assert.deepEqual(await kinds(), ['overlap', 'gap']);
    assert.match(await page.locator('[data-edits]').innerText(), /white-space nowrap becomes normal/);

    await page.keyboard.press('u');
    await page.waitForFunction(() => document.querySelectorAll('[data-finding=overflow]').length === 1);
    await page.getByLabel('Kind of finding').selectOption('gap');
    assert.deepEqual(await kinds(), ['gap']);
    await page.getByLabel('Kind of finding').selectOption('');
    await page.getByRole('button', { name: 'in the pick' }).click();
    assert.deepEqual(await kinds(), ['overflow']);
    await page.getByRole('button', { name: 'everywhere' }).click();
    assert.deepEqual(await kinds(), ['overflow', 'overlap', 'gap']);
    assert.deepEqual(errors, []);
  });

  test('a grade of the user is kept with its reason, and taken back', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    const kinds = () =>
      page
        .locator('[data-finding]')
        .evaluateAll((list) => list.map((entry) => (entry as HTMLElement).dataset['finding']));
    await page.locator('[data-finding=gap]').waitFor();
    await page.locator('[data-finding=gap] button').first().click();
    await page.locator('[data-grade]').click();
    await page.getByLabel('Why', { exact: true }).fill('The picture hangs on the rail');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => document.querySelectorAll('[data-finding=gap]').length === 0);
    await page.reload();
    await page.locator('[data-finding=overlap]').waitFor();
    assert.ok(!(await kinds()).includes('gap'));
    await page.getByText('meant or probably meant').click();
    await page.locator('[data-finding=gap] button').first().click();
    assert.match(
      await page.locator('[data-finding=gap]').innerText(),
      /You say that it is meant: The picture hangs on the rail/,
    );
    await page.locator('[data-take-back]').click();
    await page.locator('[data-said]').waitFor({ state: 'detached' });
    await page.locator('[data-finding=gap] [data-grade]').waitFor();
    assert.deepEqual(errors, []);
  });

  test('a grade for a whole rule is in the file of the project', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await page.locator('[data-finding=size]').first().waitFor();
    await page.locator('[data-finding=size] button').filter({ hasText: 'li.seat' }).click();
    await page.locator('[data-grade]').click();
    await page.getByLabel('Grade', { exact: true }).selectOption('meant');
    await page.getByLabel('Where', { exact: true }).selectOption({ index: 1 });
    await page.getByLabel('Why', { exact: true }).fill('Seats are as they are');
    await page.keyboard.press('Enter');
    const href = await page.locator('[data-project]').getAttribute('href');
    const answer = await fetch(new URL(href!, desk.app.url));
    assert.match(answer.headers.get('content-disposition') ?? '', /filename="normetra\.json"/);
    const [grade] = parseProject(await answer.text());
    assert.deepEqual([grade!.rule, grade!.place, grade!.grade], ['size/square', '', 'meant']);
    await page.getByText('meant or probably meant').click();
    await page.locator('[data-take-back]').click();
    await page.locator('[data-finding=size] button').filter({ hasText: 'li.seat' }).waitFor();
    assert.deepEqual(errors, []);
  });

  test('what should be of a box is answered, tried, and held against the page', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.seat');
    await page.getByLabel('Should be').fill('squarish');
    await page.keyboard.press('Enter');
    assert.match(await page.locator('[data-should-be] [role=alert]').innerText(), /no relation/);
    await page.locator('[data-suggestions] button').filter({ hasText: 'square' }).click();
    await page.locator('[data-wish-answer] [data-remedy]').first().waitFor();
    assert.match(await page.locator('[data-wish-answer]').innerText(), /54, should be 42: 12 off/);
    await page.locator('[data-wish-answer] [data-apply]').first().click();
    await page.locator('[data-wish-answer]').getByText('it is so at 1100 px').waitFor();
    assert.deepEqual(errors, []);
  });

  test('two boxes are asked about by picking one after the other, and a measured distance where it is explained', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'header h1, header a');
    await pickBySelector(page, 'li.fare');
    await page.locator('[data-suggestions]').getByText('more …').click();
    await page
      .locator('[data-suggestions]')
      .getByText(/^as tall as .*, picked before$/)
      .click();
    await page
      .locator('[data-wish-answer]')
      .getByText(/should be [\d.]+: [\d.]+ off/)
      .waitFor();
    await page.locator('[data-should-be]').getByRole('button', { name: 'Stop' }).click();
    await page.locator('[data-wish-answer]').waitFor({ state: 'detached' });

    const edge = async (selector: string, side: string) => {
      await pickBySelector(page, selector);
      await page.getByLabel('Side').selectOption(side);
      await page.locator('[data-take-edge]').click();
    };
    await edge('li.fare:nth-child(1)', 'right');
    await edge('li.fare:nth-child(2)', 'left');
    await page.locator('[data-distance]').getByLabel('Should be').fill('40');
    await page.keyboard.press('Enter');
    await page.locator('[data-wish-answer] [data-remedy]').first().waitFor();
    assert.match(
      await page.locator('[data-wish-answer]').innerText(),
      /40 right of li\.fare: 20, should be 40/,
    );
    assert.deepEqual(errors, []);
  });

  test('a spot that is dragged over is told, and its finding opens', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    await page.locator('[data-finding=overlap]').waitFor();
    await page.keyboard.press('q');
    const glass = (await page.locator('[data-glass]').boundingBox())!;
    const at = (x: number, y: number) =>
      [glass.x + (x / 1280) * glass.width, glass.y + (y / 800) * glass.height] as const;
    await page.mouse.move(...at(480, 560));
    await page.mouse.down();
    await page.mouse.move(...at(640, 588), { steps: 4 });
    await page.mouse.up();
    const answer = page.locator('[data-spot-answer]');
    await answer.waitFor();
    assert.match(await answer.innerText(), /span\.late text/);
    await answer.getByText('hangs 23.5 px out of it').click();
    await page.locator('[data-finding=overlap] [data-blame]').waitFor();
    await page.keyboard.press('Escape');
    await page.locator('[data-spot]').waitFor({ state: 'detached' });
    await page.locator('[data-ask-spot]').click();
    await page.getByRole('textbox', { name: 'Spot' }).fill('60');
    await page.keyboard.press('Enter');
    assert.match(await page.locator('[data-spot] [role=alert]').innerText(), /X, Y or X, Y, W, H/);
    assert.deepEqual(errors, []);
  });

  test('what a trial mends and what it breaks is told with what it moves', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    await page.locator('[data-finding=overflow]').waitFor();
    await page.keyboard.press('n');
    await page.locator('[data-remedy]').first().waitFor();
    await page.keyboard.press('a');
    await page.getByRole('tab', { name: 'Moved' }).click();
    await page.locator('[data-findings-moved]').waitFor();
    assert.match(
      await page.locator('[data-findings-moved]').innerText(),
      /No longer wrong: The page is 227 px wider than its viewport/,
    );
    assert.deepEqual(errors, []);
  });

  test('what has the cause of another finding says so, and a change that is too little on phones says that', async () => {
    const { page, errors } = await desk.page();
    await page.goto(desk.app.url);
    await page.locator('[data-specimen]').first().waitFor();
    const line = 'The mail boat leaves the north mole at seven and calls at every landing.';
    const css =
      'body { margin: 0 } .notices { display: grid; grid-template-columns: 1fr 320px; gap: 24px; padding: 24px } ' +
      '.board { display: flex } .board span { width: 700px; flex: none }';
    const html = `<!doctype html><meta name=viewport content="width=device-width"><style>${css}</style><div class=notices><section class=list><div class=board><span>${line}</span><span>${line}</span></div></section><aside class=watch>${line}</aside></div>`;
    await page
      .locator('[data-bring=files]')
      .setInputFiles([{ name: 'index.html', mimeType: 'text/html', buffer: Buffer.from(html) }]);
    await page.waitForURL(/bench/);
    const rows = page.locator('[data-finding]');
    await rows.filter({ hasText: 'aside.watch' }).locator('button').first().click();
    await page.locator('[data-head]').waitFor();
    assert.match(
      await page.locator('[data-blame]').innerText(),
      /It goes with overflow: section\.list, which has the same cause/,
    );
    await page.locator('[data-head]').click();
    await page.locator('[data-account="section.list"]').waitFor();
    await page.locator('[data-remedy]').first().waitFor();
    assert.match(
      await page.locator('[data-remedy]').first().innerText(),
      /let its items wrap[^]*flex-wrap: wrap[^]*Proved at 768 and 1280 px, not enough at 360 px/,
    );
    assert.deepEqual(errors, []);
  });

  test('a page with nothing wrong says so', async () => {
    const { page, errors } = await desk.page();
    await page.goto(desk.app.url);
    await page.locator('[data-specimen]').first().waitFor();
    const html = '<!doctype html><meta name=viewport content="width=device-width"><p>Quillhaven';
    await page
      .locator('[data-bring=files]')
      .setInputFiles([{ name: 'index.html', mimeType: 'text/html', buffer: Buffer.from(html) }]);
    await page.waitForURL(/bench/);
    await page.locator('[data-none]').waitFor();
    assert.match(await page.locator('[data-none]').innerText(), /Nothing is wrong here at 1280 px/);
    assert.deepEqual(errors, []);
  });
});
