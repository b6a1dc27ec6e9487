import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { isSameLook, lookBetween, type Look, type Outline } from './look.ts';

const outline = (width: number, shape: Record<string, string>): Outline => ({
  width,
  scrollWidth: width,
  scrollHeight: 0,
  clientWidth: width,
  clientHeight: 0,
  shape: new Map(Object.entries(shape)),
  short: new Map(),
  lined: new Map(),
  rects: new Float32Array(),
  lines: new Uint8Array(),
});

/** `found`: keys of findings. */
const look = (width: number, lines: string, found: string): Look => ({
  ...outline(width, { 'lines 3': lines }),
  found: new Map(),
  isTaken: false,
  signs: { shape: `lines 3 ${lines}`, found },
});

const CASES: { name: string; lines: string; near: [below?: Look, above?: Look]; like: number | null }[] = [
  { name: 'as below', lines: '2', near: [look(300, '2', 'x'), look(332, '1', 'x')], like: 300 },
  { name: 'as above', lines: '1', near: [look(300, '2', 'x'), look(332, '1', 'x')], like: 332 },
  { name: 'a shape of its own', lines: '3', near: [look(300, '2', 'x'), look(332, '1', 'x')], like: null },
  {
    name: 'others find different things',
    lines: '2',
    near: [look(300, '2', 'x'), look(332, '1', '')],
    like: null,
  },
  { name: 'others have one shape', lines: '2', near: [look(300, '2', 'x'), look(332, '2', 'x')], like: null },
  { name: 'nothing below', lines: '1', near: [undefined, look(332, '1', 'x')], like: null },
  { name: 'nothing above', lines: '2', near: [look(300, '2', 'x')], like: null },
];

describe('a look whose findings are taken from one beside it', () => {
  for (const { name, lines, near, like } of CASES)
    test(name, () => {
      const [below, above] = near;
      const made = lookBetween(outline(316, { 'lines 3': lines }), { below, above });
      if (like === null) return assert.equal(made, null);
      const source = [below, above].find((one) => one?.width === like)!;
      assert.ok(made && isSameLook(made, source));
      assert.equal(made.isTaken, true);
      assert.equal(made.found, source.found);
      assert.deepEqual([made.width, made.clientWidth], [316, 316], 'what is laid out is its own');
    });
});
