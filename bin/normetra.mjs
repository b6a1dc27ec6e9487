#!/usr/bin/env node
import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const child = spawn(
  process.execPath,
  ['--import', import.meta.resolve('tsx'), join(root, 'src/cli/main.ts'), ...process.argv.slice(2)],
  {
    stdio: 'inherit',
    env: { ...process.env, NORMETRA_ROOT: root },
  },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
