/** `npm run check`: types, style, layers, format and the pure tests; no browser and no build. */
import { spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bin, checkNode, installPackages, ROOT, run, say } from './setup.mjs';

/** Types, style, layers and format. */
export function runChecks() {
  say('checking types, style, layers and format …');
  run(bin('svelte-kit'), ['sync'], 'Preparing the types');
  for (const part of ['core', 'protocol', 'collector', 'station'])
    run(bin('tsc'), ['--noEmit', '-p', `tsconfig.${part}.json`], `The type check of src/${part}`);
  run(bin('tsc'), ['--noEmit', '-p', 'tsconfig.node.json'], 'The type check of tests and scripts');
  run(
    bin('svelte-check'),
    ['--tsconfig', './tsconfig.json', '--fail-on-warnings', '--output', 'human'],
    'The type check',
  );
  run(
    bin('eslint'),
    ['.', '--max-warnings', '0', '--cache', '--cache-location', 'node_modules/.cache/eslint/'],
    'The style and layer check',
  );
  run(bin('prettier'), ['--check', '--log-level', 'warn', '--cache', '.'], 'The format check');
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  checkNode();
  installPackages();
  runChecks();
  say('running the pure tests …');
  const files = readdirSync(join(ROOT, 'tests/pure'), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => join('tests/pure', name));
  const { status } = spawnSync(
    process.execPath,
    ['--import', 'tsx', '--test', '--test-concurrency=2', '--test-reporter=dot', ...files],
    { cwd: ROOT, stdio: 'inherit', env: { ...process.env, NORMETRA_ROOT: ROOT } },
  );
  process.exit(status ?? 1);
}
