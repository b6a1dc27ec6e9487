import assert from 'node:assert/strict';
import { test } from 'node:test';
import { cutDiff } from '../../../../src/core/reports/cut.ts';

const minified = `${'a{b:c}'.repeat(3000)}.x{width:10px}${'d{e:f}'.repeat(3000)}`;

test('a diff of short lines stays as it is', () => {
  const diff = '--- a/x\n+++ b/x\n@@ -1 +1 @@\n-a\n+b\n';
  assert.deepEqual(cutDiff(diff), { diff, isCut: false });
});

test('a line of a minified sheet is cut to what is around the change', () => {
  const diff = `--- a/x\n+++ b/x\n@@ -1 +1 @@\n-${minified}\n+${minified.replace('10px', '12px')}\n`;
  const { diff: cut, isCut } = cutDiff(diff);
  assert.ok(isCut && cut.length < 1000, String(cut.length));
  assert.match(cut, /^-….*\.x\{width:10px\}.*…$/m);
  assert.match(cut, /^\+….*\.x\{width:12px\}.*…$/m);
});

test('what only comes or goes, and what stays, is cut at its end', () => {
  const { diff } = cutDiff(` ${minified}\n-${minified}\n`);
  for (const line of diff.split('\n')) assert.ok(line.length < 300);
});
