/** The story of the first hour: a demo page, a card that is 330 wide, why, and a reading that is there tomorrow. */
import assert from 'node:assert/strict';
import { after, afterEach, before, describe, test } from 'node:test';
import { openBench, openDesk, pickBySelector, ready, startApp, type Desk } from '../../support/app.ts';

describe('the story', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  test('the Shelf has the six demo pages, and draws them from readings', async () => {
    const { page, errors } = await desk.page();
    await page.goto(desk.app.url);
    await page.locator('[data-specimen]').first().waitFor();
    assert.equal(await page.locator('[data-specimen]').count(), 6);
    await page.locator('[data-specimen] svg[role=img]').nth(5).waitFor();
    assert.ok((await page.locator('[data-specimen] svg[role=img] rect').count()) > 100);
    assert.deepEqual(errors, []);
  });

  test('points at the card, reads why it is 330 wide, saves the reading and finds it tomorrow', async () => {
    const { page, errors, context } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    const glass = (await page.locator('[data-glass]').boundingBox())!;
    const zoom = glass.width / 1280;
    // The left border of the first card.
    await page.mouse.move(glass.x + 94 * zoom, glass.y + 300 * zoom);
    await page.locator('[data-hover-label]').waitFor();
    const label = (await page.locator('[data-hover-label]').innerText()).replace(/\s+/g, ' ');
    assert.match(
      label,
      /li\.fare 330 × 190\.8 flex item 16px Gill Sans #1c2b33 on #ffffff 14\.56:1 passes WCAG AA/,
    );
    await page.mouse.click(glass.x + 94 * zoom, glass.y + 300 * zoom);
    const account = page.locator('[data-account]');
    assert.equal(await account.getAttribute('data-account'), 'li.fare');
    assert.equal(
      await page.locator('[data-sentence=x]').innerText(),
      '330 wide = 300 content, 10 + 10 padding, 5 + 5 border.',
    );
    const sum = (await page.locator('[data-sum=x]').innerText()).replace(/\s+/g, ' ');
    assert.match(sum, /5 \+ 5 border border: 5px solid var\(--foam\) \.fare fares\.css:14/);
    assert.match(sum, /10 \+ 10 padding padding: 10px \.fare fares\.css:13/);
    assert.match(sum, /300 content width: 300px \.fare fares\.css:12 330 wide/);
    const text = await account.innerText();
    assert.match(
      text,
      /width: 300px sets the content box, because box-sizing is content-box by the browser’s default\./,
    );
    assert.match(text, /Under border-box the box would be 300 wide, with 270 left for content\./);

    await page.locator('[data-sum=x] [data-source="css/fares.css:12"]').hover();
    await page.locator('[data-reach]').first().waitFor();
    assert.equal(await page.locator('[data-reach]').first().innerText(), '3 boxes');
    assert.equal(await page.locator('[data-lit]').count(), 3);
    await page.locator('[data-sum=x] [data-source="css/fares.css:12"]').click();
    assert.match(await page.locator('[data-source-sheet] [data-marked]').innerText(), /12\s*width: 300px;/);
    await page.keyboard.press('Escape');
    await page.locator('[data-source-sheet]').waitFor({ state: 'detached' });

    await page.locator('[data-save]').click();
    await page.keyboard.type('the card is 30 too wide');
    await page.keyboard.press('Enter');
    await page.locator('[data-readings]', { hasText: 'the card is 30 too wide' }).waitFor();
    const address = page.url();
    assert.match(address, /w=1280&h=800&pick=body/);
    await context.close();

    await desk.app.stop();
    desk.app = await startApp(desk.app.folder);
    const { page: tomorrow } = await desk.page();
    const moved = new URL(address);
    moved.port = new URL(desk.app.url).port;
    await tomorrow.goto(moved.href);
    await ready(tomorrow);
    assert.equal(
      await tomorrow.locator('[data-account]').getAttribute('data-account'),
      'li.fare',
      'the link brings the pick along',
    );
    // What is found stands above the readings, and moves them down when it comes.
    await tomorrow.locator('[data-finding]').first().waitFor();
    await tomorrow.locator('[data-readings] button', { hasText: 'the card is 30 too wide' }).click();
    await tomorrow.locator('[role=status]', { hasText: 'saved reading' }).waitFor();
    assert.equal(
      await tomorrow.locator('[data-sentence=x]').innerText(),
      '330 wide = 300 content, 10 + 10 padding, 5 + 5 border.',
    );
    assert.deepEqual(errors, []);
  });

  test('the width rule: jaw, typed sizes, notches, keys', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'sailings');
    const width = page.getByLabel('Viewport width').first();
    const box = (await page.locator('[data-rule]').boundingBox())!;
    const at = (value: number) => box.x + 26 + ((value - 240) / 1680) * (box.width - 52);
    await page.mouse.move(at(1280), box.y + 15);
    await page.mouse.down();
    await page.mouse.move(at(900), box.y + 15, { steps: 5 });
    await page.mouse.up();
    await ready(page);
    assert.ok(Math.abs(Number(await width.inputValue()) - 900) <= 1);
    const notches = await page
      .locator('[data-notch]')
      .evaluateAll((all) => all.map((entry) => (entry as HTMLElement).dataset['notch']));
    assert.deepEqual(notches, ['601', '721', '901']);
    const columns = async () => {
      await ready(page);
      await pickBySelector(page, '.board');
      return (await page.locator('[data-declaration="grid-template-columns"]').innerText()).replace(
        /\s+/g,
        ' ',
      );
    };
    await page.locator('[data-notch="601"]').click();
    assert.match(await columns(), /repeat\(2, 1fr\)/);
    await page.locator('[data-stage]').focus();
    await page.keyboard.press(',');
    await ready(page);
    assert.equal(await width.inputValue(), '600');
    assert.match(await columns(), /1fr/);
    await width.fill('412');
    await page.getByLabel('Viewport height').fill('915');
    await page.getByLabel('Viewport height').press('Enter');
    await page.waitForURL(/w=412&h=915/);
    await page.locator('[data-jaw]').focus();
    await page.keyboard.press('Shift+ArrowRight');
    await page.waitForURL(/w=422/);
    await page.getByLabel('Common sizes').selectOption('keep');
    await page.getByLabel('Common sizes').selectOption('768x1024');
    await page.waitForURL(/w=768&h=1024/);
    assert.ok((await page.getByLabel('Common sizes').innerText()).includes('422 × 915'));
  });

  test('measuring between edges, pinned, at two widths and after a reload', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    const glass = (await page.locator('[data-glass]').boundingBox())!;
    const zoom = glass.width / 1280;
    await page.locator('[data-stage]').focus();
    await page.keyboard.press('m');
    const edge = async (x: number, y: number, wanted: string) => {
      await page.mouse.move(glass.x + x * zoom, glass.y + y * zoom);
      await page.locator(`[data-edge="${wanted}"]`).last().waitFor({ state: 'attached' });
      await page.mouse.click(glass.x + x * zoom, glass.y + y * zoom);
    };
    await edge(421, 300, 'border right');
    await edge(444, 300, 'border left');
    const pinned = page.locator('[data-pinned]');
    await pinned.getByText('20', { exact: true }).waitFor();
    assert.match(
      (await pinned.innerText()).replace(/\s+/g, ' '),
      /20 li\.fare border right to li\.fare\.best border left/,
    );
    await page.keyboard.press('Escape');
    await page.keyboard.press('.');
    await page.waitForURL(/w=1281/);
    await ready(page);
    assert.equal(await page.locator('[data-measured]').getAttribute('data-measured'), '20');
    await page.reload();
    await ready(page);
    await pinned.getByText('20', { exact: true }).waitFor();
  });

  test('hatching, outlines, zoom with a device pixel grid, scrolling', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Timetable', '?pick=body%20%3E%20main');
    await page.locator('[data-hatch]').click();
    assert.equal(await page.locator('[data-hatched] path').count(), 5);
    await page.locator('[data-outline]').selectOption('cells');
    const drawn = (await page.locator('[data-outlined=cells]').getAttribute('d'))!;
    assert.equal(drawn.match(/M/g)!.length, 42);
    for (let i = 0; i < 20 && (await page.locator('[data-grid]').count()) === 0; i++)
      await page.getByLabel('Zoom in').click();
    assert.equal(await page.locator('[data-zoom]').innerText(), '400%');
    await page.getByLabel('Fit the viewport').click();
    await page.locator('[data-grid]').waitFor({ state: 'detached' });

    await openBench(page, desk.app.url, 'Harbour', '?w=800&h=600');
    const glass = (await page.locator('[data-glass]').boundingBox())!;
    await page.mouse.move(glass.x + 100, glass.y + 100);
    await page.mouse.wheel(0, 300);
    await page.waitForFunction(() => document.querySelector('[data-pick], [data-hover]') !== null);
    await pickBySelector(page, 'hr');
    await page.locator('[data-pick]').waitFor();
    const top = await page.locator('[data-pick]').evaluate((path) => (path as SVGPathElement).getBBox().y);
    assert.ok(top >= 0 && top < glass.height, 'the picked box was brought into view');
  });

  test('who beat whom, and properties that nobody set', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await pickBySelector(page, '.fare.best');
    const border = page.locator('[data-declaration="border-color"]');
    assert.match(
      (await border.innerText()).replace(/\s+/g, ' '),
      /border-color: var\(--rope\) mute beat 4 \.fare\.best fares\.css:41/,
    );
    await border.getByRole('button').first().click();
    const left = (await border.locator('[data-property~="border-left-color"]').innerText()).replace(
      /\s+/g,
      ' ',
    );
    assert.match(left, /border-top-color.*: #c8a46a Specificity 0,2,0, through --rope\./);
    assert.match(
      left,
      /beat border: 5px solid var\(--foam\): specificity 0,1,0 is less than 0,2,0 \.fare fares\.css:14/,
    );
    await page.locator('[data-ask]').fill('max-width');
    await page.locator('[data-property="max-width"]').waitFor();
    assert.match(
      await page.locator('[data-property="max-width"]').innerText(),
      /Nobody set it; the browser’s default for this element is none/,
    );
    await openBench(page, desk.app.url, 'Timetable');
    await pickBySelector(page, '.legend');
    assert.match(
      await page.locator('[data-dropped]').innerText(),
      /padding: 8 px 12px[\s\S]*does not take “8 px 12px” for padding/,
    );
    await pickBySelector(page, '.days');
    await page.locator('[data-account="th.days"]').waitFor();
    assert.match(await page.locator('[data-dropped]').innerText(), /widht: 7rem/);
  });

  test('keyboard only, from the Shelf to a saved reading', async () => {
    const { page } = await desk.page();
    await page.goto(desk.app.url);
    await page.locator('[data-specimen]').first().waitFor();
    const tabTo = async (wanted: string) => {
      for (let i = 0; i < 80; i++) {
        await page.keyboard.press('Tab');
        const reached = await page.evaluate(
          (text) =>
            document.activeElement?.matches('a, button') && document.activeElement.textContent?.includes(text),
          wanted,
        );
        if (reached) return;
      }
      assert.fail(`${wanted} cannot be reached with Tab`);
    };
    await tabTo('Crew notices');
    await page.keyboard.press('Enter');
    await ready(page);
    await page.keyboard.press('/');
    await page.keyboard.type('.stamp');
    await page.keyboard.press('Enter');
    await page.locator('[data-account="p.stamp"]').waitFor();
    await page.locator('[data-stage]').focus();
    await page.keyboard.press('ArrowLeft');
    await page.locator('[data-account="article.notice"]').waitFor();
    await page.keyboard.press('ArrowDown');
    await page.locator('[data-account="h2"]').waitFor();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowUp');
    await page.locator('[data-account="div"]').waitFor();
    await page.keyboard.press('h');
    await page.locator('[data-hatched]').waitFor();
    await page.keyboard.press('?');
    await page.getByRole('dialog').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.keyboard.press('s');
    await page.keyboard.type('by keys alone');
    await page.keyboard.press('Enter');
    await page.locator('[data-readings]', { hasText: 'by keys alone' }).waitFor();
  });

  test('rename, duplicate, delete and undo on the Shelf', async () => {
    const { page } = await desk.page();
    await page.goto(desk.app.url);
    await page.locator('[data-specimen]').first().waitFor();
    const count = await page.locator('[data-specimen]').count();
    await page.getByLabel(/^Duplicate Booking/).click();
    await page.getByText('(copy)').first().waitFor();
    await page.getByLabel(/^Rename Booking.*copy/).click();
    await page.keyboard.type('Second try');
    await page.keyboard.press('Enter');
    await page.locator('h2', { hasText: 'Second try' }).waitFor();
    await page.getByLabel('Delete Second try').click();
    await page.locator('h2', { hasText: 'Second try' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.locator('h2', { hasText: 'Second try' }).waitFor();
    assert.equal(await page.locator('[data-specimen]').count(), count + 1);
  });
});
