/** `npm run atlas`: measures the profiles of default styles that come with the application. */
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import { checkNode, installPackages, ROOT, run } from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
const PROFILES = [
  ['chromium', 'Chromium', ['--engine', 'chromium']],
  ['firefox', 'Firefox ESR', ['--engine', 'firefox']],
  ['html-standard', 'HTML standard, suggested rendering', ['--sheet', join(ROOT, 'atlas/html-standard.css')]],
  ['nothing', 'Nothing at all', ['--sheet', join(ROOT, 'atlas/nothing.css')]],
];
for (const [name, title, how] of PROFILES)
  run(
    process.execPath,
    [
      '--import',
      'tsx',
      join(ROOT, 'src/cli/main.ts'),
      'atlas',
      ...how,
      ...['--name', name, '--title', title],
      ...['--out', join(ROOT, `atlas/${name}.json`)],
    ],
    `The profile of ${title}`,
    { env: { ...process.env, NORMETRA_ROOT: ROOT } },
  );
