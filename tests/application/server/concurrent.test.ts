/** Clients that change the same at once: each change is there in the end, or was refused with what is there. */
import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { after, before, describe, test } from 'node:test';
import { startApp, type App } from '../../support/app.ts';
import { clientOf, type Client } from '../../support/client.ts';

const EDITS = Number(process.env['EDITS'] ?? 300);

interface Trial {
  id: string;
  version: number;
  edits: { id: string }[];
}

const edit = (id: string) => ({ id, change: { do: 'remove', file: 'index.html', path: 'body > p' } });

describe('two clients', () => {
  let app: App;
  let client: Client;
  let specimen: string;
  before(async () => {
    app = await startApp(undefined, { NORMETRA_DEMO: 'none' });
    client = clientOf(app);
    specimen = await client.make();
  });
  after(async () => {
    await app.stop();
    rmSync(app.folder, { recursive: true, force: true });
  });

  test(`${EDITS} interleaved edits of one trial: none is lost without a 409`, async () => {
    const answered = await client.ask('POST', `/api/specimens/${specimen}/trials`, {
      page: 'index.html',
      name: 'Shared',
      edits: [],
    });
    const { id } = answered.json<Trial>();
    let conflicts = 0;
    const writer = async (name: string): Promise<string[]> => {
      const acknowledged: string[] = [];
      let seen: Trial = { id, version: 1, edits: [] };
      for (let n = 0; n < EDITS / 2; n++) {
        const mine = `${name}${n}`;
        for (;;) {
          const edits = [...seen.edits, edit(mine)];
          const answer = await client.ask('PATCH', `/api/trials/${id}`, { version: seen.version, edits });
          if (answer.status === 200) {
            seen = { id, version: answer.json<Trial>().version, edits };
            acknowledged.push(mine);
            break;
          }
          assert.equal(answer.status, 409, answer.text);
          const { now, field } = answer.json<{ now: Trial; field: string }>();
          assert.equal(field, 'version');
          assert.ok(now.version > seen.version, 'what is there is newer than what was seen');
          conflicts++;
          seen = now;
        }
      }
      return acknowledged;
    };
    const acknowledged = (await Promise.all([writer('a'), writer('b')])).flat();
    assert.equal(acknowledged.length, EDITS);
    assert.ok(conflicts > 0, 'the two met at least once, or nothing was tried');
    const [trial] = (await client.ask('GET', `/api/specimens/${specimen}/trials`)).json<Trial[]>();
    assert.equal(trial!.version, EDITS + 1, 'each acknowledged change is one version');
    // Each wrote what it had seen with its own added, so that all that was acknowledged is there.
    assert.deepEqual(trial!.edits.map((edit) => edit.id).sort(), acknowledged.sort());
  });

  test('revisions brought in at once: one is made, the others are told of it', async () => {
    const path = `/api/specimens/${specimen}/revisions?newest=1`;
    const answers = await Promise.all(
      ['1px', '2px', '3px', '4px'].map((margin) =>
        client.upload([['style.css', `p { margin: ${margin} }`]], path),
      ),
    );
    const result = answers.filter(({ status }) => status === 201);
    assert.equal(result.length, 1);
    assert.equal(result[0]!.json<{ number: number }>().number, 2);
    for (const answer of answers.filter(({ status }) => status !== 201)) {
      assert.equal(answer.status, 409, answer.text);
      const { now } = answer.json<{ now: { number: number } }>();
      assert.equal(now.number, 2);
    }
    const over = await client.upload(
      [['style.css', 'p { margin: 9px }']],
      `/api/specimens/${specimen}/revisions?newest=2&base=1`,
    );
    assert.equal(over.json<{ number: number }>().number, 3, 'files can be laid over an earlier one knowingly');
  });

  test('what else can be changed is refused in the same way', async () => {
    const at = `/api/specimens/${specimen}`;
    const { version } = (await client.list()).find(({ id }) => id === specimen)!;
    assert.equal((await client.ask('PATCH', at, { name: 'Mine', version })).status, 200);
    const late = await client.ask('PATCH', at, { scripts: 'run', version });
    assert.equal(late.status, 409);
    assert.deepEqual(late.json<{ now: object }>().now, {
      name: 'Mine',
      scripts: 'hold',
      version: version + 1,
    });
    assert.equal((await client.ask('PATCH', at, { name: 'No version' })).status, 400);

    const mark = {
      page: 'index.html',
      rule: 'gap',
      place: 'body > p',
      grade: 'meant',
      why: 'It breathes',
    };
    const marked = (await client.ask('POST', `${at}/grades`, mark)).json<{ id: string; version: number }>();
    const again = await client.ask('POST', `${at}/grades`, { ...mark, why: 'For another reason' });
    assert.equal(again.status, 409, 'who has not seen the mark does not overwrite it');
    assert.equal(again.json<{ now: { why: string } }>().now.why, 'It breathes');
    const changed = await client.ask('POST', `${at}/grades`, { ...mark, why: 'Known', version: 1 });
    assert.equal(changed.json<{ version: number }>().version, 2);
    assert.equal((await client.ask('DELETE', `${at}/grades/${marked.id}?version=1`)).status, 409);
    assert.equal((await client.ask('DELETE', `${at}/grades/${marked.id}?version=2`)).status, 200);

    const trial = (
      await client.ask('POST', `${at}/trials`, { page: 'index.html', name: 'T', edits: [] })
    ).json<Trial>();
    await client.ask('PATCH', `/api/trials/${trial.id}`, { version: 1, name: 'Other' });
    assert.equal((await client.ask('DELETE', `/api/trials/${trial.id}?version=1`)).status, 409);
    assert.equal((await client.ask('DELETE', `/api/trials/${trial.id}`)).status, 400, 'without a version');
  });

  test('grades of a project come in with its files, and not with files that are refused', async () => {
    const project = (why: string, rule = 'size/square') =>
      JSON.stringify({ normetra: 'project/1', grades: [{ rule, grade: 'meant', why }] });
    const page = '<title>P</title><p>x';
    const brought = await client.upload([
      ['site/index.html', page],
      ['site/normetra.json', project('first')],
    ]);
    assert.equal(brought.status, 201, brought.text);
    const at = `/api/specimens/${brought.json<{ id: string }>().id}`;
    const whys = async () =>
      (await client.ask('GET', `${at}/grades`)).json<{ why: string }[]>().map(({ why }) => why);
    assert.deepEqual(await whys(), ['first']);
    const revised = (newest: number, why: string, rule?: string) =>
      client.upload([['normetra.json', project(why, rule)]], `${at}/revisions?newest=${newest}`);
    assert.equal((await revised(1, 'second')).status, 201);
    assert.deepEqual(await whys(), ['second'], 'of one rule the file has the last word');
    assert.equal((await revised(1, 'late')).status, 409);
    assert.deepEqual(await whys(), ['second'], 'what is refused has changed nothing');
    const wrong = await revised(2, 'x', 'size/sqare');
    assert.equal(wrong.status, 422);
    assert.match(wrong.text, /grades\[0\]\.rule must be the id of a rule/);
    const archive = await client.upload([
      ['site.zip', zipSync({ 'index.html': strToU8(page), 'normetra.json': strToU8(project('packed')) })],
    ]);
    assert.equal(archive.status, 201, 'the file of a project is not the head of an export');
    await client.ask('DELETE', at);
    await client.ask('DELETE', `/api/specimens/${archive.json<{ id: string }>().id}`);
  });

  test('a deleted specimen is not there for anything', async () => {
    const id = await client.make();
    const { key } = (await client.list()).find((entry) => entry.id === id)!;
    const trial = (
      await client.ask('POST', `/api/specimens/${id}/trials`, { page: 'index.html', name: 'T', edits: [] })
    ).json<Trial>();
    await client.ask('DELETE', `/api/specimens/${id}`);
    const at = `/api/specimens/${id}`;
    const tries: [string, string, unknown?][] = [
      ['PATCH', at, { name: 'x', version: 1 }],
      ['DELETE', at],
      ['GET', `${at}/trials`],
      ['POST', `${at}/trials`, { page: 'index.html', name: 'T', edits: [] }],
      ['GET', `${at}/grades`],
      ['POST', `${at}/grades`, { page: 'p', rule: 'gap', grade: 'meant', why: 'r' }],
      ['GET', `${at}/readings`],
      ['GET', `${at}/export`],
      ['GET', `${at}/sources?key=${key}`],
      ['POST', `${at}/duplicate`],
      ['POST', `${at}/overlays`, { key, texts: {}, underlay: null }],
      ['PATCH', `/api/trials/${trial.id}`, { version: 1, name: 'x' }],
      ['DELETE', `/api/trials/${trial.id}?version=1`],
    ];
    for (const [method, path, body] of tries)
      assert.equal((await client.ask(method, path, body)).status, 404, `${method} ${path}`);
    assert.equal((await client.upload([['a.css', 'p{}']], `${at}/revisions?newest=1`)).status, 404);
    assert.equal((await fetch(`${app.url}/frame/${key}/index.html`)).status, 404);
  });
});
