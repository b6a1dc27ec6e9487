/** What older versions said of findings by a key alone. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { fromKey, keyOfGrade } from '../../../../src/lib/server/database/grades.ts';

const KEYS: [key: string, rule: string, place: string, declaration: string][] = [
  ['gap y body > p', 'gap', 'body > p', ''],
  ['overflow x body > main > div:nth-child(2)', 'overflow', 'body > main > div:nth-child(2)', ''],
  ['inert x float left', 'inert', '', 'float: left'],
  ['dropped x padding 8 px 12px', 'dropped', '', 'padding: 8 px 12px'],
  ['inert x body > div > span', 'inert', 'body > div > span', ''],
  ['same', '', '', ''],
];

describe('keys of older versions', () => {
  for (const [key, rule, place, declaration] of KEYS)
    test(key, () => assert.deepEqual(fromKey(key), { rule, place, declaration }));

  test('what is said of one thing has one key', () => {
    assert.equal(keyOfGrade({ rule: 'size', place: '', declaration: '' }), 'size');
    assert.notEqual(
      keyOfGrade({ rule: 'size', place: '.a', declaration: '' }),
      keyOfGrade({ rule: 'size', place: '', declaration: '.a' }),
    );
  });
});
