/** What a session asks of its page and of the core, for one list of edits after another. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { editSchema, type Edit } from '../../../src/core/trials/edit.ts';
import { createSession, type Reasoner, type Replanned } from '../../../src/station/session.ts';

const at = { kind: 'rule', file: 'a.css', style: 0, prelude: '.a', nth: 0, conditions: [] };
const edit = (id: string, change: object): Edit => editSchema.parse({ id, change });
const WIDTH = edit('w', {
  do: 'change',
  at,
  property: 'width',
  nth: 0,
  was: '1px',
  value: '3px',
  important: false,
});
const DISPLAY = edit('d', {
  do: 'change',
  at,
  property: 'display',
  nth: 0,
  was: 'block',
  value: 'grid',
  important: false,
});
const REMOVE = edit('r', { do: 'remove', file: 'a.html', path: 'body > p' });

interface Setting {
  isQuiet?: boolean;
  /** What the sheets come to each time; the last one goes on. */
  replanned?: ('same' | 'unknown' | 'asked')[];
  /** Whether the page takes patches rule by rule. */
  takesRules?: boolean;
  /** There is no way to open it anew. */
  isFixed?: boolean;
}

const REPLANNED: Record<string, Replanned> = {
  same: { request: null, unknown: [] },
  unknown: { request: null, unknown: [['width', '3px']] },
  asked: { request: {} as never, unknown: [] },
};

/** A page of which only what it was asked is known, in the order in which it was. */
function sessionOf({ isQuiet = true, replanned = ['same'], takesRules = true, isFixed = false }: Setting) {
  const log: string[] = [];
  const size = { width: 800, height: 600 };
  const plans = [...replanned];
  const replies: Record<string, unknown> = { waitUntilReady: { waited: [] }, plan: {}, read: {} };
  const ask = ((verb: string, what: { read?: { changed?: unknown }; changed?: unknown; patch?: unknown }) => {
    const patch = JSON.stringify(what).includes('"isWhole":true') ? ' whole' : '';
    if (verb === 'read') log.push(what.changed ? 'read narrow' : 'read');
    else if (verb !== 'waitUntilReady') log.push(`${verb}${patch}`);
    const isTaken = takesRules || patch !== '';
    if (verb === 'applyPatch') return Promise.resolve(isTaken);
    if (verb === 'patchAndRead') return Promise.resolve(isTaken ? {} : null);
    return Promise.resolve(replies[verb]);
  }) as never;
  const reasoner: Reasoner<string> = {
    structural: () => ({ 'a.html': 'without' }),
    patch: (opened, edits, isWhole) => {
      const isOther = edits.includes(REMOVE) && Object.keys(opened).length === 0;
      return {
        patch: isOther ? null : ({ isWhole } as never),
        failed: [],
        texts: { 'a.html': 'without' },
      };
    },
    replan: () => REPLANNED[plans.length > 1 ? plans.shift()! : plans[0]!]!,
    planned: () => 'planned',
    learned: () => 'learned',
  };
  const reopen = (texts: object): Promise<void> => {
    log.push(`reopen ${Object.keys(texts).join()}`.trim());
    return Promise.resolve();
  };
  const session = createSession({
    reasoner,
    port: () => ({ ask, supports: () => (log.push('supports'), []) }),
    size: () => size,
    isQuiet: () => isQuiet,
    reopen: isFixed ? null : reopen,
  });
  return { session, log, size };
}

