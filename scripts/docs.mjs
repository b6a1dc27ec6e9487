/** `npm run docs`: writes what is made from the source: the JSON Schemas of documents, and a page for every rule. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from './setup.mjs';

const { status } = spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'scripts/docs.ts')], {
  stdio: 'inherit',
});
process.exit(status ?? 1);
