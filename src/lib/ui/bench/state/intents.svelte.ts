/** Findings of a page that the user said are meant: kept with the specimen, whatever its revision. */
import { z } from 'zod';
import { wrong } from '../../notices/notices.svelte.ts';
import { askConflict } from '../../notices/conflicts.svelte.ts';
import { isConflict, okSchema, send } from '../../send.ts';

const meantSchema = z.object({
  id: z.string(),
  page: z.string(),
  key: z.string(),
  reason: z.string(),
  version: z.number(),
});

export type Meants = ReturnType<typeof createMeants>;

export function createMeants(specimen: string, page: string) {
  let list = $state.raw<z.infer<typeof meantSchema>[]>([]);
  const at = `/api/specimens/${specimen}/meants`;

  async function load(): Promise<void> {
    list = (await send('GET', at, z.array(meantSchema))).filter((entry) => entry.page === page);
  }

  function keepTheirs(key: string, now: unknown): void {
    const theirs = meantSchema.nullable().parse(now);
    list = [...list.filter((mark) => mark.key !== key), ...(theirs ? [theirs] : [])];
  }

  const marks = {
    load,
    /** Why a finding is meant; '': nobody said that it is. */
    reasonOf: (key: string): string => list.find((entry) => entry.key === key)?.reason ?? '',
    mark: async (key: string, reason: string): Promise<void> => {
      const version = list.find((mark) => mark.key === key)?.version ?? 0;
      try {
        const result = await send('POST', at, meantSchema, { page, key, reason, version });
        list = [...list.filter((mark) => mark.key !== key), result];
      } catch (error) {
        if (!isConflict(error)) return wrong(error);
        keepTheirs(key, error.now);
        const theirs = list.find((mark) => mark.key === key);
        const choice = await askConflict({
          what: 'Why this finding is meant',
          mine: [reason],
          theirs: [theirs?.reason ?? 'Nobody says that it is meant any more.'],
          both: null,
        });
        if (choice === 'mine') await marks.mark(key, reason);
      }
    },
    unmark: async (key: string): Promise<void> => {
      const found = list.find((mark) => mark.key === key);
      if (!found) return;
      try {
        await send('DELETE', `${at}/${found.id}?version=${found.version}`, okSchema);
        list = list.filter((mark) => mark !== found);
      } catch (error) {
        if (!isConflict(error)) return wrong(error);
        keepTheirs(key, error.now);
        const choice = await askConflict({
          what: 'Why this finding is meant',
          mine: ['It is not meant.'],
          theirs: list.flatMap((mark) => (mark.key === key ? [mark.reason] : [])),
          both: null,
        });
        if (choice === 'mine') await marks.unmark(key);
      }
    },
  };
  return marks;
}
