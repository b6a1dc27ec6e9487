/** The demo's faults are what its answer file says: measured in the engine, and gone without their culprits. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { z } from 'zod';
import { elementAt } from '../../../../src/core/reading/labels.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import type { StoredFile } from '../../../../src/lib/server/ingest/files.ts';
import { ROOT } from '../../../../src/lib/server/root.ts';
import { demoPages } from '../../../support/corpus.ts';

const source = z.object({
  sheet: z.string(),
  line: z.number(),
  column: z.number(),
  selector: z.string(),
  property: z.string(),
  value: z.string(),
});
const answers = z.object({
  faults: z.array(
    z.object({
      id: z.string(),
      page: z.string(),
      kind: z.string(),
      width: z.number(),
      px: z.number(),
      subject: z.string(),
      other: z.string().optional(),
      culprit: source.nullable(),
      why: z.string(),
      measure: z.string(),
      without: z.number().nullable(),
    }),
  ),
});
const { faults } = answers.parse(JSON.parse(readFileSync(join(ROOT, 'demo/answers.json'), 'utf8')));

/** The files with one line of a sheet emptied, so that all others keep their numbers. */
function without(files: StoredFile[], { sheet, line }: { sheet: string; line: number }): StoredFile[] {
  return files.map((file) => {
    if (file.path !== sheet) return file;
    const lines = new TextDecoder().decode(file.bytes).split('\n');
    lines[line - 1] = '';
    return { ...file, bytes: new TextEncoder().encode(lines.join('\n')) };
  });
}

describe('the demo', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  test('every page has two to four faults, and the kinds are spread', () => {
    const kinds = new Set(faults.map(({ kind }) => kind));
    assert.ok(kinds.size >= 9, [...kinds].join(', '));
    for (const { entry } of demoPages()) {
      const own = faults.filter(({ page }) => page === entry).length;
      assert.ok(own >= 2 && own <= 5, `${entry} has ${own}`);
    }
  });

  for (const { entry, files } of demoPages())
    test(entry, async (t) => {
      for (const fault of faults.filter(({ page }) => page === entry))
        await t.test(`${fault.kind}: ${fault.id}`, async () => {
          const near = (number: unknown, expected: number) =>
            assert.ok(
              Math.abs(Number(number) - expected) < 0.6,
              `${fault.id}: ${String(number)} where ${expected} was expected`,
            );
          const measure = async (set: StoredFile[], number: number) => {
            const opened = await headless.open(set, entry, { width: fault.width, height: 800 });
            const { reading } = await opened.measure();
            for (const path of [fault.subject, fault.other ?? fault.subject])
              assert.ok(elementAt(reading, path) >= 0, `nothing at ${path}`);
            near(
              await headless.page
                .frames()
                .find((frame) => frame.url() === opened.address)!
                .evaluate(fault.measure),
              number,
            );
            await opened.close();
          };
          await measure(files, fault.px);
          const { culprit } = fault;
          if (!culprit) return;
          const text = new TextDecoder()
            .decode(files.find(({ path }) => path === culprit.sheet)!.bytes)
            .split('\n')[culprit.line - 1]!;
          assert.equal(text.slice(culprit.column - 1), `${culprit.property}: ${culprit.value};`);
          if (fault.without !== null) await measure(without(files, culprit), fault.without);
        });
    });
});
