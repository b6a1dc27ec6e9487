/**
 * A specimen as one zip: its files under `files/`; its trials, what was said to be meant and what else is known of it in
 * `normetra.json`; readings beside it.
 */
import { zipSync } from 'fflate';
import { z } from 'zod';
import { trialSchema } from '../../core/trials/edit.ts';
import { drawingSchema } from '../../core/boxes/drawing.ts';
import { listMeants, saveMeant } from './database/meants.ts';
import type { Database } from './database/open.ts';
import {
  createSpecimen,
  filesOf,
  findSpecimen,
  listReadings,
  readingBody,
  restoreReadings,
  type SavedReading,
} from './database/specimens.ts';
import { createTrial, listTrials } from './database/trials.ts';
import type { SourceFile } from './ingest/files.ts';
import { Refusal } from './ingest/refusal.ts';
import { ingestFiles, unpacked } from './ingest/specimen.ts';

const MANIFEST = 'normetra.json';

const headSchema = z.object({
  file: z.string().max(200),
  page: z.string().max(2000),
  engine: z.string().max(60),
  engineVersion: z.string().max(60),
  width: z.number().int(),
  height: z.number().int(),
  scrollWidth: z.number(),
  scrollHeight: z.number(),
  defaults: z.string().max(60),
  boxes: z.number().int(),
  note: z.string().max(2000),
  pick: z.string().max(20_000),
  takenAt: z.iso.datetime(),
});

const manifestSchema = z.object({
  normetra: z.literal('specimen/1'),
  name: z.string().min(1).max(120),
  scripts: z.enum(['hold', 'run']),
  entry: z.string(),
  drawing: drawingSchema.nullable(),
  readings: z.array(headSchema),
  trials: z
    .array(z.object({ page: z.string(), name: z.string().min(1).max(200), edits: trialSchema.shape.edits }))
    .default([]),
  /** Findings that are meant, by what they are known again by. */
  meant: z.array(z.object({ page: z.string(), key: z.string(), reason: z.string() })).default([]),
});

const text = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value, null, 1));

export async function exportSpecimen(
  db: Database,
  id: string,
): Promise<{ name: string; bytes: Uint8Array } | null> {
  const found = await findSpecimen(db, id);
  if (!found) return null;
  const { specimen, revision } = found;
  const entries: Record<string, Uint8Array> = {};
  for (const { path, bytes } of await filesOf(db, revision.id)) entries[`files/${path}`] = bytes;
  const readings: z.infer<typeof headSchema>[] = [];
  for (const head of await listReadings(db, id)) {
    const file = `readings/${readings.length + 1}.json`;
    entries[file] = text(await readingBody(db, head.id));
    readings.push(headSchema.parse({ ...head, file, takenAt: head.takenAt.toISOString() }));
  }
  const manifest: z.infer<typeof manifestSchema> = {
    normetra: 'specimen/1',
    name: specimen.name,
    scripts: specimen.scripts,
    entry: revision.entry,
    drawing: specimen.drawing,
    readings,
    trials: (await listTrials(db, id)).map(({ page, name, edits }) => ({ page, name, edits })),
    meant: (await listMeants(db, id)).map(({ page, key, reason }) => ({ page, key, reason })),
  };
  entries[MANIFEST] = text(manifest);
  return { name: specimen.name, bytes: zipSync(entries, { level: 6 }) };
}

const json = ({ path, bytes }: SourceFile): unknown => {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    throw new Refusal(
      `“${path}” in the archive is not JSON (${error instanceof Error ? error.message : String(error)}). Export the specimen again.`,
    );
  }
};

/** Files as a user brings them; an archive that `exportSpecimen` made comes back with all that it holds. */
export async function bringIn(db: Database, given: SourceFile[]): Promise<string> {
  const files = await unpacked(given);
  const manifestFile = files.find(({ path }) => path === MANIFEST);
  if (!manifestFile) return createSpecimen(db, await ingestFiles(given));
  const manifest = manifestSchema.parse(json(manifestFile));
  const own = files
    .filter(({ path }) => path.startsWith('files/'))
    .map(({ path, bytes }) => ({ path: path.slice('files/'.length), bytes }));
  const ingested = await ingestFiles(own, { keepPaths: true });
  const pages = ingested.pages.includes(manifest.entry)
    ? [manifest.entry, ...ingested.pages.filter((page) => page !== manifest.entry)]
    : ingested.pages;
  const saved = manifest.readings.map(({ file, takenAt, ...head }): SavedReading => {
    const body = files.find(({ path }) => path === file);
    if (!body)
      throw new Refusal(
        `The archive names a reading “${file}” that it does not hold. Export the specimen again.`,
      );
    return { ...head, takenAt: new Date(takenAt), body: json(body) };
  });
  const id = await createSpecimen(
    db,
    { ...ingested, pages, name: manifest.name },
    { scripts: manifest.scripts, drawing: manifest.drawing },
  );
  await restoreReadings(db, id, saved);
  for (const one of manifest.trials) await createTrial(db, id, one);
  for (const one of manifest.meant) await saveMeant(db, id, one);
  return id;
}
