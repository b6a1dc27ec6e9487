import { frameName } from '$lib/server/access.ts';
import { lastWrite, originOf } from '$lib/server/database/origins.ts';
import { specimenOr404 } from '$lib/server/database/specimenOr404.ts';
import { listReadings, listRevisions } from '$lib/server/database/specimens.ts';
import { listTrials } from '$lib/server/database/trials.ts';
import { newsAtOpening } from '$lib/server/origins/watch.ts';
import { database, storage } from '$lib/server/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, request }) => {
  const db = await database();
  const origin = await originOf(db, params.id);
  // What lies in a folder now is what is opened.
  const news = origin && (await newsAtOpening(await storage(), origin));
  const { specimen, revision } = await specimenOr404(db, params.id);
  const write = origin && (await lastWrite(db, params.id));
  const readings = await listReadings(db, params.id);
  const earlier = (await listRevisions(db, params.id)).filter(({ number }) => number < revision.number);
  const trials = await listTrials(db, params.id);
  return {
    host: request.headers.get('host') ?? '',
    specimen: { id: specimen.id, name: specimen.name, scripts: specimen.scripts, version: specimen.version },
    revision: {
      key: frameName(revision.key),
      number: revision.number,
      entry: revision.entry,
      pages: revision.pages,
      missing: revision.missing,
    },
    earlier: earlier.map(({ number, key }) => ({ number, key: frameName(key) })),
    trials,
    origin: origin && {
      kind: origin.kind,
      place: origin.place,
      left: origin.options.left ?? [],
      problem: news && 'problem' in news ? news.problem : '',
      write: write && {
        id: write.id,
        paths: write.files.map(({ path }) => path),
        writtenAt: write.writtenAt.toISOString(),
      },
    },
    readings: readings.map((reading) => ({ ...reading, takenAt: reading.takenAt.toISOString() })),
  };
};
