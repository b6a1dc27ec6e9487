/** What is said of labelled pages, held against their labels. */
import { pathToFileURL } from 'node:url';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { findOn } from '../../../src/lib/server/engines/find.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openPage } from '../../../src/lib/server/engines/source.ts';
import type { FindingDocument } from '../../../src/core/reports/findings.ts';
import type { LabelledPair } from './labelled.ts';

export interface Scored {
  file: string;
  kind: string;
  found: boolean;
  wrong: boolean;
  /** Whether it is the first of all findings. */
  first: boolean;
  culprit: boolean;
  works: boolean;
  widths: boolean;
  /** null: there is no line to name. */
  line: boolean | null;
  named: string;
  remedy: FindingDocument['remedies'][number]['edits'];
  /** All that was told, graded. */
  told: string[];
  why: string;
  /** What was graded wrong on the twin, inert and dropped declarations apart. */
  alarms: string[];
  doubts: number;
  doubtful: string[];
}

const HEIGHT = 800;

export async function findingsOf(
  headless: Headless,
  file: string,
  widths: readonly number[],
): Promise<FindingDocument[]> {
  const source = await openPage(file, null);
  const opened = await headless.openSource(source, { width: widths[0]!, height: HEIGHT }, 'hold');
  const { findings } = await findOn(opened, {
    page: file,
    defaults: 'rendered',
    widths,
    height: HEIGHT,
    kinds: null,
  });
  return findings;
}

const holdsAt = ({ at }: FindingDocument, width: number): boolean =>
  at.some(({ from, to }) => from <= width && width <= to);

/** Of each path, whether some of the selectors match the element that it leads to. */
const selectedBy = (tab: Page, paths: readonly string[], selectors: readonly string[]): Promise<boolean[]> =>
  tab.evaluate(
    ([all, fair]) => {
      const elements = new Set(
        fair!.flatMap((selector) => {
          try {
            return [...document.querySelectorAll(selector)];
          } catch {
            return [];
          }
        }),
      );
      return all!.map((path) => {
        const plain = path.replace(/::[a-z-]+(\([^)]*\))?$/i, '').trim();
        try {
          const element = document.querySelector(plain || 'html');
          return element !== null && elements.has(element);
        } catch {
          return false;
        }
      });
    },
    [paths, selectors] as const,
  );

/** Lays edits over a page as an author could at most: important, in the layer that comes first. Gives what could not be laid. */
const lay = (tab: Page, edits: FindingDocument['remedies'][number]['edits']): Promise<string[]> =>
  tab.evaluate((list) => {
    const refused: string[] = [];
    const css: string[] = [];
    for (const { selector, property, value, was } of list) {
      if (property === 'viewport') {
        const meta =
          document.querySelector('meta[name=viewport]') ??
          document.head.appendChild(Object.assign(document.createElement('meta'), { name: 'viewport' }));
        meta.setAttribute('content', value);
        continue;
      }
      const plain = selector.replace(/::?(before|after|marker|first-line|first-letter|placeholder)\b.*$/i, '');
      let reached: Element[];
      try {
        reached = [...document.querySelectorAll(plain || '*')];
      } catch {
        refused.push(`no selector: ${selector}`);
        continue;
      }
      if (reached.length === 0) refused.push(`matches nothing: ${selector}`);
      else if (value !== '') css.push(`${selector} { ${property}: ${value} !important }`);
      else {
        const tidy = (text: string): string => text.replace(/\s+/g, ' ').trim();
        const walk = (rules: CSSRuleList): void => {
          for (const rule of rules) {
            const { style, selectorText, cssRules } = rule as CSSStyleRule;
            const has = style?.getPropertyValue(property) ?? '';
            if (has && (tidy(selectorText) === tidy(selector) || tidy(has) === tidy(was)))
              if (reached.some((element) => element.matches(selectorText))) style.removeProperty(property);
            if (cssRules) walk(cssRules);
          }
        };
        for (const sheet of document.styleSheets) walk(sheet.cssRules);
        for (const element of reached) {
          (element as HTMLElement).style.removeProperty(property);
          element.removeAttribute(property);
        }
      }
    }
    const style = document.createElement('style');
    style.textContent = `@layer first-of-all { ${css.join('\n')} }`;
    document.head.prepend(style);
    return refused;
  }, edits);

