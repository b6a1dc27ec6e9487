/** `normetra find`: what is wrong on a page, because of what, and the change that was proved to help. */
import { basename } from 'node:path';
import {
  findingsText,
  withShortDiff,
  withShortDiffs,
  type FindingsDocument,
} from '../core/reports/findings.ts';
import { junitDocument } from '../core/reports/junit.ts';
import { sarifDocument } from '../core/reports/sarif.ts';
import { whyNotBoxes, whyNotText, type WhyNotDocument } from '../core/reports/why-not.ts';
import { spotAtWidth, spotText as spotAnswerText, type SpotDocument } from '../core/reports/spots.ts';
import { spotAt } from '../core/spot/spot.ts';
import { wishText as wishAnswerText, type WishDocument } from '../core/reports/wishes.ts';
import { findOn } from '../lib/server/engines/find.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import type { Headless, Opened } from '../lib/server/engines/headless.ts';
import { closeEngines, openEngines } from '../lib/server/engines/several.ts';
import { missingOf, openPage } from '../lib/server/engines/source.ts';
import { viewsOf } from '../lib/server/engines/views.ts';
import { wishOn } from '../lib/server/engines/wish.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { VERSION } from '../lib/server/version.ts';
import { elementsOf, print, scriptsOf } from './output.ts';
import { readFindOptions, writableFile, type FindOptions } from './options.ts';
import { projectOf } from './project.ts';
import { showProgress } from './progress.ts';
import { refuseUnasked, writeRemedies } from './write-remedies.ts';

function textOf(document: FindingsDocument, quiet: number, { format, failOn, evidence }: FindOptions): string {
  switch (format) {
    case 'json':
      return JSON.stringify(withShortDiffs(document));
    case 'sarif':
      return JSON.stringify(sarifDocument(document, VERSION), null, 1);
    case 'junit':
      return junitDocument(document, failOn ?? 0);
    case 'text':
      return findingsText(document, { quiet, withEvidence: evidence });
  }
}

/** What each rule says of the boxes that a selector matches at every width, as text or as a document. */
async function whyText(opened: Opened, page: string, selector: string, options: FindOptions): Promise<string> {
  const { widths, height, kinds, format } = options;
  const boxes: WhyNotDocument['boxes'] = [];
  const texts: string[] = [];
  for (const width of widths) {
    await opened.resize({ width, height });
    const analysis = await opened.measure();
    const elements = await elementsOf(opened, selector);
    const said = await opened.complete(analysis, () => ({
      boxes: format === 'json' ? whyNotBoxes(analysis, elements, kinds) : [],
      texts: format === 'json' ? [] : elements.map((element) => whyNotText(analysis, element, kinds)),
    }));
    boxes.push(...said.boxes);
    texts.push(...said.texts);
  }
  const document: WhyNotDocument = { normetra: 'why-not/1', page, boxes };
  return format === 'json' ? JSON.stringify(document) : texts.join('\n\n');
}

/** All that can be said of a spot of the page at every width, as text or as a document. */
async function spotText(
  opened: Opened,
  page: string,
  { widths, height, defaults, format, at }: FindOptions,
): Promise<string> {
  const { list, show } = await viewsOf(opened, widths, height);
  const seen: SpotDocument['at'] = [];
  for (const { width, analysis, found, complete } of list) {
    await show(width);
    try {
      seen.push(await complete(() => spotAtWidth(analysis, spotAt(analysis, at!, found))));
    } catch (error) {
      if (error instanceof RangeError) throw new Refusal(`${error.message}, at ${width} px.`);
      throw error;
    }
  }
  const { engine } = list[0]!.analysis.reading;
  const document: SpotDocument = { normetra: 'spot/1', page, engine, defaults, spot: at!, at: seen };
  return format === 'json' ? JSON.stringify(document) : spotAnswerText(document);
}

/** What keeps a wish from being met, as text or as a document. */
async function wishText(
  opened: Opened,
  page: string,
  { widths, height, defaults, format, wish }: FindOptions,
): Promise<{ document: WishDocument; text: string }> {
  const { tell, end } = showProgress();
  const document = await wishOn(opened, {
    page,
    defaults,
    widths,
    height,
    ...wish!,
    elementsOf: (selector) => elementsOf(opened, selector),
    progress: (tried, of) => tell?.(`${tried} of ${of} changes tried`),
  }).finally(end);
  const short = {
    ...document,
    remedies: document.remedies.map((remedy) => ({ ...remedy, ...withShortDiff(remedy) })),
  };
  return { document, text: format === 'json' ? JSON.stringify(short) : wishAnswerText(document) };
}

export async function find(argv: string[]): Promise<number> {
  const options = readFindOptions(argv);
  const { page, widths, height, root, scripts, defaults, kinds, failOn, meant, out } = options;
  const isOver = options.scrollbars === 'over';
  if (out !== null) await writableFile(out);
  const source = await openPage(page, root);
  if (options.write) refuseUnasked(options.yes, source.folder);
  const project = await projectOf(page, options.grades, source);
  const other = askedDefaults(defaults);
  const engines = await openEngines(options.engine);
  const [headless, ...more] = engines as [Headless, ...Headless[]];
  const open = (engine: Headless): Promise<Opened> =>
    engine.openSource(source, { width: widths[0]!, height }, scripts, other, isOver);
  try {
    const opened = await open(headless);
    const name = basename(source.entry) || page;
    if (options.why !== null) {
      await print(await whyText(opened, name, options.why, options), out);
      return 0;
    }
    if (options.at !== null) {
      await print(await spotText(opened, name, options), out);
      return 0;
    }
    if (options.wish !== null) {
      const { document, text } = await wishText(opened, name, options);
      await print(text, out);
      return failOn !== null && document.at.some(({ missing }) => missing > 0 && missing >= failOn) ? 1 : 0;
    }
    const beneath = other && {
      plain: await headless.openSource(source, { width: widths[0]!, height }, scripts, null, isOver),
      own: await headless.profile(),
      other: 'css' in other ? await headless.profileOf(other.css, basename(defaults)) : other,
    };
    const { tell, end } = showProgress();
    const progress = (done: number, of: number) => tell?.(`${done} of ${of} causes looked for`);
    const asked = {
      ...project,
      page: name,
      defaults,
      widths,
      height,
      kinds,
      beneath,
      progress,
      prove: options.prove,
    };
    const all = await findOn(opened, asked, await Promise.all(more.map(open))).finally(end);
    const missing = await missingOf(source);
    const { redirected } = source;
    const reported = await scriptsOf(source, opened, all.emptiness);
    const { emptiness: _, ...rest } = all;
    const found: FindingsDocument = {
      ...rest,
      ...(missing.length > 0 && { missing }),
      ...(redirected && { redirected }),
      ...(reported && { scripts: reported }),
    };
    const isShown = ({ grade }: FindingsDocument['findings'][number]): boolean =>
      meant || options.format === 'json' || grade !== 'meant';
    const document = { ...found, findings: all.findings.filter(isShown) };
    const text = textOf(document, all.findings.length - document.findings.length, options);
    await print(text, out);
    if (options.write)
      await writeRemedies(found, { root: source.folder!, entry: source.entry, isYes: options.yes });
    const failed = document.findings.some(
      (finding) => finding.grade === 'wrong' && failOn !== null && finding.px >= failOn,
    );
    return failed ? 1 : 0;
  } finally {
    await closeEngines(engines);
  }
}
