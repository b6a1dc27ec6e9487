import { answer, reply } from '$lib/server/answer.ts';
import { drivers } from '$lib/server/engines/drivers/index.ts';
import { NoEngine } from '$lib/server/engines/drivers/model.ts';
import type { RequestHandler } from './$types';

/** The engines that the server can start, or why it cannot, with the line that installs each. None is started for this. */
export const GET: RequestHandler = () =>
  answer(() =>
    Promise.resolve(
      reply(
        drivers().map(({ name, title, install, place }) => {
          try {
            return { name, title, install, place: place(), why: null };
          } catch (error) {
            if (error instanceof NoEngine) return { name, title, install, place: null, why: error.message };
            throw error;
          }
        }),
      ),
    ),
  );
