/** The one way in which the interface speaks with the server: JSON back, or an error with the server's sentence. */
import { z } from 'zod';

const refusal = z.object({ error: z.string(), now: z.unknown().optional() });

/** The server refused; the message is its sentence. */
export class Refused extends Error {
  override name = 'Refused';
  readonly status: number;
  /** What is there, where it is another than what the client had seen (409). */
  readonly now: unknown;
  constructor(message: string, status: number, now?: unknown) {
    super(message);
    this.status = status;
    this.now = now;
  }
}

/** Whether a change was refused since another client had made one. */
export const isConflict = (error: unknown): error is Refused =>
  error instanceof Refused && error.status === 409;

export async function send<S extends z.ZodType>(
  method: 'GET' | 'POST' | 'PATCH' | 'DELETE',
  path: string,
  schema: S,
  body?: unknown,
  signal?: AbortSignal,
): Promise<z.infer<S>> {
  const form = body instanceof FormData;
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: form ? body : JSON.stringify(body) }),
      ...(body === undefined || form ? {} : { headers: { 'content-type': 'application/json' } }),
      ...(signal ? { signal } : {}),
    });
  } catch (error) {
    if (signal?.aborted) throw new Error('Stopped.', { cause: error });
    throw new Error('The server does not answer. See whether Normetra is still running, then try again.', {
      cause: error,
    });
  }
  const text = await response.text();
  let answer: unknown;
  try {
    answer = JSON.parse(text);
  } catch (error) {
    throw new Error(`The server answered with something that is not JSON (status ${response.status}).`, {
      cause: error,
    });
  }
  if (response.ok) return schema.parse(answer);
  const parsed = refusal.safeParse(answer);
  throw new Refused(
    parsed.success
      ? parsed.data.error
      : `The server could not do it (status ${response.status}). Its terminal says why.`,
    response.status,
    parsed.data?.now,
  );
}

export const versionSchema = z.object({ version: z.number() });
export const okSchema = z.object({ ok: z.literal(true) });
export const idSchema = z.object({ id: z.string() });
