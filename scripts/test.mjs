/** `npm test`: everything from a fresh clone to all checks passed. Names of test files may be given to run those alone. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ensureEngine } from './engine.mjs';
import {
  bin,
  buildApplication,
  checkNode,
  installPackages,
  prepareDatabase,
  ROOT,
  run,
  say,
} from './setup.mjs';

checkNode();
installPackages();
ensureEngine();
prepareDatabase();

const wanted = process.argv.slice(2);
if (wanted.length === 0) {
  say('checking types, style and layers …');
  run(bin('svelte-kit'), ['sync'], 'Preparing the types');
  for (const part of ['core', 'protocol', 'collector', 'station'])
    run(bin('tsc'), ['--noEmit', '-p', `tsconfig.${part}.json`], `The type check of src/${part}`);
  run(bin('tsc'), ['--noEmit', '-p', 'tsconfig.node.json'], 'The type check of tests and scripts');
  run(
    bin('svelte-check'),
    ['--tsconfig', './tsconfig.json', '--fail-on-warnings', '--output', 'human'],
    'The type check',
  );
  run(bin('eslint'), ['.', '--max-warnings', '0'], 'The style and layer check');
  run(bin('prettier'), ['--check', '--log-level', 'warn', '.'], 'The format check');
}
buildApplication();

const files = ['src', 'tests']
  .flatMap((folder) =>
    readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' }).map((name) => join(folder, name)),
  )
  .filter((name) => name.endsWith('.test.ts'))
  .filter((name) => wanted.length === 0 || wanted.some((one) => name.includes(one)))
  .sort();
say(`running ${files.length} test files …`);
run(
  process.execPath,
  ['--import', 'tsx', '--test', '--test-concurrency=2', '--test-reporter=spec', ...files],
  'The tests',
  {
    env: { ...process.env, NORMETRA_ROOT: ROOT },
  },
);
