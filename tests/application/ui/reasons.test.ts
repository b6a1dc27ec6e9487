/** Reasons on the Bench: terms that lead to their boxes, margins, the ladder, places, what has no effect, distances. */
import assert from 'node:assert/strict';
import { after, afterEach, before, describe, test } from 'node:test';
import { openBench, openDesk, pickBySelector, type Desk } from '../../support/app.ts';

describe('reasons', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  test('a height in percent that is ignored: the ladder, the lost declaration, the containing block on the page', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await pickBySelector(page, '.fill');
    const ladder = page.locator('[data-ladder]');
    await ladder.waitFor();
    assert.match(
      await ladder.innerText(),
      /height 50% is ignored: its containing block section\.discount has no height of its own/,
    );
    assert.deepEqual(
      await ladder
        .locator('[data-rung]')
        .evaluateAll((rungs) => rungs.map((rung) => rung.getAttribute('data-rung'))),
      ['breaks', 'holds'],
    );
    assert.match(await page.locator('[data-lost=height]').innerText(), /height: 50% counts for nothing/);
    assert.match(await page.locator('[data-inert]').innerText(), /height: 50%/);
    await page.locator('[data-show-block]').click();
    await page.locator('[data-containing]').waitFor();
    await page.keyboard.press('Escape');
    await pickBySelector(page, '.fill');
    await page.locator('[data-sum=y] [data-box]').first().click();
    await page.locator('[data-account="p"]').waitFor();
    assert.deepEqual(errors, []);
  });

  test('what each rule says of the pick, and what stopped it; another pick asks again', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await pickBySelector(page, '.fill');
    const rules = page.locator('[data-rules]');
    await rules.locator('summary').click();
    await rules.locator('[data-rule-group]').first().waitFor();
    assert.match(await rules.innerText(), /Told\s+size\/percent-height\s+div\.fill is 49\.59 px tall/);
    assert.match(await rules.innerText(), /overlap\/ink\s+it has no text, picture or control/);
    await pickBySelector(page, 'li.fare');
    await rules.getByText('li.fare is 330 px wide').waitFor();
    assert.deepEqual(errors, []);
  });

  test('margins that met are drawn, and the sum of the space can be unfolded', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Harbour');
    await pickBySelector(page, 'body > h1');
    const below = page.locator('[data-gap=below]');
    await below.waitFor();
    assert.match(
      await below.locator('[data-gap-sentence]').innerText(),
      /margins 21\.44 and 16 collapse, 21\.44 wins; 16 is lost/,
    );
    assert.equal(
      await below.locator('[data-collapse]').getAttribute('aria-label'),
      'margin-bottom 21.44 of h1, counts; margin-top 16 of p',
    );
    await below.locator('summary').click();
    assert.match(await below.locator('[data-sum=below]').innerText(), /21\.44\s+margin/);
    const place = page.locator('[data-place=y]');
    await place.locator('button[aria-expanded]').first().click();
    assert.match(await place.innerText(), /from the top of/);
    assert.deepEqual(errors, []);
  });

  test('a distance measured without a pointer is explained, and stays explained at another width', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await pickBySelector(page, 'li.fare:first-child');
    await page.getByLabel('Side').selectOption('right');
    await page.locator('[data-take-edge]').click();
    await pickBySelector(page, 'li.fare.best');
    await page.getByLabel('Side').selectOption('left');
    await page.locator('[data-take-edge]').click();
    const sentence = page.locator('[data-distance-sentence]');
    await sentence.waitFor();
    assert.equal(
      await sentence.innerText(),
      '20 from the right border edge of li.fare to the left border edge of li.fare.best: 20 gap of ul.fares (20px).',
    );
    await page.keyboard.press('Escape');
    await page.locator('[data-explain]').first().click();
    await page.getByLabel('Close the explanation').click();
    await sentence.waitFor({ state: 'detached' });
    await page.locator('[data-stage]').first().focus();
    await page.keyboard.press('e');
    await sentence.waitFor();
    assert.deepEqual(errors, []);
  });
});
