/** Layout viewports worked out by the core, held against the mobile emulation of Chromium. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { chromium } from 'playwright-core';
import {
  beyondWords,
  layoutViewport,
  shownOn,
  viewportPairs,
  viewportWords,
} from '../../../src/core/css/media/viewport-meta.ts';
import { chromiumPath } from '../../../src/lib/server/engines/drivers/chromium.ts';
import { DEVICES, VARIANTS } from '../../support/viewports.ts';

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;');
const metasOf = (contents: readonly string[]): string =>
  contents.map((content) => `<meta name="viewport" content="${escaped(content)}">`).join('');

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
          // Every document is a new one: a zoom stays where only its content is another.
          await page.goto('about:blank');
          await page.goto(
            `data:text/html,${encodeURIComponent(`<!doctype html>${metasOf(contents)}<body style="margin:0">x`)}`,
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

  const REACHES = [700, 1408, 5000];
  test(`with pages that reach to ${REACHES.join(', ')} px is shown as the engine shows it`, async () => {
    const browser = await chromium.launch({ executablePath: chromiumPath(), args: ['--no-sandbox'] });
    const off: string[] = [];
    try {
      const device = DEVICES[0]!;
      const context = await browser.newContext({ viewport: device, isMobile: true, hasTouch: true });
      const page = await context.newPage();
      for (const contents of VARIANTS)
        for (const reach of REACHES) {
          const html = `<!doctype html>${metasOf(contents)}<body style="margin:0"><div style="width:${reach}px">x</div><p style="position:fixed;left:0;width:100%">x`;
          await page.goto('about:blank');
          await page.goto(`data:text/html,${encodeURIComponent(html)}`);
          const [zoom, fixed, reached] = (await page.evaluate(
            '[visualViewport.scale, document.querySelector("p").getBoundingClientRect().width, document.documentElement.scrollWidth]',
          )) as [number, number, number];
          const ours = shownOn(layoutViewport(contents, device), device, reached);
          if (Math.abs(zoom - ours.zoom) > 0.01 || Math.abs(fixed - ours.most) > 1)
            off.push(
              `${JSON.stringify(contents)} ${reach}: ${zoom}, ${fixed} fixed, ours ${ours.zoom}, ${ours.most}`,
            );
        }
    } finally {
      await browser.close();
    }
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

  const BEYOND: [string, string[], number, RegExp][] = [
    ['nothing reaches beyond', ['width=device-width'], 360, /^$/],
    [
      'nothing said of the zoom',
      ['width=device-width'],
      720,
      /reaches to 720 px: .* out to 50 % .* 16 px look like 8$/,
    ],
    ['no element', [], 1440, /out to 25 % until all of it is in view/],
    ['farther than the least zoom', ['width=device-width'], 3000, /as far as it may, and 1440 px of it/],
    ['a least zoom', ['width=device-width, minimum-scale=.5'], 1000, /as far as it may, and 720 px of it/],
    [
      'a zoom at first',
      ['width=device-width, initial-scale=1'],
      720,
      /dragged sideways and zoomed out to 50 %$/,
    ],
    ['zooming forbidden', ['width=device-width, user-scalable=no'], 720, /it can be dragged sideways$/],
  ];
  for (const [name, contents, reach, words] of BEYOND)
    test(`pages that reach beyond it are explained: ${name}`, () =>
      assert.match(beyondWords(contents, PHONE, reach), words));

  test('keys and values are read as engines read them', () =>
    assert.deepEqual(viewportPairs(' Width = 320 ,initial-scale=1;x, user-scalable'), [
      ['width', '320'],
      ['initial-scale', '1;x'],
      ['user-scalable', ''],
    ]));
});
