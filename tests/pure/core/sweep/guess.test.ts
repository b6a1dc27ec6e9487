import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { guessBetween } from '../../../../src/core/sweep/guess.ts';
import type { FoundAt, Snapshot } from '../../../../src/core/sweep/snapshot.ts';
import type { Lined } from '../../../../src/core/sweep/distance-to-change.ts';

/** A page of html, body and a box in it: the shape's words, what they are short of, findings by px or by those of their places. */
interface Part {
  width: number;
  shape?: Record<string, string>;
  short?: Record<string, number>;
  /** The text of the box. */
  lined?: Lined;
  found?: Record<string, number | number[]>;
  /** Widths of body and of the box in it; the root is as wide as the page. */
  boxes?: [number, number];
}

function look({ width, shape = {}, short = {}, lined, found = {}, boxes = [width, width] }: Part): Snapshot {
  const finding = (px: number[]): FoundAt => ({
    kind: 'overflow',
    axis: 'x',
    px: Math.max(...px),
    places: px.length,
    least: Math.min(...px),
    subject: 2,
    other: null,
    what: '',
    rule: 'overflow/page',
    variant: null,
    grade: 'wrong',
    evidence: [],
    source: null,
  });
  return {
    width,
    scrollableX: 0,
    scrollableY: 0,
    scrollWidth: width,
    scrollHeight: 0,
    clientWidth: width,
    clientHeight: 0,
    shape: new Map(Object.entries(shape)),
    short: new Map(Object.entries(short)),
    lined: new Map(lined ? [[2, lined]] : []),
    found: new Map(Object.entries(found).map(([key, px]) => [key, finding([px].flat())])),
    sign: '',
    rects: Float32Array.from([width, ...boxes].flatMap((value) => [0, 0, value, 10])),
    lines: new Uint8Array(3),
  };
}

const CASES: {
  name: string;
  looks: [low: Part, high: Part, below?: Part, above?: Part];
  guess: number | null;
}[] = [
  { name: 'nothing tells', looks: [{ width: 300 }, { width: 332 }], guess: null },
  {
    name: 'the page scrolls by what it is short of',
    looks: [
      { width: 300, shape: { 'page 0': 'scrolls' }, short: { 'page 0': 7 } },
      { width: 332, shape: { 'page 0': 'fits' } },
    ],
    guess: 307,
  },
  {
    name: 'what is short on both sides but says the same is no sign',
    looks: [
      { width: 300, shape: { 'lines 2': '2' }, short: { 'lines 2': 7 } },
      { width: 332, shape: { 'lines 2': '2' } },
    ],
    guess: null,
  },
  {
    name: 'a box that grows by half of what the page does',
    looks: [
      { width: 300, shape: { 'lines 2': '2' }, short: { 'lines 2': 6 }, boxes: [300, 150] },
      { width: 332, shape: { 'lines 2': '1' }, boxes: [332, 166] },
    ],
    guess: 312,
  },
  {
    name: 'a box that grows no further goes by the one around it',
    looks: [
      { width: 300, shape: { 'rows 2': '1+1' }, short: { 'rows 2': 6 }, boxes: [200, 150] },
      { width: 332, shape: { 'rows 2': '2' }, boxes: [216, 154] },
    ],
    guess: 312,
  },
  {
    name: 'what was short of more before goes on as it did',
    looks: [
      { width: 300, shape: { 'page 0': 'scrolls' }, short: { 'page 0': 6 } },
      { width: 332, shape: { 'page 0': 'fits' } },
      { width: 290, shape: { 'page 0': 'scrolls' }, short: { 'page 0': 9 } },
    ],
    guess: 320,
  },
  {
    name: 'what said something else before tells nothing of how it goes on',
    looks: [
      { width: 300, shape: { 'page 0': 'scrolls' }, short: { 'page 0': 6 } },
      { width: 332, shape: { 'page 0': 'fits' } },
      { width: 290, shape: { 'page 0': 'fits' }, short: { 'page 0': 9 } },
    ],
    guess: 306,
  },
  {
    name: 'a text takes one line where all of it has room in one',
    looks: [
      { width: 300, shape: { 'lines 2': '2' }, lined: { first: 240, all: 310, room: 300 } },
      { width: 332, shape: { 'lines 2': '1' } },
    ],
    guess: 310,
  },
  {
    name: 'three lines are two where the next word comes into the first, as at the higher width',
    looks: [
      { width: 300, shape: { 'lines 2': '3' }, lined: { first: 280, all: 620, room: 300 } },
      { width: 332, shape: { 'lines 2': '2' }, lined: { first: 315, all: 620, room: 332 } },
    ],
    guess: 315,
  },
  {
    name: 'or where what the first line leaves has room in the second',
    looks: [
      { width: 300, shape: { 'lines 2': '3' }, lined: { first: 290, all: 595, room: 300 } },
      { width: 332, shape: { 'lines 2': '2' }, lined: { first: 330, all: 595, room: 332 } },
    ],
    guess: 305,
  },
  {
    name: 'a finding that loses a place does where that comes to less than a px',
    looks: [
      { width: 300, found: { a: [12, 4] } },
      { width: 332, found: { a: [4] } },
    ],
    guess: 313,
  },
  {
    name: 'one that gains a place does where that came to a px',
    looks: [
      { width: 300, found: { a: [4] } },
      { width: 332, found: { a: [12, 3] } },
    ],
    guess: 324,
  },
  {
    name: 'a finding ends where it comes to less than a px',
    looks: [{ width: 300, found: { a: 5.5 } }, { width: 332 }],
    guess: 305,
  },
  {
    name: 'it falls as it fell before',
    looks: [{ width: 300, found: { a: 5 } }, { width: 332 }, { width: 290, found: { a: 10 } }],
    guess: 309,
  },
  {
    name: 'a finding begins where it comes to a px',
    looks: [{ width: 300 }, { width: 332, found: { a: 11 } }],
    guess: 322,
  },
  {
    name: 'it rises as it rises behind',
    looks: [
      { width: 300 },
      { width: 332, found: { a: 9 } },
      undefined as never,
      { width: 342, found: { a: 29 } },
    ],
    guess: 328,
  },
  {
    name: 'of several, the one in the middle',
    looks: [{ width: 300, found: { a: 3, b: 9, c: 21 } }, { width: 332 }],
    guess: 309,
  },
  {
    name: 'what lies beyond both is no guess',
    looks: [{ width: 300, found: { a: 90 } }, { width: 332 }],
    guess: null,
  },
];

describe('where between two looks something changes', () => {
  for (const { name, looks, guess } of CASES)
    test(name, () => {
      const [low, high, below, above] = looks.map((part) => part && look(part)) as [
        Snapshot,
        Snapshot,
        Snapshot?,
        Snapshot?,
      ];
      assert.equal(guessBetween([-1, 0, 1], low, high, below, above), guess);
    });
});
