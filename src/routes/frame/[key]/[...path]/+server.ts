import { entryOf, findRevision, withBytes } from '$lib/server/database/specimens.ts';
import { frameMissing, type FrameAnswer } from '$lib/server/frames/page.ts';
import { framePlaces } from '$lib/server/frames/markup.ts';
import { findOverlay } from '$lib/server/frames/overlays.ts';
import { frameOptions, serveBare, serveFrame } from '$lib/server/frames/serve.ts';
import { Refusal } from '$lib/server/ingest/refusal.ts';
import { withText } from '$lib/server/ingest/files.ts';
import { storage } from '$lib/server/state.ts';
import { work } from '$lib/server/work/pool.ts';
import type { RequestHandler } from './$types';

/** A folder of a specimen is asked for with a slash at its end, a file without. */
export const trailingSlash = 'ignore';

/** Characters of HTML above which a page is read on another thread. */
const LARGE = 300_000;

const places = async (html: string) => (html.length > LARGE ? work('frame', { html }) : framePlaces(html));

const send = ({ status, headers, body }: FrameAnswer) => new Response(body as BodyInit, { status, headers });

export const GET: RequestHandler = async ({ params: { key, path }, request }) => {
  const host = request.headers.get('host') ?? '';
  if (key === 'bare') return send(await serveBare(host, path));
  const kept = await storage();
  const missing = () => send(frameMissing(path, frameOptions(host, key, 'hold')));
  if (/[\0\p{Surrogate}]/u.test(path)) return missing();
  const over = await findOverlay(kept, key);
  if (over?.revisionKey === '')
    return send(
      await serveFrame(host, key, path, {
        scripts: 'hold',
        entry: '',
        file: () => Promise.resolve(null),
        underlay: over.underlay,
      }),
    );
  const found = await findRevision(kept.db, over?.revisionKey ?? key);
  if (!found) return missing();
  const { specimen, revision } = found;
  try {
    return send(
      await serveFrame(host, key, path, {
        scripts: specimen.scripts,
        entry: revision.entry,
        underlay: over?.underlay ?? null,
        places,
        file: async (wanted) => {
          const entry = await entryOf(kept.db, revision.id, wanted);
          if (!entry) return null;
          return withText(await withBytes(kept, entry), await over?.text(entry.path));
        },
      }),
    );
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return new Response(error.message, {
      status: error.status,
      headers: { 'content-type': 'text/plain; charset=utf-8' },
    });
  }
};
