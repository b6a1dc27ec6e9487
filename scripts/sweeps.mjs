/** `npm run sweeps`: sweeps held against scans of every width. */
import { bundled, INLINE_LESS } from './bundle.mjs';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();
const script = await bundled(ROOT, 'tests/harness/sweep/exhaustive.ts', ['tests']);
run(process.execPath, [INLINE_LESS, script, ...process.argv.slice(2)], 'The scan', {
  env: { ...process.env, NORMETRA_ROOT: ROOT },
});
