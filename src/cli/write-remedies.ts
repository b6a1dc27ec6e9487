/** `normetra find --write`: the first remedy of what is wrong, written into the files, one change at a time. */
import { applyPatch, parsePatch } from 'diff';
import { readFile } from 'node:fs/promises';
import { createInterface } from 'node:readline/promises';
import type { FindingsDocument } from '../core/reports/findings.ts';
import { decodeCss, decodeHtml } from '../lib/server/ingest/encoding.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { placeInFolder } from '../lib/server/origins/folder.ts';
import { encodedAlike, replaceFile } from '../lib/server/origins/write.ts';

interface Change {
  place: string;
  bytes: Uint8Array;
}

/** What a diff makes of the files in a folder; null: they are not as it says any more. Throws a Refusal. */
async function changesOf(root: string, diff: string, pageEncoding: string): Promise<Change[] | null> {
  const changes: Change[] = [];
  for (const patch of parsePatch(diff)) {
    const path = (patch.newFileName ?? '').replace(/^b\//, '');
    const place = await placeInFolder(root, path);
    if (place === null) return null;
    const before = new Uint8Array(await readFile(place));
    const isCss = /\.css$/i.test(path);
    const text = isCss ? decodeCss(before, pageEncoding) : decodeHtml(before).text;
    const after = applyPatch(text, patch, { autoConvertLineEndings: false });
    if (after === false) return null;
    changes.push({ place, bytes: encodedAlike(path, before, after, pageEncoding) });
  }
  return changes;
}

/** Refuses where nobody could be asked, before the page is measured. */
export function refuseUnasked(isYes: boolean, root: string | undefined): void {
  if (root === undefined)
    throw new Refusal(
      '--write changes files of a folder: name an HTML file or a folder, not an archive or an address.',
    );
  if (!isYes && !process.stdin.isTTY)
    throw new Refusal(
      '--write asks before each change, and nobody can answer here. Add --yes to make all of them.',
    );
}

/**
 * Writes the first remedy of each finding that is graded wrong, where it was proved, each after it was asked for unless `isYes`.
 * `root`: the folder that paths start at; `entry`: the page.
 */
export async function writeRemedies(
  { findings }: FindingsDocument,
  { root, entry, isYes }: { root: string; entry: string; isYes: boolean },
): Promise<void> {
  const page = await placeInFolder(root, entry);
  const pageEncoding = page === null ? 'utf-8' : decodeHtml(new Uint8Array(await readFile(page))).encoding;
  const asking = isYes ? null : createInterface({ input: process.stdin, output: process.stdout });
  const done = new Set<string>();
  let written = 0;
  try {
    for (const { grade, kind, subject, because, remedies } of findings) {
      const [remedy] = remedies;
      // Several findings may be mended by one change.
      if (grade !== 'wrong' || !remedy?.proved || remedy.diff === '' || done.has(remedy.diff)) continue;
      console.log(`\n${kind}: ${subject}. ${because}\n${remedy.diff.trimEnd()}`);
      const isWanted = asking === null || /^y(es)?$/i.test((await asking.question('Write it? (y/n) ')).trim());
      if (!isWanted) continue;
      const changes = await changesOf(root, remedy.diff, pageEncoding);
      if (changes === null) {
        console.log('Not written: the file is not as it was measured any more. Run find again for it.');
        continue;
      }
      for (const { place, bytes } of changes) await replaceFile(place, bytes);
      done.add(remedy.diff);
      written += 1;
      console.log(`Written into ${changes.map(({ place }) => place).join(', ')}.`);
    }
  } finally {
    asking?.close();
  }
  console.log(
    written === 0
      ? '\nNothing was written.'
      : `\n${written} ${written === 1 ? 'change' : 'changes'} written. Run find again to see what is left.`,
  );
}
