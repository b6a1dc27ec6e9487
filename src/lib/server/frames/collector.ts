import { build } from 'esbuild';
import { join } from 'node:path';
import { ROOT } from '../root.ts';

let script: Promise<string> | undefined;

/** The collector as one script, made from its source the first time that it is asked for. */
export function collectorScript(): Promise<string> {
  script ??= build({
    entryPoints: [join(ROOT, 'src/collector/main.ts')],
    bundle: true,
    minify: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    tsconfigRaw: {},
    legalComments: 'none',
  }).then(({ outputFiles }) => outputFiles[0]!.text.replace(/<\/script/gi, '<\\/script').trim());
  return script;
}
