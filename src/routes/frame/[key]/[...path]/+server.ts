import { fileOf, findRevision } from '$lib/server/database/specimens.ts';
import { frameMissing } from '$lib/server/frames/page.ts';
import { frameOptions, serveBare, serveFrame } from '$lib/server/frames/serve.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params: { key, path }, request }) => {
  const host = request.headers.get('host') ?? '';
  const send = ({ status, headers, body }: Awaited<ReturnType<typeof serveBare>>) =>
    new Response(body as BodyInit, { status, headers });
  if (key === 'bare') return send(await serveBare(host, path));
  const db = await database();
  const found = await findRevision(db, key);
  if (!found) return send(frameMissing(path, frameOptions(host, key, 'hold')));
  const { specimen, revision } = found;
  return send(
    await serveFrame(host, key, path, {
      scripts: specimen.scripts,
      entry: revision.entry,
      file: (wanted) => fileOf(db, revision.id, wanted),
    }),
  );
};
