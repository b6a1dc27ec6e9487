/** Default styles to measure under: profiles that come with the application, and style sheets of the user's own. */
import { GEOMETRY } from '$core/css/cascade/properties.ts';
import { ATLAS_KEYS } from '$core/css/defaults/keys.ts';
import { folded, profileSchema, type Mode, type Profile } from '$core/css/defaults/profile.ts';
import { layeredBoth, underlays } from '$core/css/defaults/underlay.ts';
import { openFrame } from '$station/frame.ts';
import { z } from 'zod';
import { frameAddress } from '../frames.ts';
import { send } from '../send.ts';

export const AS_RENDERED = 'as-rendered';

const listedSchema = z.object({
  name: z.string(),
  title: z.string(),
  engine: z.object({ name: z.string(), version: z.string() }),
});
export type Listed = z.infer<typeof listedSchema>;
const keySchema = z.object({ key: z.string() });

const ownSchema = z.array(z.object({ name: z.string().min(1), css: z.string() }));
export type OwnSheet = z.infer<typeof ownSchema>[number];
const OWN = 'own-defaults';

/** Style sheets that the user brought, under names. */
export function ownSheets(): OwnSheet[] {
  const parsed = ownSchema.safeParse(JSON.parse(localStorage.getItem(OWN) ?? '[]'));
  return parsed.success ? parsed.data : [];
}
export function keepSheet(sheet: OwnSheet): void {
  localStorage.setItem(OWN, JSON.stringify([...ownSheets().filter(({ name }) => name !== sheet.name), sheet]));
}
export function dropSheet(name: string): void {
  localStorage.setItem(OWN, JSON.stringify(ownSheets().filter((ownSheet) => ownSheet.name !== name)));
}

export const listProfiles = (): Promise<Listed[]> => send('GET', '/api/atlas', z.array(listedSchema));
export const readProfile = (name: string): Promise<Profile> =>
  send('GET', `/api/atlas/${encodeURIComponent(name)}`, profileSchema);

/** Measures the engine at hand in empty documents that are served under a key. */
async function measured(
  host: string,
  key: string,
  folder: string,
  named: Pick<Profile, 'name' | 'title'>,
): Promise<Profile> {
  const holder = document.body.appendChild(document.createElement('div'));
  holder.className = 'workshop';
  holder.inert = true;
  try {
    let engine = { name: '', version: '' };
    const of = async (mode: Mode) => {
      const frame = await openFrame(
        holder.appendChild(document.createElement('div')),
        frameAddress(host, key, `${folder}${mode}.html`),
        { width: 800, height: 600 },
      );
      ({ engine } = await frame.ask('describe', null));
      const result = folded(await frame.ask('defaults', { keys: [...ATLAS_KEYS], properties: [...GEOMETRY] }));
      frame.close();
      return result;
    };
    const [standards, quirks] = [await of('standards'), await of('quirks')];
    return { normetra: 'atlas/1', ...named, engine, made: 'this browser', standards, quirks };
  } finally {
    holder.remove();
  }
}

let ownProfileHere: Promise<Profile> | null = null;
/** What this browser gives by itself. */
export const ownProfile = (host: string): Promise<Profile> =>
  (ownProfileHere ??= measured(host, 'bare', '', { name: 'this-browser', title: 'This browser' }));

/** What this browser gives with a style sheet as the lowest layer. */
export async function sheetProfile(host: string, { name, css }: OwnSheet): Promise<Profile> {
  const { key } = await send('POST', '/api/atlas/underlays', keySchema, layeredBoth(css));
  return measured(host, key, '__bare/', { name, title: name });
}

const keys = new Map<string, Promise<string>>();

/** The key under which a revision is served with other defaults. Throws where there are none of that name. */
export function keyUnder(id: string, host: string, key: string, name: string): Promise<string> {
  if (name === AS_RENDERED) return Promise.resolve(key);
  const previous = keys.get(`${key} ${name}`) ?? newKey(id, host, key, name);
  keys.set(`${key} ${name}`, previous);
  previous.catch(() => keys.delete(`${key} ${name}`));
  return previous;
}

async function newKey(id: string, host: string, key: string, name: string): Promise<string> {
  const sheet = ownSheets().find((ownSheet) => ownSheet.name === name);
  const underlay = sheet ? layeredBoth(sheet.css) : underlays(await ownProfile(host), await readProfile(name));
  return (await send('POST', `/api/specimens/${id}/overlays`, keySchema, { key, texts: {}, underlay })).key;
}

/** What this browser gives by itself, and what defaults of a name give. */
export async function profilesOf(host: string, name: string): Promise<{ own: Profile; other: Profile }> {
  const sheet = ownSheets().find((ownSheet) => ownSheet.name === name);
  return { own: await ownProfile(host), other: await (sheet ? sheetProfile(host, sheet) : readProfile(name)) };
}
