/** `npm run faults`: faults planted on real pages, and what is found of them. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/faults/run.ts')],
  'The planting of faults',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
