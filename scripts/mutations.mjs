/** `npm run mutations`: declarations of sound pages changed at random, and what is found of the harm. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/mutations/run.ts')],
  'The changing of declarations',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
