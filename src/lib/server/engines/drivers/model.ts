/** A browser that the server drives: one page in it, in which a station runs. Each driver is one file beside this. */
import type { Page } from 'playwright-core';

export const ENGINE_NAMES = ['chromium', 'firefox', 'webkit'] as const;
export type EngineName = (typeof ENGINE_NAMES)[number];

/** No engine can be had, with what to do about it. */
export class NoEngine extends Error {
  override name = 'NoEngine';
}

export interface DrivenPage {
  /** Playwright's page, where it is Playwright that drives. */
  playwright?: Page;
  version: string;
  goto: (address: string) => Promise<void>;
  /** Runs a script for good, as a script element would. */
  addScript: (script: string) => Promise<void>;
  /** Runs a function in the page; it sees nothing but its argument. Both, and what it comes to, are plain data. */
  evaluate: <A, R>(run: (arg: A) => R | Promise<R>, arg: A) => Promise<R>;
  close: () => Promise<void>;
}
