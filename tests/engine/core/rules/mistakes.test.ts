/** Mistakes as people make them: told, blamed on what is wrong, mended by what is proposed, and not told where it is right. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Analysis } from '../../../../src/core/analysis.ts';
import { observeAll } from '../../../../src/core/rules/index.ts';
import { spanOf } from '../../../../src/core/rules/span.ts';
import { findOn } from '../../../../src/lib/server/engines/find.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import type { StoredFile } from '../../../../src/lib/server/ingest/files.ts';
import type { FindingDocument } from '../../../../src/core/reports/findings.ts';
import { filesOf, MISTAKES } from '../../../harness/faults/mistakes.ts';
import { patchedFiles } from '../../../support/random-trials.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const stored = ({ html, css }: { html: string; css: string }): StoredFile[] => [
  { path: 'index.html', type: 'text/html', bytes: bytes(html) },
  { path: 'look.css', type: 'text/css', bytes: bytes(css) },
];

describe('mistakes', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  async function told(files: StoredFile[], width: number, most: number): Promise<FindingDocument[]> {
    const opened = await headless.open(files, 'index.html', { width, height: 800 });
    if (most > 0) checkSpans(await opened.measure());
    const ask = { page: '', defaults: 'as-rendered', widths: [width], height: 800, kinds: null, most };
    const { findings } = await findOn(opened, ask);
    await opened.close();
    return findings.filter(({ grade }) => grade !== 'meant');
  }
  const wordsOf = ({ source, property, rule }: FindingDocument['culprits'][number]) =>
    source ? `${source.property}: ${source.value}` : `${property} ${rule}`;

  for (const mistake of MISTAKES)
    test(mistake.name, async () => {
      const width = mistake.width ?? 1280;
      const isTold = ({ kind }: { kind: string }) => mistake.as.test(kind);
      const files = stored(filesOf(mistake, false));
      const found = (await told(files, width, 6)).filter(isTold);
      const right = (await told(stored(filesOf(mistake, true)), width, 0)).filter(isTold);
      const [first] = found.filter((entry) => !right.some((other) => sameAs(entry, other)));
      assert.ok(first, 'it is not told');
      const [culprit] = first.culprits;
      assert.match(culprit ? wordsOf(culprit) : '', mistake.culprit, first.because);
      const [remedy] = first.remedies;
      assert.ok(remedy, `nothing mends it: ${first.because}`);
      const mended = await told(await patchedFiles(files, remedy.diff), width, 0);
      assert.ok(!mended.some((entry) => sameAs(entry, first)), `it is still there with ${remedy.diff}`);
      assert.deepEqual(
        right
          .filter((entry) => entry.kind === first.kind && entry.axis === first.axis)
          .map(({ because }) => because),
        [],
        'it is told of the page without the mistake',
      );
    });
});

/** The dimension line of a finding is as long as its px say. */
function checkSpans(analysis: Analysis): void {
  for (const observation of observeAll(analysis)) {
    const span = spanOf(analysis, observation);
    if (span)
      assert.ok(
        Math.abs(span.to - span.from - observation.px) < 1,
        `${observation.what}: ${span.from} to ${span.to}`,
      );
  }
}

const sameAs = (a: FindingDocument, b: FindingDocument): boolean =>
  a.kind === b.kind && a.axis === b.axis && a.subject === b.subject;
