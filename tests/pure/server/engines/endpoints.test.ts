/** WebDriver endpoints as the environment names them. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { endpointsOf, openEndpoint } from '../../../../src/lib/server/engines/drivers/endpoints.ts';

const NAMED: [string, Record<string, string>, [string, string][]][] = [
  ['none', {}, []],
  ['an empty text', { NORMETRA_WEBDRIVER: '' }, []],
  ['one address', { NORMETRA_WEBDRIVER: 'http://127.0.0.1:4444/' }, [['webdriver:1', 'http://127.0.0.1:4444']]],
  [
    'two, one of them with a name',
    { NORMETRA_WEBDRIVER: 'http://127.0.0.1:4444, safari=http://localhost:5555/wd/hub' },
    [
      ['webdriver:1', 'http://127.0.0.1:4444'],
      ['webdriver:safari', 'http://localhost:5555/wd/hub'],
    ],
  ],
];
for (const [name, environment, wanted] of NAMED)
  test(`endpoints: ${name}`, () =>
    assert.deepEqual(
      endpointsOf(environment).map((endpoint) => [endpoint.name, endpoint.url]),
      wanted,
    ));

const REFUSED: [string, Record<string, string>, RegExp][] = [
  ['no address', { NORMETRA_WEBDRIVER: 'grid' }, /names “grid”, which is no address/],
  ['another scheme', { NORMETRA_WEBDRIVER: 'ws://127.0.0.1:4444' }, /which is no address/],
  [
    'capabilities that are no JSON',
    { NORMETRA_WEBDRIVER: 'http://127.0.0.1:1', NORMETRA_WEBDRIVER_CAPABILITIES: '{browserName}' },
    /is no JSON object/,
  ],
  [
    'capabilities that are a list',
    { NORMETRA_WEBDRIVER: 'http://127.0.0.1:1', NORMETRA_WEBDRIVER_CAPABILITIES: '[]' },
    /is no JSON object/,
  ],
];
for (const [name, environment, wanted] of REFUSED)
  test(`endpoints refused: ${name}`, () => assert.throws(() => endpointsOf(environment), wanted));

for (const url of ['http://10.0.0.7:4444', 'http://browsers.example:4444'])
  test(`an endpoint on another machine is refused: ${url}`, () =>
    assert.rejects(openEndpoint({ name: 'webdriver:1', url, capabilities: {} }), /on another machine/));
