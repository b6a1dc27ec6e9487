import assert from 'node:assert/strict';
import { existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, test } from 'node:test';
import { decodeCss, decodeHtml } from '../../../../src/lib/server/ingest/encoding.ts';
import { placed, safePath, withoutCommonFolder } from '../../../../src/lib/server/ingest/paths.ts';
import { ingestFiles, pastedFiles } from '../../../../src/lib/server/ingest/specimen.ts';
import { receiveUpload } from '../../../../src/lib/server/ingest/upload.ts';

const bytes = (...parts: (string | number[])[]): Uint8Array =>
  Buffer.concat(
    parts.map((part) => (typeof part === 'string' ? Buffer.from(part, 'latin1') : Buffer.from(part))),
  );

const ENCODINGS: [string, Uint8Array, string, string][] = [
  ['declared', bytes('<meta charset=iso-8859-2>', [0xb1]), 'ą', 'iso-8859-2'],
  [
    'declared in http-equiv',
    bytes('<meta http-equiv=content-type content="text/html; charset=shift_jis">', [0x83, 0x65]),
    'テ',
    'shift_jis',
  ],
  [
    'a byte order mark beats what is declared',
    bytes([0xef, 0xbb, 0xbf], '<meta charset=iso-8859-2>', [0xc4, 0x85]),
    'ą',
    'utf-8',
  ],
  ['UTF-16 by its mark', bytes([0xff, 0xfe], [0x3c, 0, 0x70, 0, 0x3e, 0, 0x05, 0x01]), 'ą', 'utf-16le'],
  ['undeclared UTF-8', bytes('<p>', [0xc4, 0x85]), 'ą', 'utf-8'],
  ['undeclared and no UTF-8', bytes('<p>', [0xe9]), 'é', 'windows-1252'],
  ['UTF-16 declared in ASCII is UTF-8', bytes('<meta charset=utf-16>', [0xc4, 0x85]), 'ą', 'utf-8'],
  ['an unknown label', bytes('<meta charset=klingon>', [0xe9]), 'é', 'windows-1252'],
  [
    'a declaration in a comment does not count',
    bytes('<!-- <meta charset=iso-8859-2> -->', [0xe9]),
    'é',
    'windows-1252',
  ],
];

const PATHS: [string, string | null][] = [
  ['a/b.html', 'a/b.html'],
  ['./a//b.html', 'a/b.html'],
  ['a\\b.html', 'a/b.html'],
  ['../a.html', null],
  ['a/../../b.html', null],
  ['/etc/passwd', null],
  ['C:\\x.html', null],
  ['a\0.html', null],
];

