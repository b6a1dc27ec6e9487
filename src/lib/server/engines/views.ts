/** One page at several widths in one engine, each with what is found there and a way to measure it under changes. */
import type { Analysis } from '../../../core/analysis.ts';
import type { Observation } from '../../../core/finding.ts';
import type { Measure } from '../../../core/proof/prover.ts';
import { observeAll } from '../../../core/rules/index.ts';
import type { Opened } from './headless.ts';

export interface View {
  width: number;
  analysis: Analysis;
  found: Observation[];
  measure: Measure;
  /** Runs what asks accounts of it until the engine has said all that they lack. */
  complete: <T>(run: () => T) => Promise<T>;
}

export interface Views {
  list: View[];
  /** Shows the page at a width. */
  show: (width: number) => Promise<void>;
}

/** Reads the page at every width, in order. CSS px. */
export async function viewsOf(opened: Opened, widths: readonly number[], height: number): Promise<Views> {
  let current = -1;
  const show = async (width: number): Promise<void> => {
    if (current !== width) await opened.resize({ width, height });
    current = width;
  };
  const list: View[] = [];
  for (const width of widths) {
    await show(width);
    const analysis = await opened.measure();
    list.push({
      width,
      analysis,
      found: await opened.complete(analysis, () => observeAll(analysis)),
      measure: async (edits) => {
        await show(width);
        const { failed } = await opened.lay(edits);
        return failed.length > 0 ? null : opened.measure();
      },
      complete: async (run) => {
        await show(width);
        await opened.lay([]);
        return opened.complete(analysis, run);
      },
    });
  }
  return { list, show };
}
