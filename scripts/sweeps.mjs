/** `npm run sweeps`: sweeps held against scans of every width. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
const script = join(ROOT, 'tests/sweep/exhaustive.ts');
run(process.execPath, ['--import', 'tsx', script, ...process.argv.slice(2)], 'The scan', {
  env: { ...process.env, NORMETRA_ROOT: ROOT },
});
