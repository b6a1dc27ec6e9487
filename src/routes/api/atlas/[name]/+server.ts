import { answer, reply, required } from '$lib/server/answer.ts';
import { profileNames, readProfile } from '$lib/server/engines/atlas.ts';
import type { RequestHandler } from './$types';

/** One profile. */
export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const name = required(
      profileNames().find((profileName) => profileName === params.name) ?? null,
      'profile of default styles',
    );
    return reply(readProfile(name));
  });
