/** Profiles of default styles: measured in an engine, or those that come with the application. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Requests } from '../../../protocol/protocol.ts';
import { GEOMETRY } from '../../../core/css/cascade/properties.ts';
import { ATLAS_KEYS } from '../../../core/css/defaults/keys.ts';
import { folded, profileSchema, type Mode, type Profile } from '../../../core/css/defaults/profile.ts';
import { Refusal } from '../ingest/refusal.ts';
import { ROOT } from '../root.ts';
import type { OtherDefaults } from './headless.ts';

type Ask = (mode: Mode, ask: Requests['defaults']['ask']) => Promise<Requests['defaults']['reply']>;

/** `ask`: the engine's defaults in an empty document of a mode. */
export async function measureProfile(
  ask: Ask,
  named: { name: string; title: string; engine?: Profile['engine']; made?: string },
): Promise<Profile> {
  const wanted = { keys: [...ATLAS_KEYS], properties: [...GEOMETRY] };
  const standards = folded(await ask('standards', wanted));
  const quirks = folded(await ask('quirks', wanted));
  return {
    normetra: 'atlas/1',
    engine: { name: '', version: '' },
    made: '',
    ...named,
    standards,
    quirks,
  };
}

const FOLDER = join(ROOT, 'atlas');

/** Names of the profiles that come with the application. */
export const profileNames = (): string[] =>
  readdirSync(FOLDER)
    .filter((file) => file.endsWith('.json'))
    .map((file) => file.slice(0, -5))
    .sort();

export const readProfile = (name: string): Profile =>
  profileSchema.parse(JSON.parse(readFileSync(join(FOLDER, `${name}.json`), 'utf8')));

/** What `--defaults` asks for; null: nothing but what the engine gives. Throws a Refusal where there is no such thing. */
export function askedDefaults(asked: string): OtherDefaults | null {
  if (asked === 'as-rendered') return null;
  if (profileNames().includes(asked)) return readProfile(asked);
  const read = (): string => {
    try {
      return readFileSync(asked, 'utf8');
    } catch {
      throw new Refusal(
        `--defaults is as-rendered, ${profileNames().join(', ')}, or a file: a style sheet (.css) or a profile of normetra atlas (.json). There is no file ${asked}.`,
      );
    }
  };
  const text = read();
  if (!asked.endsWith('.json')) return { css: text };
  const parse = (): unknown => {
    try {
      return JSON.parse(text);
    } catch {
      return null;
    }
  };
  const parsed = profileSchema.safeParse(parse());
  if (!parsed.success)
    throw new Refusal(
      `${asked} is no profile (${parsed.error.issues[0]?.path.join('.') || 'it is no JSON'}). Make one with normetra atlas --out FILE.`,
    );
  return parsed.data;
}