const ROWS: { name: string; setting: Setting; edits: Edit[][]; expected: string[][] }[] = [
  {
    name: 'the first reading is whole, the next of what the edits can change, in one go with the patch',
    setting: {},
    edits: [[WIDTH], []],
    expected: [['applyPatch', 'read'], ['patchAndRead']],
  },
  {
    name: 'a property that can change anything is read in full',
    setting: {},
    edits: [[WIDTH], [DISPLAY]],
    expected: [
      ['applyPatch', 'read'],
      ['applyPatch', 'read'],
    ],
  },
  {
    name: 'a page that changes by itself is read in full',
    setting: { isQuiet: false },
    edits: [[WIDTH], []],
    expected: [
      ['applyPatch', 'read'],
      ['applyPatch', 'read'],
    ],
  },
  {
    name: 'a reading from before a plan is taken again',
    setting: { replanned: ['same', 'asked'] },
    edits: [[WIDTH], []],
    expected: [
      ['applyPatch', 'read'],
      ['patchAndRead', 'plan', 'read'],
    ],
  },
  {
    name: 'declarations that the engine has not been asked about are asked about, and no more',
    setting: { replanned: ['unknown'] },
    edits: [[WIDTH]],
    expected: [['applyPatch', 'supports', 'read']],
  },
  {
    name: 'sheets are told as whole texts where the page does not take rules',
    setting: { takesRules: false },
    edits: [[WIDTH], []],
    expected: [
      ['applyPatch', 'applyPatch whole', 'read'],
      ['patchAndRead', 'patchAndRead whole'],
    ],
  },
  {
    name: 'an edit of elements opens the page anew, and back',
    setting: {},
    edits: [[REMOVE], []],
    expected: [
      ['reopen a.html', 'applyPatch', 'read'],
      ['reopen', 'applyPatch', 'read'],
    ],
  },
];

describe('a session', () => {
  for (const { name, setting, edits, expected } of ROWS)
    test(name, async () => {
      const { session, log } = sessionOf(setting);
      for (const [n, list] of edits.entries()) {
        log.length = 0;
        const read = await session.layAndRead(list);
        assert.deepEqual(log, expected[n]);
        assert.ok(read && session.isRead);
        assert.equal(session.applied, list);
      }
    });

  test('what would have to be opened anew and cannot be is told as that, and nothing was asked', async () => {
    const { session, log } = sessionOf({ isFixed: true });
    assert.equal(await session.layAndRead([REMOVE]), null);
    assert.equal(await session.lay([REMOVE]), null);
    assert.deepEqual(log, []);
  });

  test('once nobody wants to know any more, nothing is read', async () => {
    const { session, log } = sessionOf({});
    let asked = 0;
    assert.equal(await session.layAndRead([WIDTH], () => ++asked < 2), null);
    assert.deepEqual(log, ['applyPatch']);
    assert.equal(session.isRead, false);
  });

  test('at another size the page is read in full', async () => {
    const { session, log, size } = sessionOf({});
    await session.layAndRead([WIDTH]);
    size.width = 500;
    log.length = 0;
    await session.layAndRead([]);
    assert.deepEqual(log, ['applyPatch', 'read']);
  });

  test('laid and read apart, it is read as narrowly', async () => {
    const { session, log } = sessionOf({});
    await session.lay([]);
    await session.read();
    await session.lay([WIDTH]);
    assert.equal(session.isRead, false);
    await session.read();
    assert.deepEqual(log, ['applyPatch', 'read', 'applyPatch', 'read narrow']);
  });

  test('what fails on the way is laid again the next time', async () => {
    const { session, log } = sessionOf({ replanned: ['asked'] });
    const failing = createSession({
      reasoner: {
        structural: () => ({}),
        patch: () => ({ patch: {} as never, failed: [], texts: {} }),
        replan: () => {
          throw new Error('gone');
        },
        planned: () => '',
        learned: () => '',
      },
      port: () => ({ ask: (() => Promise.resolve(true)) as never, supports: () => [] }),
      size: () => ({ width: 1, height: 1 }),
      isQuiet: () => true,
    });
    const list = [WIDTH];
    await assert.rejects(failing.layAndRead(list), /gone/);
    assert.notEqual(failing.applied, list);
    await session.layAndRead(list);
    assert.deepEqual(log, ['applyPatch', 'plan', 'read']);
  });
});
