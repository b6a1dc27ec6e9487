/** `npm start`: everything from a fresh clone to the application served. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildApplication, checkNode, installPackages, prepareDatabase, ROOT } from './setup.mjs';

checkNode();
installPackages();
prepareDatabase();
buildApplication();
const child = spawn(process.execPath, [join(ROOT, 'bin/normetra.mjs'), 'serve', ...process.argv.slice(2)], {
  stdio: 'inherit',
  cwd: ROOT,
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code) => process.exit(code ?? 0));
