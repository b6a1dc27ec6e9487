/** `npm run golden`: all that is said of a list of pages, to be compared before and after a change. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/golden/run.ts'), ...process.argv.slice(2)],
  'Writing down what is said',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
