/** `npm run check`: types, style, layers, format and the pure tests; no browser and no build. */
import { spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { bin, checkNode, installPackages, ROOT, run, say, stop } from './setup.mjs';

const AT_ONCE = 2;
const CACHE = 'node_modules/.cache';

const types = (part) => ({
  what: `types of ${part}`,
  command: bin('tsc'),
  args: [
    '-p',
    `tsconfig.${part}.json`,
    '--noEmit',
    '--incremental',
    '--tsBuildInfoFile',
    `${CACHE}/tsc/${part}.tsbuildinfo`,
  ],
});

/** The longest first. */
const CHECKS = [
  {
    what: 'types of the interface',
    command: bin('svelte-check'),
    args: ['--tsconfig', './tsconfig.json', '--fail-on-warnings', '--output', 'human'],
  },
  types('node'),
  {
    what: 'style and layers',
    command: bin('eslint'),
    args: [
      '.',
      '--max-warnings',
      '0',
      '--cache',
      '--cache-strategy',
      'content',
      '--cache-location',
      `${CACHE}/eslint/`,
    ],
  },
  types('core'),
  types('collector'),
  types('station'),
  types('protocol'),
  {
    what: 'format',
    command: bin('prettier'),
    args: ['--check', '--log-level', 'warn', '--cache', '--cache-strategy', 'content', '.'],
  },
];

/** Runs one check; its output is shown where it fails. */
function runCheck({ what, command, args }) {
  const began = performance.now();
  const child = spawn(command, args, { cwd: ROOT, env: { ...process.env, NORMETRA_ROOT: ROOT } });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
  return new Promise((resolve) => {
    child.once('error', (error) => resolve(`${what}: ${command} could not be started (${error.message}).`));
    child.once('exit', (code) => {
      say(`${code === 0 ? '✔' : '✖'} ${what}, ${((performance.now() - began) / 1000).toFixed(1)} s`);
      resolve(code === 0 ? null : `${what}:\n${said}`);
    });
  });
}

/** Runs them two at a time; ends this process where one fails, after all have been run. */
async function runChecksOf(checks) {
  const queue = [...checks];
  const failures = [];
  const worker = async () => {
    for (let check = queue.shift(); check; check = queue.shift()) {
      const failure = await runCheck(check);
      if (failure) failures.push(failure);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  if (failures.length > 0) stop(`checks failed.\n${failures.join('\n')}`);
}

/** What Node is told to run test files one after another in one process: most of the time of a short one is its start. */
export const testArguments = (files) => [
  '--import',
  'tsx',
  '--test-reporter=spec',
  '--input-type=module',
  '--eval',
  files.map((file) => `await import(${JSON.stringify(pathToFileURL(join(ROOT, file)).href)});`).join('\n'),
];

/** Types, style, layers and format. */
export async function runChecks() {
  run(bin('svelte-kit'), ['sync'], 'Preparing the types');
  await runChecksOf(CHECKS);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  checkNode();
  installPackages();
  run(bin('svelte-kit'), ['sync'], 'Preparing the types');
  const files = readdirSync(join(ROOT, 'tests/pure'), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => join('tests/pure', name));
  const pure = {
    what: 'pure tests',
    command: process.execPath,
    args: testArguments(files),
  };
  await runChecksOf([pure, ...CHECKS]);
}