describe('ingest', () => {
  for (const [name, bytes, letter, encoding] of ENCODINGS)
    test(`encoding: ${name}`, () => {
      const decoded = decodeHtml(bytes);
      assert.equal(decoded.encoding, encoding);
      assert.equal(decoded.text.at(-1), letter);
    });
  test('a sheet is in its own encoding, or in that of its document', () => {
    assert.equal(decodeCss(bytes('@charset "iso-8859-2";', [0xb1]), 'utf-8').at(-1), 'ą');
    assert.equal(decodeCss(bytes('.', [0xb1]), 'iso-8859-2').at(-1), 'ą');
  });
  for (const [text, expected] of PATHS)
    test(`path ${JSON.stringify(text)}`, () => {
      if (expected === null) assert.throws(() => safePath(text), /leads out of the upload/);
      else assert.equal(safePath(text), expected);
    });
  test('a folder around everything is no part of the paths', () => {
    assert.deepEqual(withoutCommonFolder([{ path: 'x/a' }, { path: 'x/b/c' }]), [
      { path: 'a' },
      { path: 'b/c' },
    ]);
    assert.deepEqual(withoutCommonFolder([{ path: 'x/a' }, { path: 'y/a' }]), [
      { path: 'x/a' },
      { path: 'y/a' },
    ]);
  });
  test('where a file sent anew belongs', () => {
    const previous = ['css/a.css', 'css/b.css', 'old/b.css', 'index.html'];
    assert.equal(placed('css/a.css', previous), 'css/a.css');
    assert.equal(placed('a.css', previous), 'css/a.css');
    assert.equal(placed('site/old/b.css', previous), 'old/b.css');
    assert.equal(placed('b.css', previous), 'b.css');
  });
  test('pages, the first to open, the name, and what is missing', async () => {
    const page = (html: string) => new TextEncoder().encode(html);
    const { pages, name, missing } = await ingestFiles([
      { path: 'site/sub/z.html', bytes: page('<p>z') },
      {
        path: 'site/b.html',
        bytes: page(
          '<title>B &amp; b</title><link rel=stylesheet href=/gone.css><img src="sub/"><a href="nowhere.html">x</a>',
        ),
      },
      {
        path: 'site/index.html',
        bytes: page(
          '<title> First\n page </title><base href="sub/"><link rel=stylesheet href="../a.css"><img src=lost.png><img src="data:image/gif,x">',
        ),
      },
      { path: 'site/a.css', bytes: page('@import "no.css"; p { background: url(#x) }') },
    ]);
    assert.deepEqual(pages, ['index.html', 'b.html', 'sub/z.html']);
    assert.equal(name, 'First page');
    assert.deepEqual(missing.map(({ address, from, line }) => `${address} in ${from}:${line}`).sort(), [
      '/gone.css in b.html:1',
      'lost.png in index.html:2',
      'no.css in a.css:1',
      'sub/ in b.html:1',
    ]);
  });
  const PASTED: [string, string, RegExp][] = [
    [
      'a part of a page',
      '<div>x</div>',
      /^<!doctype html>\n<meta charset="utf-8"><link rel="stylesheet" href="style\.css">\n<div>x<\/div>$/,
    ],
    [
      'a whole page',
      '<!DOCTYPE html><html><head><meta charset=utf-8></head><body>x',
      /<meta charset=utf-8><link rel="stylesheet" href="style\.css"><\/head>/,
    ],
    ['quirks stay quirks', '<html><body>x', /^<html><meta charset="utf-8"><link/],
  ];
  for (const [name, html, expected] of PASTED)
    test(`pasted: ${name}`, () => {
      const files = pastedFiles(html, 'p { margin: 0 }');
      assert.match(new TextDecoder().decode(files[0]!.bytes), expected);
      assert.equal(files[1]!.path, 'style.css');
    });
});

/** A form with one file, sent in pieces of `piece` bytes. */
function formOf(contents: Uint8Array, piece: number): Request {
  const line = '--edge\r\nContent-Disposition: form-data; name="files"; filename="a.bin"\r\n\r\n';
  const all = Buffer.concat([Buffer.from(line), contents, Buffer.from('\r\n--edge--\r\n')]);
  let at = 0;
  const body = new ReadableStream<Uint8Array>({
    pull: (controller) => {
      if (at >= all.length) return controller.close();
      controller.enqueue(all.subarray(at, at + piece));
      at += piece;
    },
  });
  return new Request('http://host.invalid/', {
    method: 'POST',
    headers: { 'content-type': 'multipart/form-data; boundary=edge' },
    body,
    duplex: 'half',
  } as RequestInit);
}

describe('uploads are written to disk as they come', () => {
  const SENT: [string, number, number][] = [
    ['nothing', 0, 1000],
    ['small, in small pieces', 5000, 100],
    ['large, in small pieces', 300_000, 900],
    ['large, in large pieces', 3_000_000, 64_000],
  ];
  for (const [name, size, piece] of SENT) {
    const contents = Uint8Array.from({ length: size }, (_, i) => i % 251);
    const into = async (work: (folder: string) => Promise<void>) => {
      const folder = mkdtempSync(join(tmpdir(), 'upload-'));
      try {
        await work(folder);
      } finally {
        rmSync(folder, { recursive: true });
      }
    };
    test(name, () =>
      into(async (folder) => {
        const [sent] = await receiveUpload(formOf(contents, piece), folder);
        assert.equal(sent!.path, 'a.bin');
        assert.ok(readFileSync(sent!.file).equals(contents));
      }),
    );
    if (size === 0) continue;
    test(`${name}, on a full disk`, { skip: !existsSync('/dev/full') }, () =>
      into(async (folder) => {
        symlinkSync('/dev/full', join(folder, '0'));
        await assert.rejects(receiveUpload(formOf(contents, piece), folder), {
          name: 'Refusal',
          status: 507,
          message: /disk of the server is full/,
        });
      }),
    );
  }
});
