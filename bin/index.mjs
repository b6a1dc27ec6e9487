/** What `import { openEngine, read, find, sweep } from 'normetra'` gives. */
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { bundled } from '../scripts/bundle.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.env.NORMETRA_ROOT = root;
export const { openEngine, read, find, sweep } = await import(
  pathToFileURL(await bundled(root, 'src/lib/server/api.ts')).href
);
