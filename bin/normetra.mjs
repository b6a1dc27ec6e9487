#!/usr/bin/env node
/** Puts the command into one file, anew when its sources have changed, and runs that: it starts in half the time. */
import { build } from 'esbuild';
import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const bundle = join(root, 'node_modules', '.cache', 'normetra', 'cli.mjs');
const SOURCES = ['src/cli', 'src/core', 'src/station', 'src/collector', 'src/lib/server'];

const changed = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const newest = Math.max(
  changed(fileURLToPath(import.meta.url)),
  ...SOURCES.flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true }).map((name) => changed(join(root, folder, name))),
  ),
);

if (changed(bundle) < newest) {
  mkdirSync(dirname(bundle), { recursive: true });
  await build({
    entryPoints: [join(root, 'src/cli/main.ts')],
    outfile: bundle,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external: ['playwright-core', 'esbuild', 'css-tree'],
    // Packages that ask for others by `require` find it under this name.
    banner: {
      js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);",
    },
    tsconfigRaw: {},
    logLevel: 'silent',
  });
}
process.env.NORMETRA_ROOT = root;
await import(pathToFileURL(bundle).href);
