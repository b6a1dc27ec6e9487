/** `normetra only`: a condition that one engine meets alone, and a rule under it, proved in all. */
import { basename } from 'node:path';
import { onlyText, type OnlyDocument } from '../core/reports/only.ts';
import { conditionsOf, effectsOf } from '../lib/server/engines/conditions.ts';
import { closeEngines, openEngines } from '../lib/server/engines/several.ts';
import { openPage } from '../lib/server/engines/source.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { print } from './output.ts';
import { readOnlyOptions, writableFile } from './options.ts';

export async function only(argv: string[]): Promise<number> {
  const options = readOnlyOptions(argv);
  const { engine: name, page, put, json, out } = options;
  if (out !== null) await writableFile(out);
  const others = options.against.filter((other) => other !== name);
  if (others.length === 0)
    throw new Refusal(
      `There is no other engine than ${name} to tell it from. normetra doctor says which are there, and how to install more.`,
    );
  const source = page === null ? null : await openPage(page, options.root);
  const engines = await openEngines([name, ...others]);
  try {
    const [mine, ...rest] = engines;
    const conditions = await conditionsOf(mine!, rest);
    const [first] = conditions;
    const css = put && first ? `@supports ${first.condition} {\n  ${put}\n}` : '';
    const about = async (engine: (typeof engines)[number]) => ({
      name: engine.engine,
      version: (await engine.display()).version,
    });
    const document: OnlyDocument = {
      normetra: 'only/1',
      engine: await about(mine!),
      others: await Promise.all(rest.map(about)),
      conditions,
      css,
      page: source ? basename(source.entry) : '',
      effects: source && css ? await effectsOf(engines, source, css, options) : [],
    };
    await print(json ? JSON.stringify(document) : onlyText(document), out);
    const harms = document.effects.some(({ engine, boxes }) => engine !== name && boxes > 0);
    return first && !harms ? 0 : 1;
  } finally {
    await closeEngines(engines);
  }
}
