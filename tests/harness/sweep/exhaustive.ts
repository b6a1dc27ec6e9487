/**
 * A sweep held against a scan: `npm run sweeps [-- part of a page's name ...]`. The scan looks at every width, takes nothing for
 * granted of one that it saw at another, and in frames that are painted. `SAMPLE=60` looks at sixty widths at random alone, and
 * at both sides of every flip. Prints what the sweep missed, how many widths it measured, and its time against that of a bare
 * loop, which sets every width of the engine's own window and reads the page's scroll width; `EVERY=10` runs that at one width
 * in ten and takes ten times its time. `random` among the parts asks for pages made at random (`PAGES`, from `SEED` on) as well.
 */
import { observeAll } from '../../../src/core/rules/index.ts';
import { across } from '../../../src/core/sweep/across.ts';
import { snapshotOf, type Snapshot } from '../../../src/core/sweep/snapshot.ts';
import { openHeadless, type Headless, type Opened } from '../../../src/lib/server/engines/headless.ts';
import { sweepOn } from '../../../src/lib/server/engines/sweep.ts';
import { corpusPages, demoPages, type CorpusPage } from '../../support/corpus.ts';
import { draw } from '../conformance/families.ts';
import { checkMeasured, measuredWords, type Measured } from '../../support/measured.ts';
import { responsivePage } from './pages.ts';

export interface Held {
  readings: number;
  measured: Measured;
  ms: number;
  /** Widths that the scan looked at. */
  scanned: number;
  /** Flips that the scan saw and the sweep did not, widths at which they differ. */
  missed: string[];
  flips: number;
  bareMs: number;
}

const HEIGHT = 800;
const EVERY = Number(process.env['EVERY'] ?? 1);
const SAMPLE = Number(process.env['SAMPLE'] ?? 0);
const SEED = Number(process.env['SEED'] ?? 1);
const PAGES = Number(process.env['PAGES'] ?? 12);

export const randomPages = (seed: number, count: number): CorpusPage[] =>
  Array.from({ length: count }, (_, i) => ({
    name: `random/${seed + i}`,
    entry: 'index.html',
    files: [
      { path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(responsivePage(seed + i)) },
    ],
  }));

/** Looks at widths, each by a whole reading. */
async function looksAt(frames: readonly Opened[], widths: readonly number[]): Promise<Map<number, Snapshot>> {
  const looks = new Map<number, Snapshot>();
  const waiting = [...widths];
  const work = async (frame: Opened): Promise<void> => {
    for (let width = waiting.pop(); width !== undefined; width = waiting.pop()) {
      const at = await frame.measureAt({ width, height: HEIGHT }, null);
      looks.set(width, snapshotOf(at, await frame.complete(at, () => observeAll(at))));
    }
  };
  await Promise.all(frames.map(work));
  return looks;
}

/** What is in one sign and not in the other. */
function difference(width: number, sweep: string, scan: string): string {
  const [a, b] = [new Set(sweep.split('\n')), new Set(scan.split('\n'))];
  const only = (entry: Set<string>, other: Set<string>) =>
    [...entry].filter((line) => !other.has(line)).join('; ');
  return `${width}: the sweep has ${only(a, b) || 'nothing'}, the scan ${only(b, a) || 'nothing'}`;
}

/** The look of a sweep that tells of a width: its own, or that of the next below, with which the next above agrees. */
function toldOf(looks: ReadonlyMap<number, Snapshot>, width: number): Snapshot {
  let at = width;
  while (!looks.has(at)) at--;
  return looks.get(at)!;
}

export async function held(
  { headless, plain }: { headless: Headless; plain: Headless },
  { files, entry }: CorpusPage,
  { from, to, bare, sample }: { from: number; to: number; bare: boolean; sample: number },
): Promise<Held> {
  const open = (headless: Headless) => headless.open(files, entry, { width: to, height: HEIGHT });
  const frames = await Promise.all([open(headless), open(headless)]);
  const began = performance.now();
  const swept = await sweepOn(frames, { from, to, height: HEIGHT });
  const ms = performance.now() - began;
  const measured = await checkMeasured(frames[0]!, swept.analysis, entry);
  const fast = across(swept.analysis, swept.looks);
  const bareMs = bare ? (await bareLoop(headless, frames[0]!.address, from, to)) * EVERY : 0;
  for (const frame of frames) await frame.close();

  const all = Array.from({ length: to - from + 1 }, (_, i) => from + i);
  const { int } = draw(SEED);
  const some = new Set([
    ...fast.flips.flatMap(({ width }) => [width - 1, width]),
    ...Array.from({ length: sample }, () => int(from, to)),
  ]);
  const painted = await Promise.all([open(plain), open(plain)]);
  const scanned = await looksAt(painted, sample > 0 ? [...some] : all);
  for (const opened of painted) await opened.close();
  const missed: string[] = [];
  for (const [width, { sign }] of [...scanned].sort(([a], [b]) => a - b)) {
    const text = toldOf(swept.looks, width).sign;
    if (text !== sign) missed.push(difference(width, text, sign));
  }
  return {
    readings: swept.looks.size,
    measured,
    ms,
    scanned: scanned.size,
    missed,
    flips: fast.flips.length,
    bareMs,
  };
}

/** ms that it takes to set widths and read scroll widths, of a page in a window of its own. */
async function bareLoop(headless: Headless, address: string, from: number, to: number): Promise<number> {
  const page = await headless.page
    .context()
    .browser()!
    .newPage({ viewport: { width: from, height: HEIGHT } });
  await page.goto(address);
  if (!(((await page.evaluate('document.querySelectorAll("*").length')) as number) > 3))
    throw new Error(`There is no page at ${address}: a loop over an empty one is no baseline.`);
  const began = performance.now();
  for (let width = from; width <= to; width += EVERY) {
    await page.setViewportSize({ width, height: HEIGHT });
    await page.evaluate('document.documentElement.scrollWidth');
  }
  const ms = performance.now() - began;
  await page.close();
  return ms;
}

async function main(): Promise<void> {
  const asked = process.argv.slice(2);
  const pages = [
    ...demoPages(),
    ...corpusPages(),
    ...(asked.includes('random') ? randomPages(SEED, PAGES) : []),
  ].filter(({ name }) => asked.length === 0 || asked.some((part) => name.includes(part)));
  const [headless, plain] = await Promise.all([openHeadless(), openHeadless({ isHeld: false })]);
  let missed = 0;
  try {
    for (const page of pages) {
      const entry = await held({ headless, plain }, page, { from: 240, to: 1920, bare: true, sample: SAMPLE });
      missed += entry.missed.length;
      console.log(
        `${page.name}: ${measuredWords(entry.measured)}; ${entry.readings} of 1681 widths, ${Math.round(entry.ms)} ms, ${(entry.ms / entry.bareMs).toFixed(2)} x the bare loop (${Math.round(entry.bareMs)} ms); ${entry.flips} flips; held against ${entry.scanned} widths, ${entry.missed.length} told otherwise`,
      );
      for (const line of entry.missed.slice(0, 12)) console.log(`  ${line}`);
    }
  } finally {
    await headless.close();
    await plain.close();
  }
  console.log(`${missed} in all`);
}

if (/exhaustive\.(ts|mjs)$/.test(process.argv[1] ?? '')) await main();
