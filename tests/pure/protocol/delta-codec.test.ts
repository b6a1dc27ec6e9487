/** Replies as text, there and back: whole, and told apart from the last. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { makeDeltaDecoder } from '../../../src/protocol/delta-decoder.ts';
import { makeDeltaEncoder, MARK, MORE, SAME, WHICH } from '../../../src/protocol/delta-encoder.ts';

const reading = (width: number, more: string[] = []) => ({
  viewport: { width, height: 800 },
  odd: Float64Array.from([-0, Infinity, Number.MIN_VALUE, ...Array.from({ length: 3000 }, (_, i) => i / 7)]),
  strings: ['html', 'body', ...more],
  rects: Float64Array.from([0, 0, width, 0.1 + width / 3]),
  parent: Int32Array.from([-1, 0]),
  used: { width: Int32Array.from([1, 0]), display: Int32Array.from([0, -1]) },
  matches: [Int32Array.from([1]), null],
  pseudos: [{ element: 1, name: 'before', values: { content: '"›"' } }],
  hops: {},
  empty: [],
});

describe('readings as text', () => {
  test('come out as they were, one after another', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    for (const entry of [
      reading(320),
      reading(320),
      reading(640, ['p']),
      reading(640, ['p', 'ul']),
      reading(320),
    ])
      assert.deepEqual(unpack(pack(entry, since())), entry);
  });

  test('arrays that are as before are not written again, and are the same ones', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    const first = unpack(pack(reading(320), since())) as ReturnType<typeof reading>;
    const text = pack(reading(321), since());
    assert.equal(text.split(JSON.stringify(SAME)).length - 1, 6);
    const second = unpack(text) as ReturnType<typeof reading>;
    assert.equal(second.odd, first.odd);
    assert.equal(second.parent, first.parent);
    assert.equal(second.used.width, first.used.width);
    assert.notEqual(second.rects, first.rects);
  });

  for (const [name, since] of [
    ['nothing', 0],
    ['another reply than the last', 1],
  ] as const)
    test(`to whoever has ${name}, all is written`, () => {
      const pack = makeDeltaEncoder();
      pack(reading(320), 0);
      pack(reading(321), 1);
      const reader = makeDeltaDecoder();
      assert.deepEqual(reader.unpack(pack(reading(322), since)), reading(322));
    });

  test('a reply that builds on one that is not held is refused', () => {
    const pack = makeDeltaEncoder();
    pack(reading(320), 0);
    assert.throws(() => makeDeltaDecoder().unpack(pack(reading(321), 1)), /not the last/);
  });

  for (const [name, text] of [
    ['no JSON', 'strings'],
    [
      'the end of a list that is not there',
      `{"since":0,"number":1,"reply":{"strings":{${JSON.stringify(MORE)}:["a"]}}}`,
    ],
    [
      'others of a list that is not there',
      `{"since":0,"number":1,"reply":{"rects":{${JSON.stringify(WHICH)}:"AQ==",${JSON.stringify(`${MARK}Int32Array`)}:"AAAAAA=="}}}`,
    ],
    [
      'half a number',
      `{"since":0,"number":1,"reply":{"rects":{${JSON.stringify(`${MARK}Float64Array`)}:"AAAA"}}}`,
    ],
  ] as const)
    test(`${name} is refused with what to do about it`, () => {
      assert.throws(() => makeDeltaDecoder().unpack(text), /not one that can be read .*Hold its scripts/);
    });

  test('of a list of objects those alone are written that are others', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    const boxes = (...widths: number[]) => ({ pseudos: widths.map((width, i) => ({ element: i, width })) });
    const all = [boxes(10, 20, 30), boxes(10, 21, 30), boxes(10, 21, 30), boxes(11, 21, 31), boxes(11)];
    const texts = all.map((entry) => {
      const text = pack(entry, since());
      assert.deepEqual(unpack(text), entry);
      return text;
    });
    assert.ok(!texts[1]!.includes('"width":30'), texts[1]);
    assert.ok(texts[1]!.includes('"width":21') && texts[2]!.includes(JSON.stringify(SAME)));
  });

  const many = (length: number, ...others: [number, number][]) => {
    const list = Array.from({ length }, (_, i) => i / 3);
    for (const [i, value] of others) list[i] = value;
    return list;
  };
  const NUMBERS: { name: string; lists: number[][]; told: boolean }[] = [
    { name: 'the first and the last', lists: [many(90), many(90, [0, 7], [89, 0.1])], told: true },
    { name: 'every second', lists: [many(9), many(9, [1, 9], [3, 9], [5, 9], [7, 9])], told: true },
    { name: 'most', lists: [many(9), many(9, [0, 9], [1, 9], [3, 9], [5, 9], [7, 9])], told: false },
    { name: 'one more', lists: [many(9), many(10)], told: false },
    { name: 'one, and then it is back', lists: [many(40), many(40, [20, NaN]), many(40)], told: true },
  ];
  for (const { name, lists, told } of NUMBERS)
    for (const kind of [Float64Array, Int32Array])
      test(`of ${kind.name}s that are others those alone are written: ${name}`, () => {
        const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
        const texts = lists.map((list) => {
          const entry = { numbers: kind.from(list) };
          const text = pack(entry, since());
          assert.deepEqual(unpack(text), entry);
          return text;
        });
        assert.equal(texts[1]!.includes(JSON.stringify(WHICH)), told);
      });

  test('of objects in a list their values alone are written that are others', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    const box = (values: Record<string, unknown>, name: string | null = 'before') => ({
      name,
      values,
      places: [1, 2],
    });
    const lists = [
      [box({ width: '1px', content: 'berth' }), box({ width: '2px' })],
      [box({ width: '1px', content: 'berth' }), box({ width: '3px' })],
      [box({ width: '4px', content: 'berth' }), box({ width: '3px' }, null)],
      [box({ width: '4px' }), box({ height: '3px' })],
      [box({ width: '4px' }), box({ height: { of: 'mast' } })],
      [box({ width: '4px' }), box({ height: { of: 'hull', in: 'm' } })],
      [{ ...box({ width: '4px' }), places: [2, 1] }, box({ height: null })],
    ];
    const texts = lists.map((list) => {
      const text = pack({ list }, since());
      assert.deepEqual(unpack(text), { list });
      return text;
    });
    assert.ok(!texts[1]!.includes('berth') && !texts[2]!.includes('berth'), texts[2]);
  });

  test('numbers come out to the last bit, whether half of their bytes are enough or not', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    for (const numbers of [[0.5, -0, 1e6 + 1 / 64], [0.1, 0.5], [Infinity, 2 ** 24 + 1], [NaN]]) {
      const list = { rects: Float64Array.from(numbers) };
      assert.deepEqual(unpack(pack(list, since())), list);
    }
  });

  test('another list of the same length, another kind of numbers, fewer strings', () => {
    const [pack, { since, unpack }] = [makeDeltaEncoder(), makeDeltaDecoder()];
    for (const entry of [
      { list: ['a', 'b', 'c'], n: Int32Array.from([1, 2]) },
      { list: ['a', 'b'], n: Float64Array.from([1, 2]) },
      { list: ['b', 'a'], n: [1, 2] },
      { list: [], n: null },
    ])
      assert.deepEqual(unpack(pack(entry, since())), entry);
  });
});
