import { answer, reply, required } from '$lib/server/answer.ts';
import { duplicateSpecimen } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params }) =>
  answer(async () =>
    reply({ id: required(await duplicateSpecimen(await database(), params.id), 'specimen') }, 201),
  );
