/** What is done on a live page before it is frozen: a few verbs over CSS selectors. */
import type { Page } from 'playwright-core';
import { Refusal } from '../ingest/refusal.ts';

export type Step =
  | { do: 'click' | 'hover'; selector: string }
  | { do: 'fill'; selector: string; text: string }
  | { do: 'press'; key: string }
  | { do: 'wait'; ms: number }
  | { do: 'wait'; selector: string }
  | { do: 'scroll'; y: number };

const HOW = 'Steps are: click CSS, hover CSS, fill CSS = TEXT, press KEY, wait MS, wait CSS, scroll PX.';

/** Throws a Refusal. */
export function parseStep(written: string): Step {
  const [, verb = '', rest = ''] = /^\s*(\w+)\s+(\S.*)$/s.exec(written) ?? [];
  const refuse = (why: string): never => {
    throw new Refusal(`steps: “${written.slice(0, 200)}” ${why}. ${HOW}`);
  };
  switch (verb) {
    case 'click':
    case 'hover':
      return { do: verb, selector: rest.trimEnd() };
    case 'fill': {
      const [, selector, text = ''] = /^(.*?) =(?: (.*))?$/s.exec(rest) ?? [];
      if (selector === undefined) refuse('does not say what to fill in');
      return { do: 'fill', selector: selector!, text };
    }
    case 'press':
      return { do: 'press', key: rest.trimEnd() };
    case 'wait': {
      if (!/^\d+$/.test(rest)) return { do: 'wait', selector: rest.trimEnd() };
      if (Number(rest) > 60_000) refuse('waits longer than 60,000 ms');
      return { do: 'wait', ms: Number(rest) };
    }
    case 'scroll':
      if (!/^\d+$/.test(rest)) refuse('does not say how far in px');
      return { do: 'scroll', y: Number(rest) };
    default:
      return refuse('is no step');
  }
}

/** Ms in which what a step names must be there. */
const STEP_MS = 10_000;

async function doStep(page: Page, step: Step): Promise<void> {
  const options = { timeout: STEP_MS };
  switch (step.do) {
    case 'click':
      return page.locator(`css=${step.selector}`).first().click(options);
    case 'hover':
      return page.locator(`css=${step.selector}`).first().hover(options);
    case 'fill':
      return page.locator(`css=${step.selector}`).first().fill(step.text, options);
    case 'press':
      return page.keyboard.press(step.key);
    case 'wait':
      if ('ms' in step) return page.waitForTimeout(step.ms);
      return page
        .locator(`css=${step.selector}`)
        .first()
        .waitFor({ ...options, state: 'visible' });
    case 'scroll':
      return page.evaluate((y) => scrollTo({ top: y, behavior: 'instant' }), step.y);
  }
}

/** Throws a Refusal that names the step which could not be done. */
export async function doSteps(page: Page, written: readonly string[]): Promise<void> {
  for (const text of written) {
    const step = parseStep(text);
    try {
      await doStep(page, step);
    } catch (error) {
      const [line = ''] = (error instanceof Error ? error.message : String(error)).split('\n');
      throw new Refusal(`steps: “${text}” could not be done (${line.replace(/^[\w.]+: /, '')}).`);
    }
  }
}
