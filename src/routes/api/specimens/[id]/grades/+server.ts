import { GRADES } from '$core/evidence/model.ts';
import { isRule } from '$core/reports/project.ts';
import { answer, bodyOf, reply, required, version } from '$lib/server/answer.ts';
import { listGrades, saveGrade } from '$lib/server/database/grades.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const grade = z.object({
  /** '': all pages of the specimen. */
  page: z.string().max(1000),
  /** Of the grade that is there, where it is changed. */
  key: z.string().min(1).max(9000).optional(),
  rule: z.string().max(100).refine(isRule, 'must be the id of a rule or a kind of findings'),
  place: z.string().max(4000).default(''),
  declaration: z.string().max(4000).default(''),
  grade: z.enum(GRADES),
  why: z.string().trim().min(1, 'must say why').max(500),
  /** Of the grade that is there, as it was seen; 0: none was. */
  version: version.default(0),
});

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return reply(await listGrades(db, params.id));
  });

/** Grades findings as the user says, and why. */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    const { version: seen, ...given } = await bodyOf(request, grade);
    return reply(await db.transaction((tx) => saveGrade(tx, params.id, seen, given)), 201);
  });
