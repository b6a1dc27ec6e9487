/** How a capture is asked for, and where its files lie. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { withAddresses } from '../../../../src/core/css/syntax/references.ts';
import { parseCookies } from '../../../../src/lib/server/capture/cookies.ts';
import { makePlaces } from '../../../../src/lib/server/capture/places.ts';
import { parseStep } from '../../../../src/lib/server/capture/steps.ts';

describe('steps', () => {
  const READ: [string, unknown][] = [
    ['click .menu > a', { do: 'click', selector: '.menu > a' }],
    ['hover nav li', { do: 'hover', selector: 'nav li' }],
    ['fill input[name="a"] = one = two', { do: 'fill', selector: 'input[name="a"]', text: 'one = two' }],
    ['fill #a = ', { do: 'fill', selector: '#a', text: '' }],
    ['press Control+A', { do: 'press', key: 'Control+A' }],
    ['wait 250', { do: 'wait', ms: 250 }],
    ['wait .ready', { do: 'wait', selector: '.ready' }],
    ['scroll 1200', { do: 'scroll', y: 1200 }],
  ];
  for (const [written, step] of READ)
    test(`“${written}” is read`, () => {
      assert.deepEqual(parseStep(written), step);
    });
  for (const [written, why] of [
    ['jump .menu', /is no step/],
    ['click', /is no step/],
    ['fill #a', /does not say what to fill in/],
    ['wait 90000', /longer than 60,000 ms/],
    ['scroll down', /does not say how far/],
  ] as const)
    test(`“${written}” is refused`, () => {
      assert.throws(() => parseStep(written), why);
    });
});

describe('cookies', () => {
  test('are read from a Netscape file: subdomains, comments, HttpOnly, expiry', () => {
    const found = parseCookies(
      [
        '# Netscape HTTP Cookie File',
        '',
        '#HttpOnly_harbour.example\tFALSE\t/app\tTRUE\t1900000000\tsession\ta=b',
        'harbour.example\tTRUE\t/\tFALSE\t0\ttheme\tday',
      ].join('\r\n'),
    );
    assert.deepEqual(
      found.map(({ domain, path, secure, expires, name, value, httpOnly }) => [
        domain,
        path,
        secure,
        expires,
        name,
        value,
        httpOnly,
      ]),
      [
        ['harbour.example', '/app', true, 1900000000, 'session', 'a=b', true],
        ['.harbour.example', '/', false, -1, 'theme', 'day', false],
      ],
    );
  });
  test('are read from a storage state', () => {
    const [cookie] = parseCookies(
      '{"cookies":[{"name":"s","value":"1","domain":"harbour.example"}],"origins":[]}',
    );
    assert.equal(cookie?.path, '/');
  });
  for (const [text, why] of [
    ['a b c', /line 1 has 1 fields/],
    ['{"cookies": [', /begins like JSON and is none/],
    ['{"cookies": [{"name": "s"}]}', /cookies\.0\.value/],
  ] as const)
    test(`“${text}” is refused`, () => {
      assert.throws(() => parseCookies(text), why);
    });
});

describe('places of what a live page has loaded', () => {
  const PAGE = new URL('http://harbour.example/app/list?page=2');
  /** What was loaded in this order with its type; where it lies; what stands for its address, null: it says the same. */
  const LOADED: [string, string, string, string | null][] = [
    ['http://harbour.example/app/list?page=2', 'text/html', 'app/list.html', '/app/list.html'],
    ['http://harbour.example/css/a.css', 'text/css', 'css/a.css', null],
    ['http://harbour.example/css/a.css?v=2', 'text/css', 'css/a~2.css', '/css/a~2.css'],
    ['http://harbour.example/style', 'text/css', 'style.css', '/style.css'],
    ['http://harbour.example/image?id=1', 'image/png', 'image.png', '/image.png'],
    ['http://harbour.example/image?id=2', 'image/png', 'image~2.png', '/image~2.png'],
    ['http://harbour.example/', 'text/html', 'index.html', null],
    ['http://harbour.example/a%20b/c.svg#part', 'image/svg+xml', 'a b/c.svg', null],
    [
      'https://fonts.example:8443/css2?family=Plex',
      'text/css',
      '_hosts/fonts.example_8443/css2.css',
      '/_hosts/fonts.example_8443/css2.css',
    ],
    [
      'http://harbour.example/%2e%2e%2f%2e%2e%2fetc/passwd.css',
      'text/css',
      'etc/passwd.css',
      '/etc/passwd.css',
    ],
  ];
  const places = makePlaces(PAGE);
  for (const [address, type, path] of LOADED)
    test(`${address} lies at ${path}`, () => {
      const found = places.place(new URL(address), type);
      assert.equal(found, path);
      assert.equal(places.place(new URL(address), type), found);
    });
  test('what says the same by itself is left as it is written', () => {
    for (const [address, , , standing] of LOADED.slice(0, -1))
      assert.equal(places.standing(address), standing, address);
    assert.equal(places.standing('http://harbour.example/not-loaded.css'), null);
    places.alias('http://harbour.example/old.css', new URL('http://harbour.example/style'));
    assert.equal(places.standing('http://harbour.example/old.css'), '/style.css');
  });
});

test('addresses of a style sheet are replaced, and nothing else of it', () => {
  const css = `@charset "utf-8"; @import "a.css" screen; @import url(b.css); /* url(c.png) */
.a { background: url( "d.png" ), url(e.png); content: "f.png"; mask: url('g.svg#h') } @namespace url(http://www.w3.org/1999/xhtml);`;
  const seen: string[] = [];
  const same = withAddresses(css, (address) => {
    seen.push(address);
    return null;
  });
  assert.equal(same, css);
  assert.deepEqual(seen, ['a.css', 'b.css', 'd.png', 'e.png', 'g.svg#h']);
  assert.match(
    withAddresses(css, (address) => `/x/${address}`),
    /@import "\/x\/a\.css" screen; @import url\("\/x\/b\.css"\);/,
  );
});
