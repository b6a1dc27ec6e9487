/** `normetra atlas`: what an engine gives every HTML element when the author says nothing. */
import { readFileSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { layeredBoth } from '../core/css/defaults/underlay.ts';
import { atlasText, differencesText } from '../core/reports/atlas.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import { measureEngine } from '../lib/server/engines/headless.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { readAtlasOptions, writableFile } from './options.ts';

export async function atlas(argv: string[]): Promise<number> {
  const { engine, sheet, name, title, against, mode, json, out } = readAtlasOptions(argv);
  if (out !== null) await writableFile(out);
  const text = sheet === null ? null : readSheet(sheet);
  const named = { name: name ?? engine, title: title ?? name ?? engine };
  const made = `normetra atlas --engine ${engine}${text === null ? '' : ' --sheet'}`;
  const profile = await measureEngine(engine, { ...named, made }, text === null ? null : layeredBoth(text));
  const other = against === null ? null : askedDefaults(against);
  if (against !== null && (other === null || !('standards' in other)))
    throw new Refusal(`--against names a profile, and ${against} is none.`);
  const result = (): string => {
    if (json) return JSON.stringify(profile);
    return other && 'standards' in other ? differencesText(profile, other, mode) : atlasText(profile, mode);
  };
  if (out === null) await new Promise<void>((done) => process.stdout.write(`${result()}\n`, () => done()));
  else await writeFile(out, `${JSON.stringify(profile)}\n`);
  return 0;
}

function readSheet(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    throw new Refusal(`There is no style sheet ${path}.`);
  }
}
