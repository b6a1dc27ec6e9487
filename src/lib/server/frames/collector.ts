import { build } from 'esbuild';
import { join } from 'node:path';
import { ROOT } from '../root.ts';

const scripts = new Map<string, Promise<string>>();

/** The collector as one script, made from its source the first time that it is asked for. */
export const collectorScript = (): Promise<string> => scriptOf('main.ts');

/** The script of a document that holds a specimen's frame. */
export const holderScript = (): Promise<string> => scriptOf('frame-host.ts');

/** The script that freezes a live page. */
export const freezeScript = (): Promise<string> => scriptOf('freeze.ts');

function scriptOf(source: string): Promise<string> {
  const cached = scripts.get(source);
  if (cached) return cached;
  const script = build({
    entryPoints: [join(ROOT, 'src/collector', source)],
    bundle: true,
    minify: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    tsconfigRaw: {},
    legalComments: 'none',
  }).then(({ outputFiles }) => outputFiles[0]!.text.replace(/<\/script/gi, '<\\/script').trim());
  scripts.set(source, script);
  return script;
}
