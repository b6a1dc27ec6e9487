/** What `import { … } from 'normetra'` gives: pages measured by a headless engine of this machine, as documents. */
import { basename } from 'node:path';
import { findingsDocumentSchema, type FindingsDocument } from '../../core/reports/findings.ts';
import { readingDocument, type ReadingDocument } from '../../core/reports/reading.ts';
import { sweepDocument, type SweepDocument } from '../../core/reports/sweep.ts';
import { across } from '../../core/sweep/across.ts';
import { findOn } from './engines/find.ts';
import { openHeadless } from './engines/headless.ts';
import { openPage } from './engines/source.ts';
import { sweepOn } from './engines/sweep.ts';

export type { FindingsDocument, ReadingDocument, SweepDocument };

export interface PageOptions {
  /** The viewport in CSS px; 1280 × 800 where it is not said. */
  width?: number;
  height?: number;
  /** The folder at which root-relative addresses start; that of the page where it is not said. */
  root?: string;
  /** Whether the page's own scripts run; they are held where it is not said. */
  scripts?: 'hold' | 'run';
}

export interface FindOptions extends Omit<PageOptions, 'width'> {
  /** Widths of the viewport in CSS px, at all of which the page is looked at; 1280 where it is not said. */
  widths?: readonly number[];
}

export interface SweepOptions extends Omit<PageOptions, 'width'> {
  /** The range of widths in CSS px; 240 to 1920 where it is not said. */
  from?: number;
  to?: number;
}

/** An engine that is kept open, for several pages. `page`: an HTML file, a folder, a `.zip`, or an http(s) address. */
export interface Engine {
  /** Every box of a page with the sums of its width and height, and the gaps between boxes. */
  read: (page: string, options?: PageOptions) => Promise<ReadingDocument>;
  /** What is wrong on a page, with causes and proved remedies. What is probably meant is in it too, with its reason in `meant`. */
  find: (page: string, options?: FindOptions) => Promise<FindingsDocument>;
  /** Where along the widths something goes wrong or changes, each change to 1 px. */
  sweep: (page: string, options?: SweepOptions) => Promise<SweepDocument>;
  close: () => Promise<void>;
}

const WIDTH = 1280;
const HEIGHT = 800;
const AS_RENDERED = 'as rendered';

/** Throws a Refusal, with a sentence, where no engine can be started or a page cannot be had. */
export async function openEngine(): Promise<Engine> {
  const headless = await openHeadless();
  const open = async (
    page: string,
    width: number,
    { height = HEIGHT, root, scripts = 'hold' }: PageOptions,
  ) => {
    const source = await openPage(page, root ?? null);
    const opened = await headless.openSource(source, { width, height }, scripts, null);
    return { opened, name: basename(source.entry) || page, height };
  };
  return {
    read: async (page, options = {}) => {
      const { opened, name } = await open(page, options.width ?? WIDTH, options);
      const analysis = await opened.measure();
      const document = await opened.complete(analysis, () =>
        readingDocument(analysis, { page: name, defaults: AS_RENDERED }),
      );
      await opened.close();
      return document;
    },
    find: async (page, { widths = [WIDTH], ...options } = {}) => {
      const { opened, name, height } = await open(page, widths[0] ?? WIDTH, options);
      const found = await findOn(opened, { page: name, defaults: AS_RENDERED, widths, height, kinds: null });
      await opened.close();
      return findingsDocumentSchema.parse(found);
    },
    sweep: async (page, { from = 240, to = 1920, ...options } = {}) => {
      const { opened, name, height } = await open(page, to, options);
      const { analysis, looks } = await sweepOn([opened], { from, to, height });
      await opened.close();
      return sweepDocument(analysis, across(analysis, looks), { page: name, defaults: AS_RENDERED });
    },
    close: headless.close,
  };
}

/** Does one thing with an engine of its own. */
const once = <Verb extends 'read' | 'find' | 'sweep'>(verb: Verb): Engine[Verb] =>
  (async (page: string, options?: object) => {
    const engine = await openEngine();
    try {
      return await engine[verb](page, options);
    } finally {
      await engine.close();
    }
  }) as Engine[Verb];

export const read = once('read');
export const find = once('find');
export const sweep = once('sweep');
