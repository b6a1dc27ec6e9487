/** A page written in a test, measured; its subject is the element of class `t`. */
import { boxAccount, type BoxAccount } from '../../src/core/accounts/box.ts';
import { sizeAccount } from '../../src/core/accounts/sizing/size.ts';
import type { Analysis } from '../../src/core/analysis.ts';
import { hasBox } from '../../src/core/boxes/tree.ts';
import type { Headless } from '../../src/lib/server/engines/headless.ts';

export const classed = ({ reading }: Analysis, name: string): number =>
  Array.from(reading.classes).findIndex((index) => reading.strings[index]?.split(' ').includes(name));

export async function measureHtml(
  headless: Headless,
  html: string,
  size = { width: 800, height: 600 },
): Promise<Analysis> {
  const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) }];
  const opened = await headless.open(files, 'index.html', size);
  const analysis = await opened.measure();
  await opened.complete(analysis, () => {
    for (let i = 0; i < analysis.reading.count; i++)
      if (hasBox(analysis.tree, i)) for (const axis of ['x', 'y'] as const) sizeAccount(analysis, i, axis);
  });
  await opened.close();
  return analysis;
}

/** A page in standards mode whose body has no margin, and the account of its subject. */
export async function subjectOf(
  headless: Headless,
  html: string,
  css = '',
): Promise<{ analysis: Analysis; box: BoxAccount }> {
  const analysis = await measureHtml(
    headless,
    `<!doctype html><style>body { margin: 0 }\n${css}</style>${html}`,
  );
  return { analysis, box: boxAccount(analysis, classed(analysis, 't')) };
}
