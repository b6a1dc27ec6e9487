/** `npm run conformance`: the core held against the engine on every page of the corpus and the demo. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
run(
  process.execPath,
  ['--import', 'tsx', join(ROOT, 'tests/harness/conformance/run.ts'), ...process.argv.slice(2)],
  'The conformance run',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
