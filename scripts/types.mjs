/** Before the package is packed: declarations of what it exports, into `types/`. */
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bin, ROOT, run } from './setup.mjs';

const folder = join(ROOT, 'types');
rmSync(folder, { recursive: true, force: true });
run(bin('tsc'), ['-p', 'tsconfig.package.json'], 'Writing the declarations');
// A declaration names others by what they are compiled to.
for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
  if (!name.endsWith('.d.ts')) continue;
  const path = join(folder, name);
  writeFileSync(
    path,
    readFileSync(path, 'utf8')
      .replace(/((?:from|import\()\s*'\.[^']*)\.ts'/g, "$1.js'")
      .replace(/((?:from|import\()\s*"\.[^"]*)\.ts"/g, '$1.js"'),
  );
}
