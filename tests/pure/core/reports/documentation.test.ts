/** What is made from the source and committed is as the source makes it. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { rulePages } from '../../../../src/core/reports/rule-pages.ts';
import { schemaTexts } from '../../../../src/core/reports/schemas.ts';
import { ROOT } from '../../../../src/lib/server/root.ts';

for (const [folder, texts] of [
  ['docs/schema', schemaTexts()],
  ['docs/rules', rulePages()],
] as const)
  test(`${folder} is that of the code`, () => {
    for (const [name, text] of Object.entries(texts))
      assert.equal(readFileSync(join(ROOT, folder, name), 'utf8'), text, `${name}: run npm run docs`);
  });
