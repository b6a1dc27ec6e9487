/** How often the page is asked for content widths before an answer is told, and told again. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { Remote } from 'comlink';
import type { Analyst } from '../../../../src/lib/ui/bench/analyst.worker.ts';
import { createSizeRetry } from '../../../../src/lib/ui/bench/state/retry-with-sizes.ts';

interface Row {
  name: string;
  /** What the answers want, one after another; the last one goes on. */
  wanting: number[][][];
  /** What is in doubt once an answer was told. */
  doubted?: number[][];
  /** There is no page to ask. */
  isAlone?: boolean;
  /** Nobody wants to know any more. */
  isLeft?: boolean;
  /** How often the analyst answers, the page is asked, and somebody is told. */
  expected: { answers: number; asked: number; told: number };
}

const ROWS: Row[] = [
  { name: 'an answer that wants nothing', wanting: [[]], expected: { answers: 1, asked: 0, told: 1 } },
  { name: 'one that wants something once', wanting: [[[1]], []], expected: { answers: 2, asked: 1, told: 1 } },
  {
    name: 'one that leads to other boxes',
    wanting: [[[1]], [[2], [3]], []],
    expected: { answers: 3, asked: 2, told: 1 },
  },
  {
    name: 'one that never has enough is told after three times',
    wanting: [[[1]]],
    expected: { answers: 4, asked: 3, told: 1 },
  },
  {
    name: 'a saved reading, whose page is not there',
    wanting: [[[1]]],
    doubted: [[4]],
    isAlone: true,
    expected: { answers: 1, asked: 0, told: 1 },
  },
  {
    name: 'what was taken over is asked again, and told again',
    wanting: [[]],
    doubted: [[4]],
    expected: { answers: 2, asked: 1, told: 2 },
  },
  {
    name: 'what nobody wants to know any more is not asked again',
    wanting: [[]],
    doubted: [[4]],
    isLeft: true,
    expected: { answers: 1, asked: 0, told: 1 },
  },
];

/** Content widths as batches of boxes are asked for them. */
function knowingOf(doubted: number[][], isAlone: boolean) {
  const asked: number[][][] = [];
  const learned: number[][] = [];
  const analyst = {
    learn: (widths: number[]) => Promise.resolve(void learned.push(widths)),
    doubt: () => Promise.resolve(doubted),
  } as unknown as Remote<Analyst>;
  const measure = (batches: number[][]) => {
    if (isAlone) return null;
    asked.push(batches);
    return Promise.resolve(batches.flat());
  };
  return { knowing: createSizeRetry({ analyst, measure }), asked, learned };
}

describe('content widths that answers need', () => {
  for (const { name, wanting, doubted = [], isAlone = false, isLeft = false, expected } of ROWS)
    test(name, async () => {
      const { knowing, asked, learned } = knowingOf(doubted, isAlone);
      let [answers, reported] = [0, 0];
      await knowing.tell(
        () => Promise.resolve({ wanting: wanting[Math.min(answers++, wanting.length - 1)]! }),
        () => {
          reported++;
          return !isLeft;
        },
      );
      assert.deepEqual({ answers, asked: asked.length, told: reported }, expected);
      assert.deepEqual(
        learned,
        asked.map((batches) => batches.flat()),
      );
    });

  test('an answer that was asked for early is not asked for again', async () => {
    const { knowing } = knowingOf([], false);
    let answers = 0;
    const ask = () => Promise.resolve({ wanting: [] as number[][], nth: answers++ });
    const reported: number[] = [];
    await knowing.tell(ask, ({ nth }) => reported.push(nth) > 0, ask());
    assert.deepEqual([answers, reported], [1, [0]]);
  });

  test('no answer is told as none', async () => {
    const { knowing, asked } = knowingOf([], false);
    const reported: unknown[] = [];
    await knowing.tell<{ wanting: number[][] } | null>(
      () => Promise.resolve(null),
      (result) => {
        reported.push(result);
        return false;
      },
    );
    assert.deepEqual([reported, asked], [[null], []]);
  });

  for (const [name, doubted, expected] of [
    ['in doubt is asked once more', [[1]], 2],
    ['without doubt is as it is', [], 1],
  ] as const)
    test(`what is ${name}`, async () => {
      const { knowing } = knowingOf(
        doubted.map((batch) => [...batch]),
        false,
      );
      let answers = 0;
      assert.equal(await knowing.sure(() => Promise.resolve(++answers)), expected);
    });
});
