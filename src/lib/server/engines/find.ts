/** What is wrong on a page at several widths, measured and proved in a headless engine. */
import type { Analysis } from '../../../core/analysis.ts';
import { isEmptyPage } from '../../../core/visibility/empty-page.ts';
import { acrossEngines, type FindingAcrossEngines } from '../../../core/proof/across-engines.ts';
import { foldedByCause, acrossWidths, type FindingAcrossWidths } from '../../../core/proof/across-widths.ts';
import type { Observation } from '../../../core/finding.ts';
import { makeProver, type Blame, type EffectAtWidth, type Prover } from '../../../core/proof/prover.ts';
import {
  findingDocument,
  type DependenceDocument,
  type FindingsDocument,
} from '../../../core/reports/findings.ts';
import { readFiles, type Files } from '../../../core/trials/targets.ts';
import { unifiedDiff } from '../../../core/trials/write.ts';
import { asGraded, userGradeOf, type UserGrade } from '../../../core/evidence/user-grades.ts';
import { placesOf } from './places.ts';
import { dependingOn, type Beneath } from './dependence.ts';
import type { Opened } from './headless.ts';
import { viewsOf } from './views.ts';

export interface FindOptions {
  page: string;
  defaults: string;
  widths: readonly number[];
  height: number;
  kinds: readonly string[] | null;
  /** Findings of which the causes are looked for; the others are told without. */
  most?: number;
  /** Of which grades they are looked for: what is wrong, with the first of what is doubtful, or all of both. */
  prove?: 'wrong' | 'likely' | 'all';
  /** What the user says of findings, and the page's path in their project. */
  grades?: readonly UserGrade[];
  projectPage?: string;
  /** The page as rendered, where other default styles lie under the one that is opened. */
  beneath?: Beneath | null;
  /** `done` of all the findings have been looked into. */
  progress?: (done: number, all: number) => void;
}

/** So many findings have their causes looked for where nobody asks for more, and so many doubtful ones. */
const MOST = 25;
const MOST_DOUBTS = 8;

interface At {
  analysis: Analysis;
  found: Observation[];
  prover: Prover;
}

/** One engine, with the page read in it at every width and all that is needed to prove changes there. */
interface Stand {
  opened: Opened;
  engine: string;
  readings: Map<number, At>;
  list: FindingAcrossWidths[];
  regraded: (observation: Observation, width: number) => Observation;
}

async function standOf(
  opened: Opened,
  files: Files,
  { widths, height, kinds, grades = [], page, projectPage = page }: FindOptions,
): Promise<Stand> {
  const { list: views, show } = await viewsOf(opened, widths, height);
  const readings = new Map<number, At>(
    views.map(({ width, analysis, found, measure }) => [
      width,
      { analysis, found, prover: makeProver({ analysis, files, before: found, measure }) },
    ]),
  );
  const places = new Map<number, Map<string, ReadonlySet<number>>>();
  for (const { width } of grades.some(({ place }) => place !== '') ? views : []) {
    await show(width);
    await opened.measure();
    places.set(width, await placesOf(opened, grades));
  }
  const regraded = (observation: Observation, width: number): Observation =>
    asGraded(
      observation,
      userGradeOf(grades, observation, projectPage, (place) => places.get(width)?.get(place) ?? new Set()),
    );
  const list = acrossWidths(readings, regraded).filter(
    ({ observation }) => !kinds || kinds.includes(observation.kind),
  );
  return { opened, engine: opened.engine, readings, list, regraded };
}

