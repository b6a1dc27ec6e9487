/** What a page asks for and does not get: told beside its findings. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { findingsText, findingsDocumentSchema } from '../../../src/core/reports/findings.ts';
import { fromFiles, missingOf } from '../../../src/lib/server/engines/source.ts';

const CASES: [name: string, files: Record<string, string>, missing: string[]][] = [
  ['nothing, where all is there', { 'p.html': '<link rel=stylesheet href=a.css>', 'a.css': 'p{}' }, []],
  [
    'a sheet in a folder that is not there',
    { 'p.html': '\n<link rel=stylesheet href=css/a.css>' },
    ['style sheet css/a.css p.html:2'],
  ],
  [
    'a sheet of another host',
    { 'p.html': '<link rel=stylesheet href=https://looks.example/a.css>' },
    ['style sheet https://looks.example/a.css p.html:1'],
  ],
  [
    'what an imported sheet imports, once',
    {
      'p.html': '<link rel=stylesheet href=a.css><link rel=stylesheet href=b.css>',
      'a.css': '@import "b.css";',
      'b.css': 'p {}\n@import url(c.css);',
    },
    ['style sheet c.css b.css:2'],
  ],
  [
    'sheets that import each other',
    { 'p.html': '<style>@import "a.css"</style>', 'a.css': '@import "b.css";', 'b.css': '@import "a.css";' },
    [],
  ],
  [
    'a font of which no format is there',
    { 'p.html': '<style>@font-face{font-family:a;src:url(f/a.woff2)}</style>' },
    ['font f/a.woff2 p.html:1'],
  ],
  [
    'no font of which one format is there',
    {
      'p.html': '<style>@font-face{font-family:a;src:url(a.eot?#iefix),url(a.woff2)}</style>',
      'a.woff2': '',
    },
    [],
  ],
  [
    'neither pictures nor data',
    { 'p.html': '<img src=a.png><style>p{background:url(data:image/png;base64,AA)}</style>' },
    [],
  ],
  [
    'by the base of the page',
    { 'p.html': '<base href=/looks/><link rel=stylesheet href=a.css>', 'looks/a.css': 'p{}' },
    [],
  ],
];

describe('what is missing', () => {
  for (const [name, files, missing] of CASES)
    test(name, async () => {
      const stored = Object.entries(files).map(([path, text]) => ({
        path,
        type: path.endsWith('.html') ? 'text/html' : 'text/css',
        bytes: new TextEncoder().encode(text),
      }));
      const list = await missingOf(fromFiles(stored, 'p.html'));
      assert.deepEqual(
        list.map(({ what, address, from, line }) => `${what} ${address} ${from}:${line}`),
        missing,
      );
    });

  test('it stands below the findings, the first twelve by name', () => {
    const missing = Array.from({ length: 14 }, (_, i) => ({
      address: `${i}.css`,
      from: 'p.html',
      line: i + 1,
      what: 'style sheet' as const,
    }));
    const document = findingsDocumentSchema.parse({
      normetra: 'findings/1',
      page: 'p.html',
      engine: { name: 'chromium', version: '1' },
      defaults: 'as-rendered',
      widths: [1280],
      findings: [],
      missing,
    });
    const lines = findingsText(document).split('\n');
    assert.equal(lines[0], 'p.html: nothing found at 1280 px.');
    assert.match(lines[2]!, /^Measured without what the page asks for/);
    assert.equal(lines[3], '   style sheet 0.css (p.html:1)');
    assert.deepEqual([lines.length, lines.at(-1)], [16, '   and 2 more; --json has them all.']);
  });
});
