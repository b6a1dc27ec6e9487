/** `normetra matrix`: a page in several engines and under several default styles: what differs, and because of what. */
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { matrixText } from '../core/reports/matrix.ts';
import { trialSchema, type Edit } from '../core/trials/edit.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import { matrixOn, type Column } from '../lib/server/engines/matrix.ts';
import { closeEngines, openEngines } from '../lib/server/engines/several.ts';
import { openPage } from '../lib/server/engines/source.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { print } from './output.ts';
import { readMatrixOptions, writableFile } from './options.ts';
import { showProgress } from './progress.ts';

/** The edits of a trial, as the application keeps them. Throws a Refusal. */
async function editsIn(file: string): Promise<Edit[]> {
  try {
    return trialSchema.parse(JSON.parse(await readFile(file, 'utf8'))).edits;
  } catch (error) {
    throw new Refusal(
      `--trial ${file} is no trial (${error instanceof Error ? error.message.split('\n')[0] : String(error)}). It is JSON like { "edits": [...] }, as the application keeps them.`,
    );
  }
}

export async function matrix(argv: string[]): Promise<number> {
  const options = readMatrixOptions(argv);
  const { page, widths, height, root, scripts, json, out, defaults } = options;
  if (out !== null) await writableFile(out);
  if (options.engine.length + defaults.length < 2)
    throw new Refusal(
      `There is only ${options.engine[0]} to look at: name several engines with --engine, or default styles with --defaults. normetra doctor says which engines are there.`,
    );
  const source = await openPage(page, root);
  const edits = options.trial === null ? [] : await editsIn(options.trial);
  const others = defaults.map((name) => ({ name, profile: askedDefaults(name) }));
  const engines = await openEngines(options.engine);
  try {
    const size = { width: widths[0]!, height };
    const isOver = options.scrollbars === 'over';
    const columns: Column[] = [];
    for (const engine of engines)
      columns.push({
        name: engine.engine,
        defaults: 'as-rendered',
        opened: await engine.openSource(source, size, scripts, null, isOver),
      });
    for (const { name, profile } of others)
      columns.push({
        name: `${basename(name)} defaults`,
        defaults: name,
        opened: await engines[0]!.openSource(source, size, scripts, profile, isOver),
      });
    const { tell, end } = showProgress();
    const document = await matrixOn(columns, {
      page: basename(source.entry) || page,
      widths,
      height,
      edits,
      progress: (column, done, all) => {
        tell?.(`${done} of ${all} columns measured${column ? `, ${column} now` : ''}`);
        // The application runs this command as a child, and hears of it.
        process.send?.({ column, done, all });
      },
    }).finally(end);
    await print(json ? JSON.stringify(document) : matrixText(document), out);
    return 0;
  } finally {
    await closeEngines(engines);
  }
}
