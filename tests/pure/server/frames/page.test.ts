import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { frameFile, frameHolder, framePage, policy } from '../../../../src/lib/server/frames/page.ts';

const OPTIONS = { scripts: 'hold' as const, own: 'http://k.localhost:1' };
const SCRIPT = /<script nonce="[^"]+" data-still>[\s\S]*?<\/script>/;
const served = async (html: string) => String((await framePage(html, OPTIONS)).body).replace(SCRIPT, '[C]');

const PAGES: [string, string, string][] = [
  [
    'in the head',
    '<!doctype html><html><head><title>x</title>',
    '<!doctype html><html><head>[C]<title>x</title>',
  ],
  [
    'where no head is written',
    '<!doctype html><html lang=en><body>x',
    '<!doctype html><html lang=en>[C]<body>x',
  ],
  ['behind the doctype', '<!doctype html>\n<p>x', '<!doctype html>[C]\n<p>x'],
  ['first in a fragment', '<p>x', '[C]<p>x'],
  ['not in a comment that looks like a head', '<!-- <head> --><p>x', '[C]<!-- <head> --><p>x'],
  [
    'a refresh is held, and nothing else moves',
    '<meta HTTP-EQUIV="refresh" content="0;url=x"><p>',
    '[C]<meta data-equiv="refresh" content="0;url=x"><p>',
  ],
  [
    'other meta elements stay',
    '<meta http-equiv="content-language" content="en">',
    '[C]<meta http-equiv="content-language" content="en">',
  ],
  [
    'a refresh in the text stays text',
    '<textarea><meta http-equiv=refresh></textarea>',
    '[C]<textarea><meta http-equiv=refresh></textarea>',
  ],
];

describe('a specimen’s page in its frame', () => {
  test('a document in a srcdoc gets the collector too, and its refresh is held', async () => {
    const html = await served(
      '<iframe srcdoc="<meta http-equiv=refresh content=1>&lt;p&gt;a &amp;amp; b"></iframe>',
    );
    const inner = /srcdoc="([^"]*)"/.exec(html)![1]!.replaceAll('&quot;', '"').replaceAll('&amp;', '&');
    assert.match(
      inner,
      /^<script nonce="[^"]+" data-still>[\s\S]*<\/script><meta data-equiv=refresh content=1><p>a &amp; b$/,
    );
  });
  for (const [name, html, expected] of PAGES)
    test(name, async () => assert.equal(await served(html), expected));

  test('scripts are held: the collector’s nonce alone, and a new one for every answer', async () => {
    const [frameAnswer, two] = [await framePage('<p>', OPTIONS), await framePage('<p>', OPTIONS)];
    const nonce = (answer: typeof frameAnswer) =>
      /script-src 'nonce-([^']+)';/.exec(answer.headers['content-security-policy']!)![1];
    assert.notEqual(nonce(frameAnswer), nonce(two));
    assert.ok(String(frameAnswer.body).includes(`nonce="${nonce(frameAnswer)!.replace(/&/g, '&amp;')}"`));
  });
  test('where the page’s own scripts run, the collector’s does not say that nothing else does', async () => {
    const { body } = await framePage('<p>', { ...OPTIONS, scripts: 'run' });
    assert.match(String(body), /^<script nonce="[^"]*">/);
  });

  test('what holds a page runs one script, whatever the page’s own do, and frames nothing but the specimen', async () => {
    const { body, headers } = await frameHolder({ ...OPTIONS, scripts: 'run' });
    const csp = headers['content-security-policy']!;
    const nonce = /script-src 'nonce-([^']+)';/.exec(csp)![1]!;
    assert.equal(String(body).split(`<script nonce="${nonce}">`).length, 2);
    assert.ok(csp.includes(`frame-src ${OPTIONS.own} data: blob:`) && !csp.includes('allow-same-origin'));
  });

  for (const scripts of ['hold', 'run'] as const)
    test(`the policy with scripts on ${scripts} leaves no way out`, () => {
      const text = policy({ ...OPTIONS, scripts }, 'n');
      for (const part of [
        'sandbox allow-scripts;',
        "default-src 'none'",
        "connect-src 'none'",
        "form-action 'none'",
        "object-src 'none'",
      ])
        assert.ok(text.includes(part), part);
      assert.ok(!text.includes('allow-same-origin') && !text.includes('*'));
    });
  test('texts are sent as UTF-8 whatever they are in', async () => {
    const css = await frameFile(
      { path: 'a.css', type: 'text/css', bytes: Buffer.from('@charset "windows-1252";\n.é{}', 'latin1') },
      OPTIONS,
      'utf-8',
    );
    assert.equal(css.body, '@charset "windows-1252";\n.é{}');
    assert.equal(css.headers['content-type'], 'text/css; charset=utf-8');
  });
});
