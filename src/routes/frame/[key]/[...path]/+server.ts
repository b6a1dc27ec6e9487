import { fileOf, findRevision } from '$lib/server/database/specimens.ts';
import { frameMissing } from '$lib/server/frames/page.ts';
import { findOverlay } from '$lib/server/frames/overlays.ts';
import { frameOptions, serveBare, serveFrame } from '$lib/server/frames/serve.ts';
import { withText } from '$lib/server/ingest/files.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params: { key, path }, request }) => {
  const host = request.headers.get('host') ?? '';
  const send = ({ status, headers, body }: Awaited<ReturnType<typeof serveBare>>) =>
    new Response(body as BodyInit, { status, headers });
  if (key === 'bare') return send(await serveBare(host, path));
  const db = await database();
  const over = findOverlay(key);
  if (over?.key === '')
    return send(
      await serveFrame(host, key, path, {
        scripts: 'hold',
        entry: '',
        file: () => Promise.resolve(null),
        underlay: over.underlay,
      }),
    );
  const found = await findRevision(db, over?.key ?? key);
  if (!found) return send(frameMissing(path, frameOptions(host, key, 'hold')));
  const { specimen, revision } = found;
  return send(
    await serveFrame(host, key, path, {
      scripts: specimen.scripts,
      entry: revision.entry,
      underlay: over?.underlay ?? null,
      file: async (wanted) => {
        const own = await fileOf(db, revision.id, wanted);
        return own && withText(own, over?.texts[own.path]);
      },
    }),
  );
};
