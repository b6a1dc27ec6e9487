/** What the commands on pages print: the answer, and what is to be known beside it. */
import { writeFile } from 'node:fs/promises';
import type { Analysis } from '../core/analysis.ts';
import { isEmptyPage } from '../core/visibility/empty-page.ts';
import { hasScripts } from '../core/html/scripts.ts';
import { scriptsText, type FindingsDocument } from '../core/reports/findings.ts';
import type { Opened } from '../lib/server/engines/headless.ts';
import type { PageSource } from '../lib/server/engines/source.ts';
import { decodeHtml } from '../lib/server/ingest/encoding.ts';
import { megabytes } from '../lib/server/ingest/limits.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';

/** Characters that a terminal is not to be filled with. */
const MOST_PRINTED = 4_000_000;

/** Writes an answer to a file, or prints it. Throws a Refusal where a terminal would be filled with megabytes. */
export async function print(text: string, out: string | null): Promise<void> {
  if (out !== null) return writeFile(out, `${text}\n`);
  if (process.stdout.isTTY && text.length > MOST_PRINTED)
    throw new Refusal(
      `The answer has ${megabytes(text.length)}, too much for a terminal. Write it into a file with --out FILE, or ask for less with --select.`,
    );
  await new Promise<void>((done) => process.stdout.write(`${text}\n`, () => done()));
}

/** The elements of the last reading that a selector matches. Throws a Refusal where there are none, or it is no selector. */
export async function elementsOf(opened: Opened, selector: string): Promise<number[]> {
  const found = await opened.ask('find', { selector }).catch(() => null);
  if (!found) throw new Refusal(`${selector} is not a selector. Write one as in a style sheet.`);
  if (found.length === 0) throw new Refusal(`Nothing on the page matches ${selector}. Check the selector.`);
  return found;
}

/** What is to be said of a page's scripts; null: nothing. `isEmpty`: nothing can be seen on it. */
export async function scriptsOf(
  source: PageSource,
  opened: Opened,
  isEmpty: boolean,
): Promise<FindingsDocument['scripts'] | null> {
  const failed = await opened.ask('failures', null);
  const page = isEmpty ? await source.file(source.entry) : null;
  const empty = page !== null && hasScripts(decodeHtml(page.bytes).text);
  return empty || failed.length > 0 ? { mode: opened.areScriptsHeld ? 'hold' : 'run', empty, failed } : null;
}

/** What is to be known beside the answer, each a text. */
export async function notesOf(source: PageSource, opened: Opened, analysis: Analysis): Promise<string[]> {
  const { redirected } = source;
  return [
    redirected ? `${redirected.from} leads to ${redirected.to}: that is what is measured.` : '',
    scriptsText((await scriptsOf(source, opened, isEmptyPage(analysis.reading))) ?? undefined),
  ].filter(Boolean);
}
