/** The order in which framed documents are read, and what becomes of one that fails. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Verb } from '../../../src/protocol/protocol.ts';
import { readFramed } from '../../../src/station/nested-documents.ts';
import type { Asker } from '../../../src/station/survey.ts';

interface Fake {
  frames: Record<number, Fake>;
  broken?: boolean;
}

const DESCRIBED = {
  url: '',
  mode: 'standards',
  engine: { name: 'x', version: '' },
  sheets: [],
  roots: 1,
  defaultKeys: [],
};

/** A document that answers like a collector. */
function answer(fake: Fake, verb: Verb, ask: unknown): unknown {
  if (fake.broken && verb !== 'frames') throw new Error('gone');
  if (verb === 'frames') return Object.keys(fake.frames).map(Number);
  if (verb === 'describe') return DESCRIBED;
  if (verb === 'plan') return { supports: [], declarations: [] };
  if (verb === 'defaults') return {};
  if (verb === 'forward') {
    const { owner, verb: inner, ask: asked } = ask as { owner: number; verb: Verb; ask: unknown };
    return answer(fake.frames[owner]!, inner, asked);
  }
  return { read: Object.keys(fake.frames).length };
}

const asker = (fake: Fake): Asker => ({
  ask: (verb, ask) => Promise.resolve().then(() => answer(fake, verb, ask) as never),
});
const leaf: Fake = { frames: {} };

async function read(fake: Fake) {
  const planned: number[] = [];
  const result = await readFramed(asker(fake), {
    plan: (document) => {
      planned.push(document);
      return Promise.resolve({
        queries: [],
        media: [],
        supports: [],
        containers: [],
        declarations: [],
        generated: { before: [], after: [], letters: [] },
        rare: {},
      });
    },
    settle: () => Promise.resolve(),
    bare: () => Promise.resolve(asker(leaf)),
  });
  return { ...result, planned, where: result.framed.map(({ holder, owner }) => `${holder}/${owner}`) };
}

test('holders stand before what they hold, level by level', async () => {
  const { where, planned, failed } = await read({ frames: { 4: { frames: { 2: leaf } }, 9: leaf } });
  assert.deepEqual(where, ['0/4', '0/9', '1/2']);
  assert.deepEqual(planned, [1, 2, 3]);
  assert.deepEqual(failed, []);
});

test('a frame that fails is named, and the others are read', async () => {
  const { where, failed } = await read({ frames: { 1: leaf, 2: { frames: {}, broken: true }, 3: leaf } });
  assert.deepEqual(where, ['0/1', '0/3']);
  assert.deepEqual(failed, ['what is in a frame (gone)']);
});

test('neither depth nor number is without an end', async () => {
  let deep = leaf;
  for (let i = 0; i < 9; i++) deep = { frames: { 0: deep } };
  assert.equal((await read(deep)).framed.length, 3);
  assert.equal(
    (await read({ frames: Object.fromEntries(Array.from({ length: 50 }, (_, i) => [i, leaf])) })).framed.length,
    20,
  );
});
