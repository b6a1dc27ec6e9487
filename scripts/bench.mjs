/** `npm run bench`: times as ratios against a baseline measured in the same run. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { buildApplication, checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
buildApplication();
run(process.execPath, ['--import', 'tsx', join(ROOT, 'tests/harness/bench/run.ts')], 'The benchmark', {
  env: { ...process.env, NORMETRA_ROOT: ROOT },
});
