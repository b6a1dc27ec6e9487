/** `npm run grades`: labelled pages and their twins, and what is said of them by kind and grade. `NORMETRA_CASES` names the folders. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/grades/run.ts')],
  'The run over labelled pages',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
