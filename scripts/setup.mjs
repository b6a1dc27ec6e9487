/** Set-up that both commands do before anything else, with Node alone: packages, and what they are used for. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '..');
const CACHE = join(ROOT, 'node_modules', '.cache', 'normetra');

export function say(text) {
  console.log(`normetra: ${text}`);
}

export function stop(text) {
  console.error(`normetra: ${text}`);
  process.exit(1);
}

/** Runs a program with its output shown; ends this process when it fails. */
export function run(command, args, what, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
  if (error) stop(`${command} could not be started (${error.message}). Is it installed?`);
  if (status !== 0) stop(`${what} failed (${command} ${args.join(' ')}).`);
}

export const bin = (name) => join(ROOT, 'node_modules', '.bin', name);

const hashOf = (...texts) => {
  const hash = createHash('sha256');
  for (const text of texts) hash.update(text);
  return hash.digest('hex');
};

const remembered = (name) => {
  const file = join(CACHE, name);
  return existsSync(file) ? readFileSync(file, 'utf8') : '';
};

function remember(name, value) {
  mkdirSync(CACHE, { recursive: true });
  writeFileSync(join(CACHE, name), value);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    stop(`Node ${process.versions.node} is too old: 20.19 or newer is needed.`);
}

/** Installs the packages that package-lock.json names, when they are not there as it says. */
export function installPackages() {
  const wanted = hashOf(readFileSync(join(ROOT, 'package-lock.json')), process.version);
  if (remembered('packages') === wanted) return;
  say('installing packages (a minute on a fresh machine) …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], 'Installing packages', {
    shell: process.platform === 'win32',
  });
  remember('packages', wanted);
}

function filesUnder(folder) {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((name) => join(folder, name))
    .filter((path) => statSync(path).isFile())
    .sort();
}

/** Builds the application when its sources have changed since the last build. */
export function buildApplication() {
  const sources = [...filesUnder(join(ROOT, 'src')), ...filesUnder(join(ROOT, 'static'))].filter(
    (path) => !path.endsWith('.test.ts'),
  );
  const settings = ['package-lock.json', 'svelte.config.js', 'vite.config.ts'].map((name) => join(ROOT, name));
  const wanted = hashOf(...[...sources, ...settings].flatMap((path) => [path, readFileSync(path)]));
  if (remembered('build') === wanted && existsSync(join(ROOT, 'build', 'handler.js'))) return;
  say('building the application …');
  run(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'error'],
    'The build',
  );
  remember('build', wanted);
}

/** Makes the database that every new data folder starts as a copy of. */
export function prepareDatabase() {
  const wanted = hashOf(
    ...filesUnder(join(ROOT, 'drizzle')).map((path) => readFileSync(path)),
    readFileSync(join(ROOT, 'package-lock.json')),
  );
  if (remembered('database') === wanted && existsSync(join(CACHE, 'database.tgz'))) return;
  say('preparing an empty database (once) …');
  run(process.execPath, ['--import', 'tsx', join(ROOT, 'scripts/template.ts')], 'Preparing the database');
  remember('database', wanted);
}
