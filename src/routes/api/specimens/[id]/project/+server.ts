import { PROJECT_FILE, projectText } from '$core/reports/project.ts';
import { answer, required } from '$lib/server/answer.ts';
import { listGrades } from '$lib/server/database/grades.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** What was said of the specimen's findings, as the file of a project that the command line reads. */
export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return new Response(projectText(await listGrades(db, params.id)), {
      headers: {
        'content-type': 'application/json',
        'content-disposition': `attachment; filename="${PROJECT_FILE}"`,
      },
    });
  });
