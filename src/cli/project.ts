/** The file of a project with what its developers have said of findings: `normetra.json`. */
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import type { UserGrade } from '../core/evidence/user-grades.ts';
import { isProjectText, parseProject, PROJECT_FILE } from '../core/reports/project.ts';
import { isAddress, type PageSource } from '../lib/server/engines/source.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';

export interface Project {
  grades: UserGrade[];
  /** Path of the page from the folder of the file. */
  projectPage: string;
}

async function textOf(file: string): Promise<string | null> {
  try {
    return await readFile(file, 'utf8');
  } catch (error) {
    if (/^(ENOENT|ENOTDIR|EISDIR|EACCES)$/.test(String((error as NodeJS.ErrnoException).code))) return null;
    throw error;
  }
}

/** The nearest file of a project in a folder or above it; null: there is none. */
async function nearest(folder: string): Promise<{ file: string; text: string } | null> {
  for (let at = folder; ; at = dirname(at)) {
    const file = join(at, PROJECT_FILE);
    const text = await textOf(file);
    if (text !== null && isProjectText(text)) return { file, text };
    if (dirname(at) === at) return null;
  }
}

/**
 * `page`: as the command line names it; of an address the file is looked for where the command runs. `asked`: a file, `none`,
 * or null for the nearest. Throws a Refusal where the file that is named is not there, or says something that it may not.
 */
export async function projectOf(page: string, asked: string | null, source: PageSource): Promise<Project> {
  const isThere = (path: string) => stat(path).catch(() => null);
  const isFolder = !isAddress(page) && ((await isThere(page))?.isDirectory() ?? false);
  const full = isAddress(page) ? '' : resolve(isFolder ? join(page, 'index.html') : page);
  const none = { grades: [], projectPage: basename(full) };
  if (asked === 'none') return none;
  const isArchive = /\.zip$/i.test(full);
  const packed = isArchive ? await source.file(PROJECT_FILE) : null;
  const named = asked === null ? null : { file: resolve(asked), text: await textOf(resolve(asked)) };
  if (named && named.text === null)
    throw new Refusal(`There is no file ${asked}. Name one that the Bench has written, or none.`);
  const inside = packed && { file: `${page}/${PROJECT_FILE}`, text: new TextDecoder().decode(packed.bytes) };
  const found =
    named ??
    (inside && isProjectText(inside.text) ? inside : null) ??
    (await nearest(full === '' ? process.cwd() : dirname(full)));
  if (!found) return none;
  try {
    const projectPage = isArchive
      ? source.entry
      : full === ''
        ? decodeURIComponent(new URL(page).pathname.replace(/^\//, '').replace(/(^|\/)$/, '$1index.html'))
        : relative(dirname(found.file), full).split(sep).join('/');
    return { grades: parseProject(found.text!), projectPage };
  } catch (error) {
    if (error instanceof SyntaxError) throw new Refusal(`${found.file}: ${error.message}.`);
    throw error;
  }
}