/** `emptiness`: whether nothing can be seen on the page. `others`: the same page in other engines. */
export async function findOn(
  opened: Opened,
  options: FindOptions,
  others: readonly Opened[] = [],
): Promise<FindingsDocument & { emptiness: boolean }> {
  const { widths, height, kinds, page, defaults, most = MOST, prove = 'likely', progress } = options;
  const { beneath = null } = options;
  const texts = await opened.texts();
  const files = readFiles(texts);
  const stands: Stand[] = [];
  for (const other of [opened, ...others]) stands.push(await standOf(other, files, options));
  const list = acrossEngines(
    stands.map((stand) => stand.list),
    stands.map(({ engine }) => engine),
  );
  let doubts = 0;
  const reported: { seen: FindingAcrossWidths; blame: Blame; found: FindingAcrossEngines }[] = [];
  for (const [n, found] of list.entries()) {
    progress?.(n, list.length);
    const { seen, worst } = found;
    const { grade } = seen.observation;
    const isAsked =
      grade === 'wrong'
        ? prove === 'all' || n < most
        : grade === 'doubtful' &&
          (prove === 'all' || (prove === 'likely' && n < most && doubts++ < MOST_DOUBTS));
    const blame: Blame = !isAsked
      ? { culprits: [], remedies: [], also: [] }
      : await stands[worst]!.readings.get(seen.worst)!.prover.blame(seen.observation);
    const remedies = await provedEverywhere(seen, blame, stands[worst]!.readings);
    const proved = await inEveryEngine(seen, remedies, stands, worst);
    // What is not mended with another is told by itself.
    const also = proved.length > 0 ? blame.also : [];
    reported.push({ seen, blame: { ...blame, remedies: proved, also }, found });
  }
  const out: FindingsDocument['findings'] = [];
  for (const { seen, blame, found } of foldedByCause(reported)) {
    const { analysis } = stands[found.worst]!.readings.get(seen.worst)!;
    const diffs = blame.remedies.map(({ edits }) => unifiedDiff(texts, edits, analysis.sources.page));
    const engines = stands.length === 1 ? null : found.engines.map((n) => stands[n]!.engine);
    out.push(findingDocument(out.length + 1, seen, blame, { analysis, widths, diffs, engines }));
  }
  for (const { opened: laid } of stands) await laid.lay([]);
  let dependence: DependenceDocument | undefined;
  const { readings, regraded } = stands[0]!;
  if (beneath && (!kinds || kinds.includes('defaults'))) {
    const [width] = widths;
    await opened.resize({ width: width!, height });
    await beneath.plain.resize({ width: width!, height });
    const { found, report } = await dependingOn(opened, beneath);
    dependence = report;
    for (const { observation: observation, blame, under } of found) {
      const graded = regraded(observation, width!);
      const seen = { key: '', at: new Map([[width!, graded]]), worst: width!, observation: graded };
      const diffs = blame.remedies.map(({ edits }) => unifiedDiff(texts, edits, under.sources.page));
      out.push(findingDocument(out.length + 1, seen, blame, { analysis: under, widths, diffs }));
    }
  }
  const engineOf = (stand: Stand) => stand.readings.get(widths[0]!)!.analysis.reading.engine;
  return {
    normetra: 'findings/1',
    page,
    engine: engineOf(stands[0]!),
    ...(stands.length > 1 && { engines: stands.map(engineOf) }),
    defaults,
    widths: [...widths],
    findings: out,
    emptiness: isEmptyPage(readings.get(widths[0]!)!.analysis.reading),
    ...(dependence ? { dependence } : {}),
  };
}

/**
 * What each change does in the other engines. Those that help, or at least harm nothing, in all of them come first; where there
 * are none, the others are told with what they do.
 */
async function inEveryEngine(
  seen: FindingAcrossWidths,
  remedies: Blame['remedies'],
  stands: readonly Stand[],
  worst: number,
): Promise<Blame['remedies']> {
  if (stands.length === 1) return remedies;
  const told: Blame['remedies'] = [];
  for (const remedy of remedies) {
    const engines: NonNullable<typeof remedy.engines> = [];
    for (const [n, { engine, readings }] of stands.entries()) {
      let effect: EffectAtWidth = 'helps';
      for (const { prover } of n === worst ? [] : readings.values()) {
        const here = await prover.effectAtWidth(seen.key, seen.observation.kind, remedy.edits);
        if (here === 'brings' || effect === 'helps') effect = here;
      }
      engines.push({ engine, effect });
    }
    const isProved = engines.every(({ effect }) => effect === 'helps');
    told.push({ ...remedy, engines, proved: remedy.proved && isProved });
  }
  const everywhere = told.filter(({ engines }) => engines!.every(({ effect }) => effect === 'helps'));
  return everywhere.length > 0 ? everywhere : told;
}

/** The changes that take a finding away at every width at which it is there, and bring none at any of the others. */
async function provedEverywhere(
  seen: FindingAcrossWidths,
  { remedies }: Blame,
  readings: Map<number, At>,
): Promise<Blame['remedies']> {
  const out: Blame['remedies'] = [];
  for (const remedy of remedies) {
    let holds = true;
    for (const [width, { prover }] of readings) {
      if (width === seen.worst) continue;
      holds &&= (await prover.effectAtWidth(seen.key, seen.observation.kind, remedy.edits)) === 'helps';
    }
    if (holds) out.push({ ...remedy, widths: [...readings.keys()] });
  }
  return out;
}
