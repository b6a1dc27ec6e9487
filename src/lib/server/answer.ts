/** How every route answers: JSON, and for what it refuses one sentence with the field and the reason. */
import { z } from 'zod';
import { Refusal } from './ingest/refusal.ts';

export function reply(body: unknown, status = 200): Response {
  return new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json; charset=utf-8' },
  });
}

function sentence(error: z.ZodError): string {
  const [issue] = error.issues;
  const field = issue?.path.join('.') || 'the request';
  return `${field}: ${issue?.message ?? 'is not as expected'}. Correct it and send the request again.`;
}

/** Runs a route's work; refusals and malformed input become answers, anything else stays an error of the server. */
export async function answer(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Refusal) return reply({ error: error.message }, error.status);
    if (error instanceof z.ZodError) return reply({ error: sentence(error) }, 400);
    throw error;
  }
}

export async function bodyOf<S extends z.ZodType>(request: Request, schema: S): Promise<z.infer<S>> {
  let body: unknown;
  try {
    body = await request.json();
  } catch (error) {
    throw new Refusal(
      `The request's body is not JSON (${error instanceof Error ? error.message : String(error)}).`,
      400,
    );
  }
  return schema.parse(body);
}

export function required<T>(found: T | null | undefined | false, what: string): T {
  if (found === null || found === undefined || found === false)
    throw new Refusal(`There is no such ${what}. It may have been deleted; go back to the Shelf.`, 404);
  return found;
}
