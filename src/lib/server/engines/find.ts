/** What is wrong on a page at several widths, measured and proved in a headless engine. */
import type { Analysis } from '../../../core/analysis.ts';
import { isEmptyPage } from '../../../core/visibility/empty-page.ts';
import { foldedByCause, acrossWidths, type FindingAcrossWidths } from '../../../core/proof/across-widths.ts';
import type { Observation } from '../../../core/finding.ts';
import { makeProver, type Blame, type Prover } from '../../../core/proof/prover.ts';
import {
  findingDocument,
  type DependenceDocument,
  type FindingsDocument,
} from '../../../core/reports/findings.ts';
import { readFiles } from '../../../core/trials/targets.ts';
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

/** `emptiness`: whether nothing can be seen on the page. */
export async function findOn(
  opened: Opened,
  options: FindOptions,
): Promise<FindingsDocument & { emptiness: boolean }> {
  const {
    widths,
    height,
    kinds,
    page,
    defaults,
    most = MOST,
    prove = 'likely',
    beneath = null,
    grades = [],
    projectPage = page,
    progress,
  } = options;
  const texts = await opened.texts();
  const files = readFiles(texts);
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
  let doubts = 0;
  const reported: { seen: FindingAcrossWidths; blame: Blame }[] = [];
  for (const [n, seen] of list.entries()) {
    progress?.(n, list.length);
    const { grade } = seen.observation;
    const isAsked =
      grade === 'wrong'
        ? prove === 'all' || n < most
        : grade === 'doubtful' &&
          (prove === 'all' || (prove === 'likely' && n < most && doubts++ < MOST_DOUBTS));
    const blame: Blame = !isAsked
      ? { culprits: [], remedies: [], also: [] }
      : await readings.get(seen.worst)!.prover.blame(seen.observation);
    const remedies = await provedEverywhere(seen, blame, readings);
    // What is not mended with another is told by itself.
    reported.push({ seen, blame: { ...blame, remedies, also: remedies.length > 0 ? blame.also : [] } });
  }
  const out: FindingsDocument['findings'] = [];
  for (const { seen, blame } of foldedByCause(reported)) {
    const { analysis } = readings.get(seen.worst)!;
    const diffs = blame.remedies.map(({ edits }) => unifiedDiff(texts, edits, analysis.sources.page));
    out.push(findingDocument(out.length + 1, seen, blame, { analysis, widths, diffs }));
  }
  await opened.lay([]);
  let dependence: DependenceDocument | undefined;
  if (beneath && (!kinds || kinds.includes('defaults'))) {
    const [width] = widths;
    await show(width!);
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
  const { engine } = readings.get(widths[0]!)!.analysis.reading;
  return {
    normetra: 'findings/1',
    page,
    engine,
    defaults,
    widths: [...widths],
    findings: out,
    emptiness: isEmptyPage(readings.get(widths[0]!)!.analysis.reading),
    ...(dependence ? { dependence } : {}),
  };
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
