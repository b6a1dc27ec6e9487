import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { parse, type DefaultTreeAdapterMap } from 'parse5';
import { scanHtml } from '../../../src/core/html/scan.ts';
import { scriptsIn, touchesOf } from '../../../src/core/html/scripts.ts';

type Node = DefaultTreeAdapterMap['node'];

/** Tags with a start tag in the text, in the order of these, as a tree that is kept has them. */
function tagsOfTree(html: string): string[] {
  const out = new Map<number, string>();
  const stack: Node[] = [parse(html, { sourceCodeLocationInfo: true })];
  for (let node = stack.pop(); node; node = stack.pop()) {
    if ('tagName' in node && node.sourceCodeLocation)
      out.set(node.sourceCodeLocation.startOffset, node.tagName);
    if ('content' in node) stack.push(node.content);
    if ('childNodes' in node) stack.push(...node.childNodes);
  }
  return [...out].sort(([a], [b]) => a - b).map(([, tag]) => tag);
}

function tagsOfScan(html: string): string[] {
  const out = new Map<number, string>();
  scanHtml(html, { element: ({ tag, location }) => void out.set(location.startOffset, tag) });
  return [...out].sort(([a], [b]) => a - b).map(([, tag]) => tag);
}

const PAGES: [string, string][] = [
  ['a page', '<!doctype html><html lang=en><head><title>A</title><style>p{}</style></head><body><p>x<p>y'],
  ['misnested formatting', '<b>1<p>2</b>3</p><i><b>4</i>5</b>'],
  ['text that a table fosters out', '<table>a<tr>b<td>c</table>d<table><b>e<tr><td>f'],
  [
    'templates and foreign content',
    '<template><iframe></iframe></template><svg><title>s</title><style>x</style><p>out',
  ],
  ['a frameset', '<frameset><frame src=a><frame src=b></frameset>'],
  [
    'raw text',
    '<textarea><p></textarea><script>"<p>"</script><style><p></style><title><p></title><xmp><p></xmp>',
  ],
  ['selects', '<select><option>a<option>b<input><select>c'],
  ['nothing', ''],
  ['a late head', '<p>x<head><title>late</title><html lang=x><body class=y>'],
];

describe('reading HTML without keeping it', () => {
  for (const [name, html] of PAGES)
    test(`${name}: the elements of the tree`, () => assert.deepEqual(tagsOfScan(html), tagsOfTree(html)));

  const LARGE: [string, string][] = [
    ['titles that never end', '<title'.repeat(60_000)],
    ['tags that never end', '<a'.repeat(200_000)],
    ['comments that never end', '<!--'.repeat(200_000)],
    ['titles in titles', '<title>x'.repeat(60_000)],
    ['attributes', `<p ${'a=b '.repeat(100_000)}>`],
  ];
  for (const [name, html] of LARGE)
    test(`${name}: linear, twice as much takes no more than some four times as long`, () => {
      const time = (text: string): number => {
        const start = performance.now();
        scanHtml(text);
        return performance.now() - start;
      };
      time(html);
      const [value, two] = [time(html), time(html + html)];
      // A square would be four times, and much longer than this in all.
      assert.ok(two < value * 8 + 2000, `${value.toFixed(0)} ms, ${two.toFixed(0)} ms`);
    });
});

describe('what scripts would touch', () => {
  const touched = (script: string) =>
    touchesOf(scriptsIn('p.html', `<p>x</p>\n<script>${script}</script>`, {})).map(
      ({ by, name, isWritten, line }) => `${by} ${name}${isWritten ? ' written' : ''} ${line}`,
    );
  const SCRIPTS: [string, string, string[]][] = [
    ['an id that is filled', 'document.getElementById("chart").innerHTML = x', ['id chart written 2']],
    ['a selector of a widget', "new Carousel('.slides > .slide')", []],
    ['a class handed to a widget', "new Carousel('.slides')", ['class slides written 2']],
    ['a query', "document.querySelector('main .card').style.width = '1px'", ['class card written 2']],
    [
      'one that is only listened to',
      "document.querySelector('#menu').addEventListener('click', go)",
      ['id menu 2'],
    ],
    ['a text that is no name', "alert('hello')", []],
    ['a canvas', "const c = document.querySelector('canvas').getContext('2d')", ['tag canvas written 2']],
  ];
  for (const [name, script, expected] of SCRIPTS) test(name, () => assert.deepEqual(touched(script), expected));
  test('a script ends with its end tag, however that is written', () => {
    const html = '<script>one</SCRIPT ><p>“</script”</p><script>two</script>';
    assert.deepEqual(
      scriptsIn('p.html', html, {}).map(({ text }) => text),
      ['one', 'two'],
    );
  });
  test('scripts in files are read where they are at hand, data are not', () => {
    const html =
      '<base href="js/"><script src=a.js></script><script src=b.js></script><script type="application/json">{}</script>';
    assert.deepEqual(
      scriptsIn('p.html', html, { 'js/a.js': 'x' }).map(({ path, text }) => `${path} ${text}`),
      ['js/a.js x'],
    );
  });
});
