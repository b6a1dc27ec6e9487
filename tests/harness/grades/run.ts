/**
 * `npm run grades`: labelled pages, each with its twin, and what is said of them, by kind and by grade. `NORMETRA_CASES` names
 * folders with `cases.json` and `pages/`, `:` between them; `FOLD=0` (1, 2) keeps to a third of the pages, `FOLD=-0` to the
 * others; further words keep to pages with a part of their name. `JSON=path` writes all of it down.
 */
import { fork } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { launch } from '../../../src/lib/server/engines/drivers/chromium.ts';
import { openHeadless } from '../../../src/lib/server/engines/headless.ts';
import { foldOf, readSets, type LabelledPair } from './labelled.ts';
import { scorePair, type Scored } from './score.ts';

const folders = (process.env['NORMETRA_CASES'] ?? '').split(':').filter(Boolean);
if (folders.length === 0)
  throw new Error('No labelled pages: name folders with cases.json and pages/ in NORMETRA_CASES.');
const fold = process.env['FOLD'] ?? '';
const names = process.argv.slice(2);
const isAsked = ({ file }: LabelledPair): boolean =>
  (names.length === 0 || names.some((name) => file.includes(name))) &&
  (fold === '' || (foldOf(file) === Math.abs(Number(fold))) !== fold.startsWith('-'));
const list = readSets(folders).flatMap(({ pages, pairs }) =>
  pairs.filter(isAsked).map((pair) => ({ pages, pair })),
);
const withTwins = process.env['TWINS'] !== 'no';

/** Engines at work at once. */
const HANDS = 2;

async function work(hand: number): Promise<Scored[]> {
  const headless = await openHeadless();
  const browser = await launch();
  const tabs = new Map<string, Page>();
  const tabOf = async (pair: LabelledPair, width: number): Promise<Page> => {
    const size = { width, height: 800 };
    const key = pair.mobile === true ? `phone ${width}` : 'desk';
    let tab = tabs.get(key);
    if (!tab) {
      const context = await browser.newContext({
        viewport: size,
        ...(pair.mobile === true && { isMobile: true, hasTouch: true, screen: size }),
      });
      // What the loader of these files writes into functions that are handed to a page.
      await context.addInitScript('globalThis.__name = (f) => f');
      tabs.set(key, (tab = await context.newPage()));
    }
    if (pair.mobile !== true) await tab.setViewportSize(size);
    return tab;
  };
  const out: Scored[] = [];
  for (const [n, { pages, pair }] of list.entries())
    if (n % HANDS === hand) out.push(await scorePair(headless, pages, pair, tabOf, withTwins));
  await Promise.all([headless.close(), browser.close()]);
  return out;
}

const hand = process.env['HAND'];
if (hand !== undefined) {
  process.send!(await work(Number(hand)));
  process.disconnect();
} else {
  const parts = await Promise.all(
    Array.from(
      { length: HANDS },
      (_, n) =>
        new Promise<Scored[]>((resolve, reject) => {
          const child = fork(fileURLToPath(import.meta.url), names, {
            env: { ...process.env, HAND: String(n) },
          });
          child.on('message', (message) => resolve(message as Scored[]));
          child.on('exit', (code) => code && reject(new Error(`A part of the run ended with ${code}.`)));
        }),
    ),
  );
  report(parts.flat().sort((a, b) => a.kind.localeCompare(b.kind) || a.file.localeCompare(b.file)));
}

function report(results: readonly Scored[]): void {
  const path = process.env['JSON'];
  if (path) writeFileSync(path, JSON.stringify({ results }));
  const marks = ['found', 'wrong', 'first', 'culprit', 'works', 'widths', 'line'] as const;
  for (const result of results) {
    const missed = marks.filter((mark) => result[mark] === false);
    if (missed.length === 0 && result.alarms.length === 0) continue;
    console.log(
      `\n${result.file} (${result.kind}): not ${missed.join(', ') || '-'}${result.why && `; ${result.why}`}`,
    );
    if (!result.found) console.log(`  told: ${result.told.join(' || ') || 'nothing'}`);
    for (const alarm of result.alarms) console.log(`  alarm on the twin: ${alarm}`);
  }
  const row = (name: string, some: readonly Scored[]): void =>
    console.log(
      name.padEnd(16) +
        marks
          .map((mark) =>
            `${some.filter((result) => result[mark] === true).length}/${some.filter((result) => result[mark] !== null).length}`.padStart(
              9,
            ),
          )
          .join(''),
    );
  console.log(`\n${''.padEnd(16)}${marks.map((mark) => mark.padStart(9)).join('')}`);
  for (const kind of new Set(results.map((result) => result.kind)))
    row(
      kind,
      results.filter((result) => result.kind === kind),
    );
  row('all', results);
  const sum = (of: (result: Scored) => number): number => results.reduce((all, result) => all + of(result), 0);
  if (withTwins)
    console.log(
      `twins: ${results.filter(({ alarms }) => alarms.length === 0).length}/${results.length} without an alarm, ${sum(({ alarms }) => alarms.length)} alarms, ${sum(({ doubts }) => doubts)} doubts`,
    );
}
