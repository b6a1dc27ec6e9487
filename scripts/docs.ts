import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { rulePages } from '../src/core/reports/rule-pages.ts';
import { schemaTexts } from '../src/core/reports/schemas.ts';
import { ROOT } from '../src/lib/server/root.ts';

const write = (path: string, text: string): void => {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
};

for (const [name, text] of Object.entries(schemaTexts())) write(join(ROOT, 'docs/schema', name), text);
rmSync(join(ROOT, 'docs/rules'), { recursive: true, force: true });
for (const [name, text] of Object.entries(rulePages())) write(join(ROOT, 'docs/rules', name), text);
