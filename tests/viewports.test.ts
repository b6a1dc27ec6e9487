/** Layout viewports worked out by the core, held against the mobile emulation of Chromium. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { chromium } from 'playwright-core';
import { layoutViewport, viewportPairs, viewportWords } from '../src/core/css/viewport.ts';
import { chromiumPath } from '../src/lib/server/engines/chromium.ts';
import { DEVICES, VARIANTS } from './viewports.ts';

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;');

describe('the layout viewport', () => {
  test(`is that of the engine for ${VARIANTS.length} variants on ${DEVICES.length} devices`, async () => {
    const browser = await chromium.launch({ executablePath: chromiumPath(), args: ['--no-sandbox'] });
    const off: string[] = [];
    try {
      for (const device of DEVICES) {
        const context = await browser.newContext({
          viewport: device,
          isMobile: true,
          hasTouch: true,
          deviceScaleFactor: 2,
        });
        const page = await context.newPage();
        for (const contents of VARIANTS) {
          const metas = contents
            .map((content) => `<meta name="viewport" content="${escaped(content)}">`)
            .join('');
          // Every document is a new one: a zoom stays where only its content is another.
          await page.goto('about:blank');
          await page.goto(
            `data:text/html,${encodeURIComponent(`<!doctype html>${metas}<body style="margin:0">x`)}`,
          );
          const [width, zoom] = (await page.evaluate(
            '[document.documentElement.clientWidth, visualViewport.scale]',
          )) as [number, number];
          const ours = layoutViewport(contents, device);
          if (Math.abs(width - ours.width) > 1 || Math.abs(zoom - ours.zoom) > 0.01)
            off.push(
              `${device.width} ${JSON.stringify(contents)}: ${width} at ${zoom}, ours ${ours.width} at ${ours.zoom}`,
            );
        }
        await context.close();
      }
    } finally {
      await browser.close();
    }
    assert.ok(VARIANTS.length >= 60);
    assert.deepEqual(off, []);
  });

  const PHONE = { width: 360, height: 740 };
  const WORDS: [string, string[], RegExp][] = [
    ['no element', [], /There is no viewport meta element: .* 980 px wide and shows it at 37 %/],
    [
      'the device’s own width',
      ['width=device-width, initial-scale=1'],
      /as wide as the device and shown as large as it is/,
    ],
    ['a semicolon', ['width=device-width;initial-scale=1'], /a semicolon separates nothing there/],
    ['a fixed width', ['width=1024'], /360 px wide, lays the page out 1024 px wide/],
    ['no width', ['user-scalable=no'], /nothing of the width/],
    ['a word that is no width', ['width=auto'], /auto is no width that is understood/],
    ['several', ['width=device-width', 'width=600'], /the last of 2, says “width=600”/],
  ];
  for (const [name, contents, words] of WORDS)
    test(`is explained: ${name}`, () => assert.match(viewportWords(contents, PHONE), words));

  test('keys and values are read as engines read them', () =>
    assert.deepEqual(viewportPairs(' Width = 320 ,initial-scale=1;x, user-scalable'), [
      ['width', '320'],
      ['initial-scale', '1;x'],
      ['user-scalable', ''],
    ]));
});
