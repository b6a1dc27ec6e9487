/** Readings that are saved with a specimen, and shown in the place of the live one. */
import type { RawReading } from '$core/reading/reading.ts';
import { savedBodySchema } from '$core/reading/saved.ts';
import type { Remote } from 'comlink';
import { z } from 'zod';
import { done, wrong } from '../../notices/notices.svelte.ts';
import { idSchema, send } from '../../send.ts';
import type { Analyst } from '../analyst.worker.ts';
import type { Taken } from '../analyst/page.ts';

const savedSchema = z.object({
  head: z.object({
    takenAt: z.string(),
    note: z.string(),
    pick: z.string(),
    page: z.string(),
    width: z.number(),
    height: z.number(),
  }),
  texts: z.record(z.string(), z.string()),
  body: savedBodySchema,
});

export interface KeptInput {
  analyst: Remote<Analyst>;
  specimen: string;
  page: string;
  /** The default styles under the page, by name. */
  defaults: string;
  /** The path of the pick; empty: nothing is picked. */
  pick: () => string;
  /** Gives the frame the viewport of a reading, once nothing is measured in it any more. */
  resize: (width: number, height: number) => Promise<void>;
  show: (raw: RawReading, taken: Taken, pick: string) => Promise<void>;
}

export function createKept({ analyst, specimen, page, defaults, pick, resize, show }: KeptInput) {
  let saved = $state<{ id: string; takenAt: string; note: string } | null>(null);

  return {
    /** The live reading is shown. */
    leave: () => {
      saved = null;
    },
    shown: {
      /** The saved reading that is shown; null: it is the live one. */
      get saved() {
        return saved;
      },
      save: async (note: string): Promise<void> => {
        try {
          const body = await analyst.toStored();
          const about = { page, note, pick: pick(), under: defaults };
          await send('POST', `/api/specimens/${specimen}/readings`, idSchema, { ...body, ...about });
          done('The reading is saved with this specimen.');
        } catch (error) {
          wrong(error);
        }
      },
      openSaved: async (id: string): Promise<void> => {
        try {
          const { head, texts, body } = await send('GET', `/api/readings/${id}`, savedSchema);
          await resize(head.width, head.height);
          const { reading, ...taken } = await analyst.open(head.page, texts, body);
          // What is asked of the page at hand from here on would be told of another reading.
          saved = { id, takenAt: head.takenAt, note: head.note };
          await show(reading, taken, head.pick);
        } catch (error) {
          wrong(error);
        }
      },
    },
  };
}
