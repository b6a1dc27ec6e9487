import { answer, reply } from '$lib/server/answer.ts';
import { profileNames, readProfile } from '$lib/server/engines/atlas.ts';
import type { RequestHandler } from './$types';

/** The profiles of default styles that come with the application. */
export const GET: RequestHandler = () =>
  answer(async () =>
    reply(
      profileNames().map((name) => {
        const { title, engine } = readProfile(name);
        return { name, title, engine };
      }),
    ),
  );
