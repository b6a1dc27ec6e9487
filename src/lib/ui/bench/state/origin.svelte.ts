/** What a specimen is taken from, a folder or a live page: what happens to it, and what is written into the files of a folder. */
import { isOfFiles } from '$core/trials/edit.ts';
import { z } from 'zod';
import { done, wrong } from '../../notices/notices.svelte.ts';
import { isConflict, send } from '../../send.ts';
import type { Trials } from '../../trial/trials.svelte.ts';
import type { Bench } from './bench.svelte.ts';

/** What was written last into the files, and can be taken back. */
export interface LastWrite {
  id: string;
  paths: string[];
  writtenAt: string;
}

export interface OriginInput {
  bench: Bench;
  trials: Trials;
  specimen: string;
  kind: 'folder' | 'address';
  /** The path of the folder, or the address. */
  place: string;
  /** What could not be taken of a live page, in sentences. */
  left: string[];
  /** Why it could not be taken in as it is; '': it could. */
  problem: string;
  write: LastWrite | null;
  /** Loads what the server knows of the specimen now; the Bench follows a newer revision by itself. */
  reload: () => Promise<void>;
}

export type Origin = ReturnType<typeof createOrigin>;

const revisionNews = z.object({ revision: z.number() });
const problemNews = z.object({ problem: z.string() });
const writtenSchema = z.object({ id: z.string(), number: z.number() });
const numberSchema = z.object({ number: z.number() });

export function createOrigin(input: OriginInput) {
  const { bench, trials, specimen, kind, place, left, reload } = input;
  let problem = $state(input.problem);
  let write = $state.raw(input.write);
  let isBusy = $state(false);

  /** Hears of changes for as long as the page can be seen: browsers keep few connections to one server. */
  function listen(): () => void {
    let source: EventSource | null = null;
    const follow = (): void => {
      source?.close();
      source = null;
      if (document.hidden) return;
      source = new EventSource(`/api/specimens/${specimen}/changes`);
      source.addEventListener('revision', ({ data }: MessageEvent<string>) => {
        problem = '';
        const { revision } = revisionNews.parse(JSON.parse(data));
        if (revision !== bench.input.revision) reload().catch(wrong);
      });
      source.addEventListener('problem', ({ data }: MessageEvent<string>) => {
        ({ problem } = problemNews.parse(JSON.parse(data)));
      });
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      source?.close();
    };
  }

  /** The edits of the trial that files can say; those for some engines only are not, nor those that find their place no more. */
  function writable(): Trials['edits'] {
    const lost = new Set(bench.unlaid.map(({ id }) => id));
    return trials.edits.filter(
      (edit) => edit.on && isOfFiles(edit) && edit.engines === null && !lost.has(edit.id),
    );
  }

  async function working(work: () => Promise<void>): Promise<void> {
    if (isBusy) return;
    isBusy = true;
    try {
      await work();
    } catch (error) {
      wrong(error);
      // Another state of the files is there: it is measured now, with the trial laid over it.
      if (isConflict(error)) await reload().catch(wrong);
    } finally {
      isBusy = false;
    }
  }

  const writeTrial = (): Promise<void> =>
    working(async () => {
      const edits = writable();
      const written = new Set(edits.map(({ id }) => id));
      const { files } = await bench.written(edits);
      const paths = Object.keys(files);
      const { id } = await send('POST', `/api/specimens/${specimen}/writes`, writtenSchema, {
        revision: bench.input.revision,
        files,
      });
      write = { id, paths, writtenAt: new Date().toISOString() };
      problem = '';
      // They stand in the files from now on: laid over them they would be there twice.
      trials.dropAll([...written]);
      done(`Written into ${paths.join(', ')}.`, {
        label: 'Take it back',
        run: () => void takeBack(),
      });
      await reload();
    });

  const takeBack = (): Promise<void> =>
    working(async () => {
      if (!write) return;
      const { id, paths } = write;
      await send('DELETE', `/api/specimens/${specimen}/writes/${id}`, numberSchema);
      write = null;
      done(`${paths.join(', ')} ${paths.length === 1 ? 'is' : 'are'} as before.`);
      await reload();
    });

  /** Loads a live page again, and takes what it is then. */
  const takeAgain = (): Promise<void> =>
    working(async () => {
      await send('POST', `/api/specimens/${specimen}/take`, numberSchema);
      problem = '';
      await reload();
    });

  return {
    kind,
    place,
    left,
    get problem() {
      return problem;
    },
    get write() {
      return write;
    },
    get isBusy() {
      return isBusy;
    },
    listen,
    writable,
    writeTrial,
    takeBack,
    takeAgain,
  };
}
