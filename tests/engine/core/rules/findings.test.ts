/** What is found on the demo is what its answer file says: kind, place, culprit, and a change that helps by other means too. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { z } from 'zod';
import type { FindingDocument } from '../../../../src/core/reports/findings.ts';
import { findOn } from '../../../../src/lib/server/engines/find.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { ROOT } from '../../../../src/lib/server/root.ts';
import { demoPages } from '../../../support/corpus.ts';
import { patchedFiles } from '../../../support/random-trials.ts';

const fault = z.object({
  id: z.string(),
  page: z.string(),
  kind: z.string(),
  at: z.array(z.object({ from: z.number(), to: z.number() })),
  width: z.number(),
  px: z.number(),
  subject: z.string(),
  other: z.string().optional(),
  culprit: z.object({ sheet: z.string(), line: z.number(), property: z.string() }).nullable(),
});
type Fault = z.infer<typeof fault>;
const { faults } = z
  .object({ faults: z.array(fault) })
  .parse(JSON.parse(readFileSync(join(ROOT, 'demo/answers.json'), 'utf8')));

/** Kinds that changes are not measured for: a declaration that does nothing is gone with the declaration. */
const UNSEEN = /inert|dropped|viewport/;

const isOf = (found: FindingDocument, { kind, subject, other, culprit }: Fault): boolean => {
  if (found.kind !== kind) return false;
  if (
    found.places.includes(subject) ||
    (other !== undefined && found.subject === other && found.other === subject)
  )
    return true;
  return culprit !== null && found.culprits[0]?.source?.line === culprit.line;
};

describe('findings on the demo', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const page of demoPages()) {
    const own = faults.filter((fault) => fault.page === page.entry);
    for (const width of new Set(own.map((entry) => entry.width)))
      test(`${page.entry} at ${width}`, async (t) => {
        const opened = await headless.open(page.files, page.entry, { width, height: 800 });
        const ask = { page: page.entry, defaults: 'as-rendered', height: 800, kinds: null };
        const { findings } = await findOn(opened, { ...ask, widths: [width] });
        const real = findings.filter(({ grade }) => grade !== 'meant');
        const wanted = own.filter(({ at }) => at.some(({ from, to }) => width >= from && width <= to));
        for (const entry of wanted) {
          const found = real.find((finding) => isOf(finding, entry));
          assert.ok(
            found,
            `${entry.id} is not found among ${real.map(({ kind, because }) => `${kind}: ${because}`).join('\n')}`,
          );
          if (entry.width === width && !UNSEEN.test(entry.kind))
            assert.ok(Math.abs(found.px - entry.px) < 1.5, `${entry.id}: ${found.px} px`);
          const [first] = found.culprits;
          assert.ok(first, `${entry.id} has no culprit`);
          const source = first.source && { sheet: first.source.sheet, line: first.source.line };
          if (entry.culprit)
            assert.deepEqual(
              source,
              { sheet: entry.culprit.sheet, line: entry.culprit.line },
              `${entry.id}: ${first.property}`,
            );
          assert.ok(found.remedies.length > 0, `${entry.id} has no remedy`);
          // The diff applied by other means, and looked at again.
          const mended = await headless.open(
            await patchedFiles(page.files, found.remedies[0]!.diff),
            page.entry,
            {
              width,
              height: 800,
            },
          );
          const again = await findOn(mended, { ...ask, widths: [width], most: 0 });
          await mended.close();
          assert.ok(
            !again.findings.some(
              (finding) =>
                finding.grade !== 'meant' && finding.kind === found.kind && finding.subject === found.subject,
            ),
            `${entry.id} is still there after its remedy`,
          );
        }
        // What is found beyond the answers is told, so that it can be looked at.
        for (const extra of real.filter((finding) => !wanted.some((entry) => isOf(finding, entry))))
          t.diagnostic(`also: ${extra.because}`);
        const wrong = real.filter(({ grade }) => grade === 'wrong');
        assert.ok(wrong.length <= wanted.length + 2, `${wrong.length} findings for ${wanted.length} faults`);
        await opened.close();
      });
  }
});
