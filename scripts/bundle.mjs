/** Scripts put into one file, anew when their sources have changed: what runs so starts and works in half the time. */
import { build } from 'esbuild';
import { readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const SOURCES = ['src/cli', 'src/core', 'src/protocol', 'src/collector', 'src/station', 'src/lib/server'];

const changed = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const newestIn = (folder) =>
  Math.max(0, ...readdirSync(folder, { recursive: true }).map((name) => changed(join(folder, name))));

/** How long older bundles stay: something may still run from them. */
const KEPT_MS = 7 * 24 * 3600 * 1000;

/** For the engine that runs a bundle: to compile much into one function costs more than it saves in a run of some seconds. */
export const INLINE_LESS = '--max-inlined-bytecode-size-cumulative=200';

/** The bundle of a script, by its path under `root`. `others`: folders that it asks besides the sources. */
export async function bundled(root, script, others = []) {
  const name = script.replace(/\W+/g, '-').replace(/-ts$/, '');
  const all = join(root, 'node_modules/.cache/normetra', name);
  const newest = Math.max(
    changed(fileURLToPath(import.meta.url)),
    ...[...SOURCES, ...others].map((folder) => newestIn(join(root, folder))),
  );
  // A folder for each state of the sources: what runs from an older one goes on loading its parts from there.
  const folder = join(all, String(Math.floor(newest)));
  const bundle = join(folder, 'main.mjs');
  if (changed(bundle) > 0) return bundle;
  // Made beside and renamed: whoever starts meanwhile finds all of it, or nothing.
  const beside = `${folder}.${process.pid}`;
  await build({
    entryPoints: { main: join(root, script) },
    outdir: beside,
    outExtension: { '.js': '.mjs' },
    // What a command does not use is not loaded.
    splitting: true,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external: ['playwright-core', 'esbuild', 'css-tree', '@electric-sql/pglite', 'open', 'proxy-chain'],
    // Packages that ask for others by `require` find it under this name.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
    tsconfigRaw: {},
    logLevel: 'silent',
  });
  try {
    renameSync(beside, folder);
  } catch (error) {
    // Another process has put the same there in this moment.
    if (error.code !== 'ENOTEMPTY' && error.code !== 'EEXIST') throw error;
    rmSync(beside, { recursive: true, force: true });
  }
  for (const other of readdirSync(all))
    if (changed(join(all, other)) < Date.now() - KEPT_MS)
      rmSync(join(all, other), { recursive: true, force: true });
  return bundle;
}
