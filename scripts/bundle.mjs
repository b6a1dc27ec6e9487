/** Scripts put into one file, anew when their sources have changed: what runs so starts and works in half the time. */
import { build } from 'esbuild';
import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const SOURCES = ['src/cli', 'src/core', 'src/station', 'src/collector', 'src/lib/server'];

const changed = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const newestIn = (folder) =>
  Math.max(0, ...readdirSync(folder, { recursive: true }).map((name) => changed(join(folder, name))));

/** For the engine that runs a bundle: to compile much into one function costs more than it saves in a run of some seconds. */
export const INLINE_LESS = '--max-inlined-bytecode-size-cumulative=200';

/** The bundle of a script, by its path under `root`. `beside`: folders that it asks besides the sources. */
export async function bundled(root, script, beside = []) {
  const bundle = join(
    root,
    'node_modules/.cache/normetra',
    script.replace(/\W+/g, '-').replace(/-ts$/, '.mjs'),
  );
  const newest = Math.max(
    changed(fileURLToPath(import.meta.url)),
    ...[...SOURCES, ...beside].map((folder) => newestIn(join(root, folder))),
  );
  if (changed(bundle) >= newest) return bundle;
  mkdirSync(dirname(bundle), { recursive: true });
  await build({
    entryPoints: [join(root, script)],
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
  return bundle;
}
