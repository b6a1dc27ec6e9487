/**
 * A sweep held against a scan of every width: `npm run sweeps [-- part of a page's name ...]`. Prints what the sweep missed, how
 * many widths it measured, and its time against that of a bare loop, which sets every width of the engine's own window and
 * reads the page's scroll width alone. `EVERY=10` runs that loop at one width in ten and takes ten times its time.
 */
import { across } from '../../src/core/sweep/across.ts';
import { openHeadless, type Headless } from '../../src/lib/server/engines/headless.ts';
import { sweepOn } from '../../src/lib/server/engines/sweep.ts';
import { corpusPages, demoPages, type CorpusPage } from '../corpus.ts';

export interface Held {
  readings: number;
  ms: number;
  /** Flips that the scan saw and the sweep did not, and widths at which they differ on sideways scroll. */
  missed: string[];
  flips: number;
  bareMs: number;
}

const HEIGHT = 800;
const EVERY = Number(process.env['EVERY'] ?? 1);

export async function held(
  headless: Headless,
  { files, entry }: CorpusPage,
  { from, to, bare }: { from: number; to: number; bare: boolean },
): Promise<Held> {
  const open = () => headless.open(files, entry, { width: to, height: HEIGHT });
  const frames = await Promise.all([open(), open()]);
  const began = performance.now();
  const swept = await sweepOn(frames, { from, to, height: HEIGHT });
  const ms = performance.now() - began;
  const fast = across(swept.analysis, swept.looks);
  const scanned = await sweepOn(frames, { from, to, height: HEIGHT, step: 1 });
  const whole = across(scanned.analysis, scanned.looks);
  const name = ({ width, what }: { width: number; what: string }) => `${width} ${what}`;
  const seen = new Set(fast.flips.map(name));
  const missed = whole.flips.filter((one) => !seen.has(name(one))).map(name);
  if (JSON.stringify(fast.overflow) !== JSON.stringify(whole.overflow))
    missed.push(`sideways scroll ${JSON.stringify(fast.overflow)} for ${JSON.stringify(whole.overflow)}`);
  const bareMs = bare ? (await bareLoop(headless, frames[0]!.address, from, to)) * EVERY : 0;
  for (const one of frames) await one.close();
  return { readings: swept.looks.size, ms, missed, flips: whole.flips.length, bareMs };
}

/** ms that it takes to set widths and read scroll widths, of a page in a window of its own. */
async function bareLoop(headless: Headless, address: string, from: number, to: number): Promise<number> {
  const page = await headless.page.context().browser()!.newPage({ viewport: { width: from, height: HEIGHT } });
  await page.goto(address);
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
  const pages = [...demoPages(), ...corpusPages()].filter(
    ({ name }) => asked.length === 0 || asked.some((part) => name.includes(part)),
  );
  const headless = await openHeadless();
  let missed = 0;
  try {
    for (const page of pages) {
      const one = await held(headless, page, { from: 240, to: 1920, bare: true });
      missed += one.missed.length;
      console.log(
        `${page.name}: ${one.readings} of 1681 widths, ${Math.round(one.ms)} ms, ${(one.ms / one.bareMs).toFixed(2)} x the bare loop (${Math.round(one.bareMs)} ms); ${one.flips} flips, ${one.missed.length} missed`,
      );
      for (const line of one.missed.slice(0, 12)) console.log(`  missed ${line}`);
    }
  } finally {
    await headless.close();
  }
  console.log(`${missed} missed in all`);
}

if (/exhaustive\.(ts|mjs)$/.test(process.argv[1] ?? '')) await main();
