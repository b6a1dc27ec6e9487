/**
 * A specimen as one zip: its files under `files/`, among them the project's `normetra.json` with the grades of findings; its
 * trials and what else is known of it in a `normetra.json` of another kind above these; readings beside it.
 */
import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import yazl from 'yazl';
import { z } from 'zod';
import type { UserGrade } from '../../core/evidence/user-grades.ts';
import { trialSchema } from '../../core/trials/edit.ts';
import { drawingSchema } from '../../core/reports/drawing.ts';
import { PROJECT_FILE, isProjectText, parseProject, projectText } from '../../core/reports/project.ts';
import { adoptGrades, fromKey, listGrades, saveGrade } from './database/grades.ts';
import type { Storage } from './database/open.ts';
import {
  adoptContents,
  entriesOf,
  findSpecimen,
  insertReadings,
  insertSpecimen,
  listReadings,
  readingBody,
  type SavedReading,
} from './database/specimens.ts';
import { createTrial, listTrials } from './database/trials.ts';
import { Refusal } from './ingest/refusal.ts';
import { MANIFEST, type Staged, type StagedFile } from './ingest/staging.ts';

const int = z
  .number()
  .int()
  .min(-(2 ** 31))
  .max(2 ** 31 - 1);

const headSchema = z.object({
  file: z.string().max(200),
  page: z.string().max(2000),
  engine: z.string().max(60),
  engineVersion: z.string().max(60),
  width: int,
  height: int,
  scrollWidth: int,
  scrollHeight: int,
  defaults: z.string().max(60),
  boxes: int,
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
  /** Findings that are meant, as versions before 0.23 have them: by what they are known again by. */
  meant: z.array(z.object({ page: z.string(), key: z.string(), reason: z.string() })).default([]),
});

const text = (value: unknown): Buffer => Buffer.from(JSON.stringify(value, null, 1));

/** The archive as it is made: memory does not grow with it. Null: there is no such specimen. */
export async function exportSpecimen(
  storage: Storage,
  id: string,
): Promise<{ name: string; zip: Readable } | null> {
  const { db } = storage;
  const found = await findSpecimen(db, id);
  if (!found) return null;
  const { specimen, revision } = found;
  const entries = await entriesOf(db, revision.id);
  const heads = await listReadings(db, id);
  const readings = heads.map((head, i) =>
    headSchema.parse({ ...head, file: `readings/${i + 1}.json`, takenAt: head.takenAt.toISOString() }),
  );
  const manifest: z.infer<typeof manifestSchema> = {
    normetra: 'specimen/1',
    name: specimen.name,
    scripts: specimen.scripts,
    entry: revision.entry,
    drawing: specimen.drawing,
    readings,
    trials: (await listTrials(db, id)).map(({ page, name, edits }) => ({ page, name, edits })),
    meant: [],
  };
  const zip = new yazl.ZipFile();
  zip.addBuffer(text(manifest), MANIFEST);
  const grades = await listGrades(db, id);
  if (grades.length > 0) zip.addBuffer(Buffer.from(projectText(grades)), `files/${PROJECT_FILE}`);
  for (const { path, hash, size } of entries.filter(({ path }) => path !== PROJECT_FILE || grades.length === 0))
    zip.addReadStreamLazy(`files/${path}`, { size }, (give) => {
      give(null, Readable.from(storage.contents.pieces(hash)));
    });
  for (const [i, { file }] of readings.entries())
    zip.addReadStreamLazy(file, {}, (give) => {
      readingBody(db, heads[i]!.id).then(
        (body) => give(null, Readable.from([text(body)])),
        (error: unknown) => give(error instanceof Error ? error : new Error(String(error)), null as never),
      );
    });
  zip.end();
  return { name: specimen.name, zip: zip.outputStream as Readable };
}

/** A file of an archive as JSON. Throws a Refusal. */
async function jsonOf({ path, file }: StagedFile): Promise<unknown> {
  try {
    return JSON.parse(await readFile(file, 'utf8'));
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw new Refusal(
      `files: “${path}” in the archive is not JSON (${error.message}). Export the specimen again.`,
    );
  }
}

/** The manifest, and the readings that it names. Throws a Refusal or a ZodError. */
async function manifestOf({ beside }: Staged): Promise<{
  manifest: z.infer<typeof manifestSchema>;
  readings: SavedReading[];
} | null> {
  const file = beside.find(({ path }) => path === MANIFEST);
  if (!file) return null;
  const manifest = manifestSchema.parse(await jsonOf(file));
  const readings: SavedReading[] = [];
  for (const { file: name, takenAt, ...head } of manifest.readings) {
    const body = beside.find(({ path }) => path === name);
    if (!body)
      throw new Refusal(
        `files: the archive names a reading “${name}” that it does not hold. Export the specimen again.`,
      );
    readings.push({ ...head, takenAt: new Date(takenAt), body: JSON.stringify(await jsonOf(body)) });
  }
  return { manifest, readings };
}

/** What the project's own file among those brought in says of findings. Throws a Refusal. */
export async function projectGrades(files: readonly { path: string; file?: string }[]): Promise<UserGrade[]> {
  const file = files.find(({ path }) => path === PROJECT_FILE)?.file;
  const text = file ? await readFile(file, 'utf8') : '';
  if (!isProjectText(text)) return [];
  try {
    return parseProject(text);
  } catch (error) {
    if (error instanceof SyntaxError) throw new Refusal(`files: ${error.message}. Mend it, or leave it out.`);
    throw error;
  }
}

/**
 * Puts what was brought in on the Shelf, whole or not at all; an archive that `exportSpecimen` made comes back with all that it
 * holds but one thing: scripts are held, whatever it says, until the user here lets them run. Returns the id.
 */
export async function bringIn(storage: Storage, staged: Staged, { demo = false } = {}): Promise<string> {
  const exported = await manifestOf(staged);
  const project = await projectGrades(staged.files);
  const entry = exported?.manifest.entry ?? '';
  const pages = staged.pages.includes(entry)
    ? [entry, ...staged.pages.filter((page) => page !== entry)]
    : staged.pages;
  await adoptContents(storage, staged.files);
  return storage.db.transaction(async (tx) => {
    const result = await insertSpecimen(
      tx,
      { ...staged, pages, name: exported?.manifest.name ?? staged.name },
      { demo, drawing: exported?.manifest.drawing ?? null },
    );
    await adoptGrades(tx, result.id, project);
    if (!exported) return result.id;
    await insertReadings(tx, result, exported.readings);
    for (const { page, name, edits } of exported.manifest.trials)
      await createTrial(tx, result.id, { page, name, edits });
    for (const { page, key, reason } of exported.manifest.meant)
      await saveGrade(tx, result.id, 0, { page, key, ...fromKey(key), grade: 'meant', why: reason });
    return result.id;
  });
}
