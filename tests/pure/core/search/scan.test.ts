import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { scan } from '../../../../src/core/search/scan.ts';

interface Case {
  name: string;
  state: (value: number) => string;
  edges?: number[];
  /** First values of a new state that must be found. */
  flips: number[];
}

const CASES: Case[] = [
  { name: 'nothing changes', state: () => 'same', flips: [] },
  { name: 'one change between two samples', state: (v) => (v < 437 ? 'a' : 'b'), flips: [437] },
  {
    name: 'several changes between two samples',
    state: (v) => (v < 301 ? 'a' : v < 305 ? 'b' : v < 317 ? 'c' : 'd'),
    flips: [301, 305, 317],
  },
  {
    name: 'a state of one px that neighbours tell of',
    state: (v) => (v < 347 ? 'small' : v > 347 ? 'large' : 'right'),
    flips: [347, 348],
  },
  {
    name: 'an island at an edge that is known',
    state: (v) => (v >= 700 && v < 703 ? 'island' : 'sea'),
    edges: [700, 703],
    flips: [700, 703],
  },
  { name: 'changes at both ends', state: (v) => (v < 241 ? 'a' : v < 1920 ? 'b' : 'c'), flips: [241, 1920] },
];

const flipsOf = (seen: Map<number, string>): number[] => {
  const list = [...seen];
  return list.flatMap(([value, state], i) =>
    i > 0 && list[i - 1]![1] !== state && value - list[i - 1]![0] === 1 ? [value] : [],
  );
};