const countSeen = (tab: Page): Promise<number> =>
  tab.evaluate(
    () =>
      [...document.body.querySelectorAll('*')].filter(
        (element) =>
          element.getClientRects().length > 0 &&
          getComputedStyle(element).visibility === 'visible' &&
          getComputedStyle(element).opacity !== '0',
      ).length,
  );

/** A tab of the width at hand, as a phone has it where the page is for one. */
export type TabOf = (pair: LabelledPair, width: number) => Promise<Page>;

export async function scorePair(
  headless: Headless,
  pages: string,
  pair: LabelledPair,
  tabOf: TabOf,
  withTwin: boolean,
): Promise<Scored> {
  const address = pathToFileURL(join(pages, pair.file)).href;
  const findings = (await findingsOf(headless, join(pages, pair.file), pair.widths)).filter(
    ({ grade }) => grade !== 'meant',
  );
  const tab = await tabOf(pair, pair.badWidths[0]!);
  await tab.goto(address, { waitUntil: 'load' });
  const about = await selectedBy(
    tab,
    findings.map(({ subject }) => subject),
    pair.subject,
  );
  const led = await selectedBy(
    tab,
    findings.map(({ culprits }) => culprits[0]?.path ?? 'nothing'),
    pair.culprit.selectors,
  );
  const matching = findings.filter(({ kind }, n) => pair.kinds.includes(kind) && (about[n] || led[n]));
  const best =
    matching.find((finding) => pair.badWidths.some((width) => holdsAt(finding, width))) ?? matching[0];
  const scored: Scored = {
    file: pair.file,
    kind: pair.kind,
    found: best !== undefined,
    wrong: best?.grade === 'wrong',
    first: best !== undefined && findings[0] === best,
    culprit: false,
    works: false,
    widths: false,
    line: pair.culprit.line === null ? null : false,
    named: 'nobody',
    remedy: best?.remedies[0]?.edits ?? [],
    told: findings.map(
      ({ grade, kind, px, because, at }) =>
        `${grade} ${kind} ${px} @${at.map((a) => `${a.from}-${a.to}`).join()}: ${because}`,
    ),
    why: '',
    alarms: [],
    doubts: 0,
    doubtful: [],
  };
  if (best) {
    const [culprit] = best.culprits;
    const source = culprit?.source ?? null;
    const property = (source?.property ?? culprit?.property ?? '').toLowerCase();
    const [isThere] = await selectedBy(tab, [culprit?.path ?? 'nothing'], pair.culprit.selectors);
    const isDefault = source === null || source.origin === 'browser';
    scored.culprit =
      isThere === true && (pair.culprit.properties.includes(property) || (isDefault && pair.culprit.orDefault));
    if (culprit)
      scored.named = `${culprit.path} { ${property}: ${source?.value ?? ''} } ${source?.sheet ?? ''}:${source?.line ?? ''}`;
    if (scored.line === false) scored.line = source?.line === pair.culprit.line;
    scored.widths = pair.widths.every((width) => holdsAt(best, width) === pair.badWidths.includes(width));
    scored.works = scored.remedy.length > 0;
    for (const width of scored.works ? pair.badWidths : []) {
      const page = await tabOf(pair, width);
      await page.goto(address, { waitUntil: 'load' });
      const before = await countSeen(page);
      const refused = await lay(page, scored.remedy);
      if (pair.mobile) await page.waitForTimeout(100);
      if (await page.evaluate(pair.symptom)) {
        scored.works = false;
        scored.why = `it still shows at ${width} px${refused.length > 0 ? ` (${refused.join('; ')})` : ''}`;
      } else if ((await countSeen(page)) < before) {
        scored.works = false;
        scored.why = `hides something at ${width} px`;
      }
    }
  }
  if (withTwin) {
    const twin = await findingsOf(headless, join(pages, pair.twin), pair.widths);
    const words = ({ kind, px, because }: FindingDocument): string => `${kind} ${px}: ${because}`;
    scored.alarms = twin
      .filter(({ grade, kind }) => grade === 'wrong' && kind !== 'dropped' && kind !== 'inert')
      .map(words);
    const doubtful = twin.filter(({ grade }) => grade === 'doubtful');
    scored.doubts = doubtful.length;
    scored.doubtful = doubtful.map(words);
  }
  return scored;
}
