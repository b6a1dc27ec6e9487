/** One page in several engines, and under several default styles, side by side. */
import { compareEngines } from '../../../core/compare/engines/compare.ts';
import { prepareAccounts } from '../../../core/compare/engines/pair.ts';
import { acrossWidths, type FindingAcrossWidths } from '../../../core/proof/across-widths.ts';
import type { Analysis } from '../../../core/analysis.ts';
import type { Observation } from '../../../core/finding.ts';
import { observeAll } from '../../../core/rules/index.ts';
import type { Edit } from '../../../core/trials/edit.ts';
import { comparisonDocument, matrixFindings, type MatrixDocument } from '../../../core/reports/matrix.ts';
import type { Opened } from './headless.ts';

/** A page that is open in an engine, under default styles. */
export interface Column {
  name: string;
  defaults: string;
  opened: Opened;
}

export interface MatrixOptions {
  page: string;
  widths: readonly number[];
  height: number;
  /** What is being measured, and how many of all have been. */
  progress?: (column: string, done: number, all: number) => void;
  isStopped?: () => boolean;
  /** Edits that are laid over the page: each in the engines, and at the widths, that it is for. */
  edits?: readonly Edit[];
}

interface Measured {
  column: Column;
  list: FindingAcrossWidths[];
  analyses: Map<number, Analysis>;
}

async function readingAt(
  opened: Opened,
  size: { width: number; height: number },
  edits: readonly Edit[],
): Promise<{ analysis: Analysis; found: Observation[] }> {
  await opened.resize(size);
  if (edits.length > 0) await opened.lay(edits);
  const analysis = await opened.measure();
  const found = await opened.complete(analysis, () => observeAll(analysis));
  await opened.complete(analysis, () => prepareAccounts(analysis));
  return { analysis, found };
}

/** The first column is what the others are held against. Throws a DOMException `AbortError` where it is stopped. */
export async function matrixOn(
  columns: readonly Column[],
  { page, widths, height, progress, isStopped = () => false, edits = [] }: MatrixOptions,
): Promise<MatrixDocument> {
  const measured: Measured[] = [];
  for (const [n, column] of columns.entries()) {
    progress?.(column.name, n, columns.length);
    if (isStopped()) throw new DOMException('Stopped.', 'AbortError');
    const readings = new Map<number, { analysis: Analysis; found: Observation[] }>();
    for (const width of widths) readings.set(width, await readingAt(column.opened, { width, height }, edits));
    measured.push({
      column,
      list: acrossWidths(readings),
      analyses: new Map([...readings].map(([width, { analysis }]) => [width, analysis])),
    });
  }
  progress?.('', columns.length, columns.length);
  const [first, ...others] = measured as [Measured, ...Measured[]];
  return {
    normetra: 'matrix/1',
    page,
    widths: [...widths],
    columns: measured.map(({ column: { name, defaults }, analyses }) => ({
      name,
      defaults,
      engine: analyses.get(widths[0]!)!.reading.engine,
    })),
    comparisons: widths.flatMap((width) =>
      others.map(({ column, analyses }) => {
        const here = first.analyses.get(width)!;
        return comparisonDocument(column.name, width, compareEngines(here, analyses.get(width)!));
      }),
    ),
    findings: matrixFindings(
      measured.map(({ column, list, analyses }) => ({
        column: column.name,
        list,
        analysis: analyses.get(widths[0]!)!,
      })),
    ),
  };
}
