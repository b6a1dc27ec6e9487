/** Findings of a page that the user said are meant: kept with the specimen, whatever its revision. */
import { z } from 'zod';
import { wrong } from '../notices/notices.svelte.ts';
import { okSchema, send } from '../send.ts';

const meantSchema = z.object({ id: z.string(), page: z.string(), key: z.string(), reason: z.string() });

export type Meants = ReturnType<typeof createMeants>;

export function createMeants(specimen: string, page: string) {
  let list = $state.raw<z.infer<typeof meantSchema>[]>([]);
  const at = `/api/specimens/${specimen}/meants`;

  async function load(): Promise<void> {
    list = (await send('GET', at, z.array(meantSchema))).filter((one) => one.page === page);
  }

  return {
    load,
    /** Why a finding is meant; '': nobody said that it is. */
    reasonOf: (key: string): string => list.find((one) => one.key === key)?.reason ?? '',
    mark: async (key: string, reason: string): Promise<void> => {
      try {
        const made = await send('POST', at, meantSchema, { page, key, reason });
        list = [...list.filter((one) => one.key !== key), made];
      } catch (error) {
        wrong(error);
      }
    },
    unmark: async (key: string): Promise<void> => {
      const found = list.find((one) => one.key === key);
      if (!found) return;
      try {
        await send('DELETE', `${at}/${found.id}`, okSchema);
        list = list.filter((one) => one !== found);
      } catch (error) {
        wrong(error);
      }
    },
  };
}
