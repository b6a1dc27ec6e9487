/** Killed with SIGKILL in the middle of writing, the application loses nothing that it had acknowledged. */
import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { after, test } from 'node:test';
import { startApp, temporaryFolder, type App } from '../../support/app.ts';

const folder = temporaryFolder();
let app: App | undefined;
after(async () => {
  await app?.stop('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const KILLS = Number(process.env['KILLS'] ?? 3);

async function write(url: string, mark: string): Promise<string | null> {
  const headers = { 'content-type': 'application/json', origin: url };
  try {
    const response = await fetch(`${url}/api/specimens`, {
      method: 'POST',
      headers,
      body: JSON.stringify({
        html: `<title>${mark}</title><p>${'x'.repeat(20_000)}</p>`,
        css: 'p { margin: 0 }',
      }),
    });
    if (response.status !== 201) return null;
    const { id } = (await response.json()) as { id: string };
    const renamed = await fetch(`${url}/api/specimens/${id}`, {
      method: 'PATCH',
      headers,
      body: JSON.stringify({ name: `${mark} renamed`, version: 1 }),
    });
    return renamed.ok ? `${mark} renamed` : mark;
  } catch (error) {
    // The server was killed while this was under way: nothing was acknowledged.
    assert.ok(error instanceof TypeError);
    return null;
  }
}

test('SIGKILL during writes, three times over', async () => {
  const acknowledged = new Set<string>();
  for (let round = 0; round < KILLS; round++) {
    app = await startApp(folder, { NORMETRA_DEMO: 'none' });
    const { url } = app;
    let writing = true;
    const writer = async (name: string) => {
      for (let i = 0; writing; i++) {
        const kept = await write(url, `${round}-${name}-${i}`);
        if (kept === null) return;
        acknowledged.add(kept);
      }
    };
    const writers = ['a', 'b', 'c'].map(writer);
    const before = acknowledged.size;
    for (let waited = 0; acknowledged.size < before + 5 && waited < 20_000; waited += 50)
      await new Promise((resolve) => setTimeout(resolve, 50));
    await new Promise((resolve) => setTimeout(resolve, 300 + round * 170));
    await app.stop('SIGKILL');
    writing = false;
    await Promise.all(writers);
  }
  assert.ok(acknowledged.size >= 10, `only ${acknowledged.size} writes were acknowledged`);
  app = await startApp(folder, { NORMETRA_DEMO: 'none' });
  const list = (await (await fetch(`${app.url}/api/specimens`)).json()) as {
    id: string;
    name: string;
    key: string;
    entry: string;
  }[];
  const names = new Set(list.map(({ name }) => name));
  assert.deepEqual(
    [...acknowledged].filter((name) => !names.has(name) && !names.has(`${name} renamed`)),
    [],
  );
  for (const { id, key } of list) {
    const sources = (await (await fetch(`${app.url}/api/specimens/${id}/sources?key=${key}`)).json()) as Record<
      string,
      string
    >;
    assert.ok(sources['index.html']!.includes('x'.repeat(20_000)), 'a specimen on the Shelf is whole');
  }
});

test('a data folder that is in use is not opened twice', async () => {
  // It ends as soon as it has looked at the folder, which may be before or after it says where it listens.
  const outcome = await startApp(folder).then(
    async (second) => {
      const code = await new Promise((resolve) => {
        second.child.once('exit', resolve);
        setTimeout(() => resolve('still running'), 20_000).unref();
      });
      await second.stop('SIGKILL');
      return String(code);
    },
    (error: Error) => error.message,
  );
  assert.match(
    outcome,
    /^4$|ended with 4:[\s\S]*in use by process \d+\. Stop that one, or choose another folder with --data/,
  );
  assert.equal((await fetch(`${app!.url}/api/specimens`)).status, 200, 'the first one goes on');
});
