/** Searches against exhaustive scans, and what they cost. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { isolate } from '../../../../src/core/search/isolate.ts';
import { seek } from '../../../../src/core/search/seek.ts';
import { meets, offTarget, targetWords, type Target } from '../../../../src/core/search/measured-quantity.ts';

/** Numbers that repeat with a seed. */
function numbers(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 3266489917) >>> 0;
    return state / 2 ** 32;
  };
}

describe('seek', () => {
  test('agrees with a scan of every value on 50 planted thresholds', async (t) => {
    let searched = 0;
    let scanned = 0;
    for (let seed = 1; seed <= 50; seed++) {
      const next = numbers(seed);
      const threshold = next() * 400;
      const slope = next() < 0.5 ? 1 : -1;
      // A staircase, as lines that break are.
      const number = (value: number) => Math.floor((slope * (value - threshold)) / 40) * 24;
      const target: Target = { is: slope > 0 ? 'at-least' : 'at-most', value: 0 };
      const found = await seek((value) => Promise.resolve(number(value)), {
        from: 0,
        to: 400,
        step: 1,
        meets: (value) => meets(value, target),
        off: (value) => offTarget(value, target),
      });
      const all = Array.from({ length: 401 }, (_, value) => value);
      const wanted = all.find((value) => meets(number(value), target)) ?? null;
      assert.equal(found.first, wanted, `threshold ${threshold}, slope ${slope}`);
      searched += found.measured;
      scanned += all.length;
    }
    t.diagnostic(`${searched} measurements, ${scanned} by scanning`);
    assert.ok(searched * 5 < scanned);
  });

  const run = (number: (value: number) => number | null, target: Target, more = {}) =>
    seek((value) => Promise.resolve(number(value)), {
      from: 0,
      to: 100,
      step: 1,
      meets: (value) => meets(value, target),
      off: (value) => offTarget(value, target),
      ...more,
    });

  test('a target that is met at one value alone', async () => {
    const found = await run((value) => value * 3 - 123, { is: 'equal', value: 0 });
    assert.equal(found.first, 41);
    assert.equal(found.course, 'grows');
    assert.deepEqual(
      found.flips.map(({ to }) => to),
      [41, 42],
    );
  });

  test('a target that is passed and never met: the nearest is told', async () => {
    const found = await run((value) => value * 3 - 124, { is: 'equal', value: 0 });
    assert.equal(found.first, null);
    assert.deepEqual(found.nearest, { value: 41, number: -1 });
    assert.deepEqual(found.passed, [{ from: 41, to: 42 }]);
  });

  test('several flips where the number turns', async () => {
    const found = await run((value) => Math.abs(value - 50), { is: 'at-most', value: 20 });
    assert.equal(found.course, 'turns');
    assert.deepEqual(
      found.flips.map(({ to, before }) => [to, before]),
      [
        [30, false],
        [71, true],
      ],
    );
  });

  test('steps that are no whole numbers', async () => {
    const found = await run((value) => value * 2, { is: 'at-least', value: 3 }, { to: 4, step: 0.25 });
    assert.equal(found.first, 1.5);
  });

  test('what cannot be measured meets nothing', async () => {
    const found = await run((value) => (value < 50 ? null : 0), { is: 'equal', value: 0 });
    assert.equal(found.first, 50);
  });

  test('stops when it is told to, and refuses a range that is none', async () => {
    await assert.rejects(
      run((value) => value, { is: 'equal', value: 5 }, { signal: { aborted: true } }),
      /Stopped/,
    );
    await assert.rejects(
      run((value) => value, { is: 'equal', value: 5 }, { to: 0 }),
      /end above/,
    );
    await assert.rejects(
      run((value) => value, { is: 'equal', value: 5 }, { step: 0 }),
      /larger than 0/,
    );
  });
});

describe('isolate', () => {
  const all = Array.from({ length: 60 }, (_, i) => i);
  const cases: [string, readonly number[], number][] = [
    ['one of many', [37], 20],
    ['two that are only together to blame', [3, 55], 45],
    ['three', [0, 30, 59], 80],
    ['none of them', [], 2],
  ];
  for (const [name, needed, most] of cases)
    test(name, async (t) => {
      const found = await isolate(all, {
        isThere: (kept) => Promise.resolve(needed.every((value) => kept.includes(value))),
        name: String,
      });
      assert.deepEqual(found.needs, needed);
      assert.ok(found.measured <= most, `${found.measured} measurements`);
      t.diagnostic(`${found.measured} measurements, ${all.length} one at a time`);
    });

  test('what is not there is told', async () => {
    const found = await isolate(all, { isThere: () => Promise.resolve(false), name: String });
    assert.equal(found.found, false);
  });

  test('what is left is 1-minimal where several sets would do', async () => {
    const isThere = (kept: readonly number[]) => Promise.resolve(kept.length >= 3);
    const { needs } = await isolate(all, { isThere, name: String });
    assert.equal(needs.length, 3);
  });
});

describe('targets', () => {
  const cases: [Target, number, boolean, string][] = [
    [{ is: 'equal', value: 10 }, 10.04, true, 'is 10'],
    [{ is: 'equal', value: 10 }, 10.06, false, 'is 10'],
    [{ is: 'at-most', value: 0 }, 0, true, 'is at most 0'],
    [{ is: 'at-most', value: 0 }, 1, false, 'is at most 0'],
    [{ is: 'at-least', value: 2 }, 2, true, 'is at least 2'],
    [{ is: 'changes', value: 2 }, 2, false, 'is no longer 2'],
    [{ is: 'changes', value: 2 }, 3, true, 'is no longer 2'],
  ];
  for (const [target, number, met, words] of cases)
    test(`${number} ${words}`, () => {
      assert.equal(meets(number, target), met);
      assert.equal(targetWords(target), words);
    });
});
