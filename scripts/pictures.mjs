/** `npm run pictures`: the pictures of the documentation, from the demo data. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { buildApplication, checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
buildApplication();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/pictures.ts'), ...process.argv.slice(2)],
  'Taking the pictures',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
