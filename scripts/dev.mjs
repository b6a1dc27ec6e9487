/** `npm run dev`: the application from its sources, changed as they change. */
import { join } from 'node:path';
import { checkNode, installPackages, prepareDatabase, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
prepareDatabase();
run(
  process.execPath,
  [join(ROOT, 'node_modules/vite/bin/vite.js'), 'dev', ...process.argv.slice(2)],
  'The development server',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
