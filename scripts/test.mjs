/**
 * `npm test`: everything from a fresh clone to all checks passed. Parts of names of test files may be given to run those alone;
 * `--watch` runs them again whenever a source changes.
 */
import { spawn } from 'node:child_process';
import { readdirSync, watch } from 'node:fs';
import { join } from 'node:path';
import { runChecks, testArguments } from './check.mjs';
import { ensureEngine } from './engine.mjs';
import { buildApplication, checkNode, installPackages, prepareDatabase, ROOT, say, stop } from './setup.mjs';

/** Processes that run at once: one for each core of a small machine, since engines take a core each. */
const AT_ONCE = 2;
const SLOWEST = 10;
/** A process that takes longer hangs, and would keep all others from being told. */
const MOST_MS = 15 * 60_000;
/** Processes that the tests of the engine are shared out to: each has one engine. */
const ENGINE_GROUPS = 8;

const isWatching = process.argv.includes('--watch');
const wanted = process.argv.slice(2).filter((argument) => !argument.startsWith('--'));

const files = readdirSync(join(ROOT, 'tests'), { recursive: true, encoding: 'utf8' })
  .map((name) => join('tests', name))
  .filter((name) => name.endsWith('.test.ts'))
  .filter((name) => wanted.length === 0 || wanted.some((part) => name.includes(part)))
  .sort();
if (files.length === 0) stop(`No test file has ${wanted.join(' or ')} in its name. They are under tests/.`);
const needs = (folder) => files.some((name) => name.startsWith(join('tests', folder)));

/** Ends what is being run. */
const running = new Set();
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    for (const kill of running) kill();
    process.exit(1);
  });

/** What is run in one process: test files that need no more than others do share what takes long to start. */
function jobsOf(list) {
  if (wanted.length > 0) return list.map((file) => ({ name: file, files: [file] }));
  const of = (folder) => list.filter((file) => file.startsWith(join('tests', folder)));
  const [pure, engine, application] = ['pure', 'engine', 'application'].map(of);
  const groups = Array.from({ length: ENGINE_GROUPS }, (_, n) => ({
    name: `tests/engine, ${n + 1} of ${ENGINE_GROUPS}`,
    files: engine.filter((_file, at) => at % ENGINE_GROUPS === n),
  }));
  return [
    ...application.map((file) => ({ name: file, files: [file] })),
    ...groups,
    { name: 'tests/pure', files: pure },
  ];
}

/** Runs the files of a job in one process; its output is kept together. */
function runJob({ name, files: list }) {
  const began = performance.now();
  const child = spawn(process.execPath, testArguments(list), {
    cwd: ROOT,
    env: { ...process.env, NORMETRA_ROOT: ROOT, FORCE_COLOR: '0' },
    stdio: ['ignore', 'pipe', 'pipe'],
    detached: true,
  });
  let said = '';
  // With all that it has started: engines, applications.
  const kill = () => {
    try {
      process.kill(-child.pid, 'SIGKILL');
    } catch (error) {
      if (error.code !== 'ESRCH') throw error;
    }
  };
  running.add(kill);
  const limit = setTimeout(() => {
    said += `\nnormetra: stopped after ${MOST_MS / 60_000} minutes.\n`;
    kill();
  }, MOST_MS);
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
  return new Promise((resolve) => {
    child.once('exit', (code) => {
      clearTimeout(limit);
      running.delete(kill);
      const count = (word) => Number(new RegExp(`^ℹ ${word} (\\d+)$`, 'm').exec(said)?.[1] ?? 0);
      const seconds = (performance.now() - began) / 1000;
      const [passed, failed] = [count('pass'), count('fail') + count('cancelled')];
      // What ends before its tests are told has failed as a whole.
      const isFailed = code !== 0 || failed > 0 || passed === 0;
      say(
        `${isFailed ? '✖' : '✔'} ${name}: ${passed} passed${failed ? `, ${failed} failed` : ''}, ${seconds.toFixed(1)} s`,
      );
      if (isFailed || wanted.length > 0) console.log(said);
      const tests = [...said.matchAll(/^[✔✖] (.*) \((\d+)(?:\.\d+)?ms\)$/gm)].map(([, title, ms]) => ({
        title: `${title} (${name})`,
        seconds: Number(ms) / 1000,
      }));
      resolve({ name, passed, failed, isFailed, tests });
    });
  });
}

async function runAll() {
  const queue = jobsOf(files);
  const results = [];
  const began = performance.now();
  const worker = async () => {
    for (let job = queue.shift(); job; job = queue.shift()) results.push(await runJob(job));
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  const sum = (word) => results.reduce((total, result) => total + result[word], 0);
  const slowest = results
    .flatMap(({ tests }) => tests)
    .sort((a, b) => b.seconds - a.seconds)
    .slice(0, SLOWEST);
  if (wanted.length === 0)
    say(
      `the slowest: ${slowest.map(({ title, seconds }) => `\n  ${seconds.toFixed(0).padStart(4)} s  ${title}`).join('')}`,
    );
  const bad = results.filter(({ isFailed }) => isFailed);
  say(
    `${sum('passed')} tests passed, ${sum('failed')} failed, in ${files.length} files and ${((performance.now() - began) / 1000).toFixed(0)} s`,
  );
  if (bad.length > 0) say(`failed: ${bad.map(({ name }) => `\n  ${name}`).join('')}`);
  return bad.length === 0;
}

checkNode();
installPackages();
if (needs('engine') || needs('application')) ensureEngine();
if (needs('application') || needs('pure')) prepareDatabase();
if (wanted.length === 0) await runChecks();
if (needs('application')) buildApplication();
say(`running ${files.length} test files …`);
const isGood = await runAll();
if (!isWatching) process.exit(isGood ? 0 : 1);

let timer;
let last = Promise.resolve();
for (const folder of ['src', 'tests'])
  watch(join(ROOT, folder), { recursive: true }, () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      last = last.then(() => {
        if (needs('application')) buildApplication();
        return runAll();
      });
    }, 300);
  });
say('waiting for changes in src and tests; Ctrl C ends it');
