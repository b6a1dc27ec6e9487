import assert from 'node:assert/strict';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { describe, test } from 'node:test';
import { frameBase, guardRequest } from '../../../src/lib/server/request-guard.ts';

interface Seen {
  status: number;
  url: string;
  body: string;
  location: string;
}

function knock(
  method: string,
  host: string,
  url: string,
  headers: Record<string, string> = {},
  hosts: string[] = [],
): Seen {
  const seen: Seen = { status: 0, url: '', body: '', location: '' };
  const req = { method, url, headers: { host, ...headers } } as unknown as IncomingMessage;
  const res = {
    writeHead: (status: number, given: Record<string, string> = {}) => {
      seen.status = status;
      seen.location = given['location'] ?? '';
    },
    end: (body = '') => {
      seen.body = body;
    },
  } as unknown as ServerResponse;
  guardRequest(req, res, { hosts });
  seen.url = req.url ?? '';
  return seen;
}

const KEY = 'a'.repeat(32);
const CASES: [string, Parameters<typeof knock>, Partial<Seen>][] = [
  ['the application on loopback', ['GET', '127.0.0.1:4870', '/'], { status: 0, url: '/' }],
  [
    'a specimen on its own host',
    ['GET', `${KEY}.localhost:4870`, '/css/a.css'],
    { status: 0, url: `/frame/${KEY}/css/a.css` },
  ],
  [
    'a specimen in a room of its own',
    ['GET', `${KEY}.lab.localhost:4870`, '/css/a.css'],
    { status: 0, url: `/frame/${KEY}/css/a.css` },
  ],
  ['a host under a specimen’s that is no room', ['GET', `${KEY}.a.b.localhost:4870`, '/'], { status: 421 }],
  [
    'the API is not to be had on a specimen’s host',
    ['GET', `${KEY}.localhost:4870`, '/api/specimens'],
    { url: `/frame/${KEY}/api/specimens` },
  ],
  ['a specimen is only read', ['POST', `${KEY}.localhost:4870`, '/x'], { status: 405 }],
  ['another host name (DNS rebinding)', ['GET', 'evil.invalid:4870', '/'], { status: 421 }],
  ['a host that was named', ['GET', 'box.lan:4870', '/', {}, ['box.lan']], { status: 0 }],
  [
    'a change from a page of ours',
    ['POST', '127.0.0.1:4870', '/api/specimens', { origin: 'http://127.0.0.1:4870' }],
    { status: 0 },
  ],
  [
    'a change from elsewhere',
    ['POST', '127.0.0.1:4870', '/api/specimens', { origin: 'http://evil.invalid' }],
    { status: 403 },
  ],
  [
    'a change from an opaque origin',
    ['DELETE', '127.0.0.1:4870', '/api/specimens/x', { origin: 'null' }],
    { status: 403 },
  ],
  ['a change without an origin', ['PATCH', '127.0.0.1:4870', '/api/specimens/x'], { status: 403 }],
  [
    'a change from another port',
    ['POST', '127.0.0.1:4870', '/api/specimens', { origin: 'http://127.0.0.1:4871' }],
    { status: 403 },
  ],
  [
    'a root-relative address of a specimen under a path',
    [
      'GET',
      'box.lan:4870',
      '/assets/a.css',
      { referer: `http://box.lan:4870/frame/${KEY}/p.html` },
      ['box.lan'],
    ],
    { status: 307, location: `/frame/${KEY}/assets/a.css` },
  ],
];

describe('the guard', () => {
  for (const [name, args, expected] of CASES)
    test(name, () => {
      const seen = knock(...args);
      assert.deepEqual({ ...seen, ...expected }, seen);
    });
  test('where frames are', () => {
    assert.equal(frameBase('127.0.0.1:1', KEY), `http://${KEY}.localhost:1/`);
    assert.equal(frameBase('box.lan:1', KEY), `http://box.lan:1/frame/${KEY}/`);
  });
});