describe('where along a range something changes', () => {
  for (const parallel of [1, 3])
    for (const { name, state, edges = [], flips } of CASES)
      test(`${name}, ${parallel} at once`, async () => {
        let looks = 0;
        const seen = await scan<string>({
          from: 240,
          to: 1920,
          step: 32,
          edges,
          parallel,
          isSame: (a, b) => a === b,
          look: async (value) => {
            looks++;
            await new Promise((resolve) => setImmediate(resolve));
            return state(value);
          },
        });
        assert.deepEqual(flipsOf(seen), flips);
        assert.equal(seen.size, looks, 'no value is looked at twice');
        assert.ok(looks < 90, `${looks} looks`);
        assert.deepEqual(
          [...seen.keys()],
          [...seen.keys()].sort((a, b) => a - b),
        );
      });

  const GUESSES: [name: string, guess: (low: number, high: number) => number | null, most: number][] = [
    ['right', (low, high) => [301, 305, 317, 611].find((value) => value > low && value <= high) ?? null, 62],
    [
      'one too high',
      (low, high) => [302, 306, 318, 612].find((value) => value > low + 1 && value <= high) ?? null,
      75,
    ],
    ['always at the lower end', (low) => low + 1, 85],
    ['always at the higher end', (_, high) => high, 85],
    ['out of the range', (low) => low - 100, 85],
    ['none', () => null, 75],
  ];
  for (const [name, guess, most] of GUESSES)
    test(`guesses that are ${name} lose no change`, async () => {
      const state = (value: number) => [301, 305, 317, 611].filter((candidate) => value >= candidate).length;
      const seen = await scan<{ value: number; state: number }>({
        from: 240,
        to: 1920,
        step: 32,
        edges: [],
        isSame: (a, b) => a.state === b.state,
        guess: (low, high, below, above) => {
          assert.ok(low.value < high.value && (below?.value ?? -1) < low.value);
          assert.ok((above?.value ?? Infinity) > high.value);
          return guess(low.value, high.value);
        },
        look: async (value) => ({ value, state: state(value) }),
      });
      const texts = new Map([...seen].map(([value, entry]) => [value, String(entry.state)]));
      assert.deepEqual(flipsOf(texts), [301, 305, 317, 611]);
      assert.ok(seen.size <= most, `${seen.size} looks`);
    });

  const LEAST: { name: string; least: number; to: number; state: (value: number) => string; looks: number }[] =
    [
      { name: 'as many as are asked for', least: 100, to: 1920, state: () => 'same', looks: 100 },
      { name: 'no more where more were needed', least: 20, to: 1920, state: () => 'same', looks: 54 },
      { name: 'no more than there are values', least: 100, to: 260, state: () => 'same', looks: 21 },
      {
        name: 'and what comes to light is found to one step',
        least: 100,
        to: 1920,
        state: (value) => (value >= 741 && value < 760 ? 'island' : 'sea'),
        looks: 0,
      },
    ];
  for (const parallel of [1, 2])
    for (const { name, least, to, state, looks } of LEAST)
      test(`at least so many looks: ${name}, ${parallel} at once`, async () => {
        const expected: number[] = [];
        const seen = await scan<string>({
          from: 240,
          to,
          step: 32,
          edges: [],
          least,
          parallel,
          isSame: (a, b) => a === b,
          look: async (value) => {
            await new Promise((resolve) => setImmediate(resolve));
            return state(value);
          },
          progress: (_, __, done, all) => expected.push(all - done),
        });
        if (looks > 0) assert.equal(seen.size, looks);
        else assert.deepEqual(flipsOf(seen), [741, 760]);
        assert.ok(seen.size >= Math.min(least, to - 239));
        assert.equal(expected.at(-1), Math.max(0, least - seen.size), 'all that was expected was done');
      });

  test('nobody is idle while one has more to ask', async () => {
    const looks = [0, 0];
    await scan<number>({
      from: 0,
      to: 512,
      step: 512,
      edges: [],
      parallel: 2,
      isSame: () => false,
      look: async (value, worker) => {
        looks[worker]!++;
        await new Promise((resolve) => setTimeout(resolve, 1));
        return value;
      },
    });
    assert.equal(looks[0]! + looks[1]!, 513);
    assert.ok(Math.min(...looks) > 150, looks.join(' and '));
  });

  test('each of those who look keeps to its part of the range', async () => {
    const ways = [0, 0];
    const last = [0, 1000];
    await scan<number>({
      from: 0,
      to: 1000,
      step: 10,
      edges: [],
      parallel: 2,
      isSame: () => true,
      look: async (value, worker) => {
        ways[worker]! += Math.abs(value - last[worker]!);
        last[worker] = value;
        await new Promise((resolve) => setImmediate(resolve));
        return value;
      },
    });
    assert.ok(ways[0]! + ways[1]! <= 1000, `${ways.join(' and ')}`);
  });

  test('the first looks are as far apart as is asked at each of them', async () => {
    const seen = await scan<number>({
      from: 10,
      to: 40,
      step: (value) => (value < 20 ? 3 : 9),
      edges: [],
      isSame: () => true,
      look: (value) => Promise.resolve(value),
    });
    assert.deepEqual([...seen.keys()], [10, 13, 16, 19, 22, 31, 40]);
  });

  test('those at work go past an edge only when all on this side of it is known', async () => {
    const gone: number[][] = [[], []];
    const edges = [200, 400, 600, 800];
    await scan<number>({
      from: 0,
      to: 1000,
      step: 90,
      edges,
      parallel: 2,
      isSame: (a, b) => a === b,
      // Something changes every 70, and nearest to the last look is often what lies beyond an edge.
      look: async (value, worker) => {
        gone[worker]!.push(edges.filter((edge) => edge <= value).length);
        await new Promise((resolve) => setImmediate(resolve));
        return Math.floor(value / 70);
      },
    });
    for (const list of gone) {
      const steps = list.filter((value, i) => i > 0 && value !== list[i - 1]).length;
      assert.ok(
        steps <= edges.length,
        `${steps} times from one side of an edge to the other: ${list.join(' ')}`,
      );
    }
  });

  test('can be stopped, and says so', async () => {
    const signal = { aborted: false };
    const running = scan({
      from: 0,
      to: 1000,
      step: 10,
      edges: [],
      signal,
      isSame: (a, b) => a === b,
      look: async (value) => {
        if (value > 200) signal.aborted = true;
        return value;
      },
    });
    await assert.rejects(running, /Stopped/);
  });

  test('what fails in a look fails the whole', async () => {
    const running = scan({
      from: 0,
      to: 10,
      step: 5,
      edges: [],
      isSame: () => true,
      look: () => Promise.reject(new Error('The page is gone.')),
    });
    await assert.rejects(running, /The page is gone/);
  });
});
