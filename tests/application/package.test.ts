/** The package as it is packed, used from a folder of somebody else's: its functions, its types, its command. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, test } from 'node:test';
import { ROOT } from '../../src/lib/server/root.ts';
import { temporaryFolder } from '../support/app.ts';

const folder = temporaryFolder();
// A test that runs tests is not a part of them.
const { NODE_TEST_CONTEXT: _, ...env } = process.env;
const run = (command: string, args: string[], cwd = folder): string => {
  try {
    return execFileSync(command, args, { cwd, encoding: 'utf8', env, stdio: ['ignore', 'pipe', 'pipe'] });
  } catch (error) {
    const { stdout, stderr } = error as { stdout: string; stderr: string };
    throw new Error(`${command} ${args.join(' ')}:\n${stdout}\n${stderr}`, { cause: error });
  }
};

before(() => {
  run('npm', ['pack', '--silent', '--pack-destination', folder], ROOT);
  const [tarball] = readdirSync(folder).filter((name) => name.endsWith('.tgz'));
  const installed = join(folder, 'node_modules/normetra');
  mkdirSync(installed, { recursive: true });
  run('tar', ['-xzf', join(folder, tarball!), '--strip-components=1', '-C', installed]);
  // What it depends on is there already: nothing is asked of the network.
  for (const name of readdirSync(join(ROOT, 'node_modules')))
    if (!name.startsWith('.'))
      symlinkSync(join(ROOT, 'node_modules', name), join(folder, 'node_modules', name));
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ name: 'mine', type: 'module' }));
  writeFileSync(
    join(folder, 'page.html'),
    '<!doctype html><meta name=viewport content="width=device-width"><style>.card { width: 300px; padding: 20px } .band { width: 900px }</style><div class=card>x</div><div class=band>y</div>',
  );
  writeFileSync(
    join(folder, 'page.test.ts'),
    `import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { openEngine, read, type Engine } from 'normetra';

let engine: Engine;
before(async () => {
  engine = await openEngine();
});
after(() => engine.close());

test('the page is no wider than its viewport', async () => {
  const { findings } = await engine.find('page.html', { widths: [640] });
  const wide = findings.filter(({ rule, meant }) => rule === 'overflow/page' && meant === '');
  assert.deepEqual(wide.map(({ subject, px }) => [subject, px]), [['body > div:nth-child(2)', 268]]);
});

test('a card is 340 px wide', async () => {
  const { boxes } = await read('page.html');
  const card = boxes.find(({ label }) => label === 'div.card');
  assert.equal(card?.width.used, 340);
});
`,
  );
});
after(() => rmSync(folder, { recursive: true, force: true }));

test('a test of somebody else’s runs, with the functions of the package', () => {
  const said = run(process.execPath, ['--import', 'tsx', '--test', '--test-reporter=spec', 'page.test.ts']);
  assert.match(said, /pass 2\n/);
});

test('its types are whole, and wrong uses are refused', () => {
  const options = ['--noEmit', '--strict', '--skipLibCheck', '--target', 'es2022', '--module', 'nodenext'];
  const types = ['--types', 'node'];
  run(process.execPath, [join(ROOT, 'node_modules/typescript/bin/tsc'), ...options, ...types, 'page.test.ts']);
  writeFileSync(
    join(folder, 'wrong.ts'),
    "import { find } from 'normetra';\nvoid find('page.html', { widths: 640 });\nvoid find('a').then(({ findings }) => findings[0]!.nothing);\n",
  );
  assert.throws(
    () => run(process.execPath, [join(ROOT, 'node_modules/typescript/bin/tsc'), ...options, 'wrong.ts']),
    /wrong\.ts\(2[\s\S]*wrong\.ts\(3/,
  );
});

test('its command measures a page', () => {
  const said = run(process.execPath, [
    'node_modules/normetra/bin/normetra.mjs',
    'read',
    'page.html',
    '--select',
    '.card',
  ]);
  assert.match(said, /340 wide = 300 content/);
});
