/** `normetra doctor`: which engines, fonts and database are there, and the line that brings what is not. It mends nothing itself. */
import { execFile } from 'node:child_process';
import { constants, existsSync } from 'node:fs';
import { access } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { doctorText, type DoctorDocument } from '../core/reports/doctor.ts';
import { placeOf, reasonAgainst } from '../lib/server/database/open.ts';
import { drivers, type Driver } from '../lib/server/engines/drivers/index.ts';
import { openHeadless } from '../lib/server/engines/headless.ts';
import { ROOT } from '../lib/server/root.ts';
import { VERSION } from '../lib/server/version.ts';
import { print } from './output.ts';
import { readDoctorOptions, writableFile } from './options.ts';

const run = promisify(execFile);

/** Generic families and what stands for them, by the font list of the system (fontconfig). */
const FAMILIES = ['serif', 'sans-serif', 'monospace', 'Arial', 'Times New Roman', 'Courier New', 'Georgia'];

type EngineState = DoctorDocument['engines'][number];

async function engineState(driver: Driver): Promise<EngineState> {
  const state = { name: driver.name, title: driver.title, install: driver.install };
  const missing = { version: null, place: null, startMs: null, ratio: null, scrollbar: null };
  let place: string;
  try {
    place = driver.place();
  } catch (error) {
    return { ...state, ...missing, why: messageOf(error) };
  }
  const began = performance.now();
  try {
    const headless = await openHeadless({ engine: driver.name });
    try {
      const startMs = Math.round(performance.now() - began);
      return { ...state, place, startMs, ...(await headless.display()), why: null };
    } finally {
      await headless.close();
    }
  } catch (error) {
    return { ...state, ...missing, place, why: messageOf(error) };
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** What the system takes for a family; null: it has no list of fonts that can be asked. */
async function fontFor(family: string): Promise<string | null> {
  const answer = await run('fc-match', ['--format', '%{family[0]}', family]).catch(() => null);
  return answer?.stdout.trim() ?? null;
}

/** Whether the database can be had. Nothing is made: an embedded one comes to be with the first server. */
async function databaseState(data: string): Promise<DoctorDocument['database']> {
  const url = process.env['DATABASE_URL'];
  if (!url) {
    const place = resolve(data);
    // Where there is no such folder yet, it is made in the nearest one above that is there.
    let folder = place;
    while (!existsSync(folder)) folder = dirname(folder);
    const why = await access(folder, constants.W_OK).then(
      () => null,
      () => `${folder} cannot be written to`,
    );
    return { kind: 'embedded', place, usable: why === null, why };
  }
  const why = await reasonAgainst(url);
  return { kind: 'server', place: placeOf(url), usable: why === null, why };
}

export async function doctor(argv: string[]): Promise<number> {
  const { json, out, data } = readDoctorOptions(argv);
  if (out !== null) await writableFile(out);
  const engines: EngineState[] = [];
  // One after the other: how long each takes to start is told.
  for (const driver of drivers()) engines.push(await engineState(driver));
  const fonts = await Promise.all(FAMILIES.map(async (family) => ({ family, font: await fontFor(family) })));
  const document: DoctorDocument = {
    normetra: 'doctor/1',
    version: VERSION,
    node: process.version,
    built: existsSync(join(ROOT, 'build/index.js')),
    engines,
    fonts,
    database: await databaseState(data),
  };
  await print(json ? JSON.stringify(document) : doctorText(document), out);
  return engines.some(({ why }) => why === null) ? 0 : 3;
}
