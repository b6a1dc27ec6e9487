import { answer, reply } from '$lib/server/answer.ts';
import { storage } from '$lib/server/state.ts';
import { VERSION } from '$lib/server/version.ts';
import { sql } from 'drizzle-orm';
import type { RequestHandler } from './$types';

/** Whether the application can work: 200 where its database answers, an error where it does not. */
export const GET: RequestHandler = () =>
  answer(async () => {
    const { kind, db } = await storage();
    await db.execute(sql`select 1`);
    return reply({ ok: true, version: VERSION, database: kind, uptime: Math.round(process.uptime()) });
  });
