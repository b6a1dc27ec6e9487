import assert from 'node:assert/strict';
import { test } from 'node:test';
import { editSchema, type Edit } from '../../../../src/core/trials/edit.ts';
import { editsTogether } from '../../../../src/lib/ui/trial/together.ts';

const remove = (id: string, path: string): Edit =>
  editSchema.parse({ id, change: { do: 'remove', file: 'p.html', path } });
const ids = (edits: Edit[]): string[] => edits.map(({ id }) => id);

const CASES: [string, Edit[], Edit[], string[]][] = [
  ['what both have is there once', [remove('a', 'p')], [remove('a', 'p')], ['a']],
  [
    'what only one has stays, mine behind theirs',
    [remove('a', 'p'), remove('b', 'q')],
    [remove('a', 'p'), remove('c', 'r')],
    ['a', 'b', 'c'],
  ],
  [
    'one that says something else under the same id gets another',
    [remove('a', 'p')],
    [remove('a', 'q')],
    ['a', 'new'],
  ],
  ['the same said under another id is there once', [remove('a', 'p')], [remove('z', 'p')], ['a']],
  ['nothing of mine', [remove('a', 'p')], [], ['a']],
];
for (const [name, theirs, mine, expected] of CASES)
  test(name, () => assert.deepEqual(ids(editsTogether(theirs, mine, () => 'new')), expected));
