/** How every route answers: JSON, and for what it refuses one sentence with the field and the reason. */
import { z } from 'zod';
import { keyOfName } from './access.ts';
import { fullDisk, Refusal } from './ingest/refusal.ts';

const HEADERS = { 'content-type': 'application/json; charset=utf-8' };

export const reply = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), { status, headers: HEADERS });

/** A sentence that begins with a field and a colon names it. */
const FIELD = /^([A-Za-z_][\w.[\]-]*): /;

export const refuse = (message: string, status: number, details: Record<string, unknown> = {}): Response =>
  reply({ error: message, field: FIELD.exec(message)?.[1] ?? 'request', ...details }, status);

function sentence(error: z.ZodError): string {
  const [issue] = error.issues;
  const field = issue?.path.join('.') || 'body';
  return `${field}: ${issue?.message ?? 'is not as expected'}. Correct it and send the request again.`;
}

/** Runs a route's work; refusals and malformed input become answers, anything else stays an error of the server. */
export async function answer(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof z.ZodError) return refuse(sentence(error), 400);
    const refused = error instanceof Refusal ? error : fullDisk(error);
    if (refused) return refuse(refused.message, refused.status, refused.details);
    throw error;
  }
}

/** Bytes of a body of JSON: a saved reading of a large page is the largest. */
const MAX_JSON = 96 * 1024 * 1024;

async function textOf(request: Request): Promise<string> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  // Read by hand: a stream that is cancelled takes the connection with it, and whoever sent this would never hear why.
  const reader = request.body?.getReader();
  for (;;) {
    const { done = true, value } = (await reader?.read()) ?? {};
    if (done) break;
    size += value!.length;
    if (size > MAX_JSON)
      throw new Refusal('body: it is larger than the 96 MB that a body of JSON may have. Send less.', 413);
    pieces.push(value!);
  }
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(pieces));
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    throw new Refusal('body: it is not UTF-8. Send it as UTF-8.', 400);
  }
}

/** Levels of a JSON document. */
const DEEPEST = 200;

/** Throws a Refusal that names the field in which a text holds what no database keeps, or whose name cannot be one. */
export function refuseOddTexts(body: unknown): void {
  const stack: { value: unknown; path: string; depth: number }[] = [{ value: body, path: '', depth: 0 }];
  for (let next = stack.pop(); next; next = stack.pop()) {
    const { value, path, depth } = next;
    const field = path || 'body';
    if (typeof value === 'string') refuseOddText(value, field);
    if (typeof value !== 'object' || value === null) continue;
    if (depth > DEEPEST) throw new Refusal('body: it is nested too deeply. Send a flatter one.', 400);
    // Columns of a reading are long, and numbers alone.
    if (Array.isArray(value) && value.every((item) => typeof item === 'number')) continue;
    for (const [key, inner] of Object.entries(value)) {
      if (key === '__proto__')
        throw new Refusal(`${field}: “__proto__” cannot be the name of a field. Choose another.`, 400);
      refuseOddText(key, field);
      stack.push({ value: inner, path: path ? `${path}.${key}` : key, depth: depth + 1 });
    }
  }
}

const LONE_SURROGATE = /\p{Surrogate}/u;

/** The same for one text. */
export function refuseOddText(text: string, field: string): void {
  if (text.includes('\0'))
    throw new Refusal(`${field}: it holds the character U+0000, which cannot be kept. Leave it out.`, 400);
  if (LONE_SURROGATE.test(text))
    throw new Refusal(`${field}: it holds half of a surrogate pair, which is no character. Leave it out.`, 400);
}

export async function bodyOf<S extends z.ZodType>(request: Request, schema: S): Promise<z.infer<S>> {
  const text = await textOf(request);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch (error) {
    const why = error instanceof Error ? error.message.slice(0, 200) : String(error);
    throw new Refusal(`body: the request's body is not JSON (${why}).`, 400);
  }
  refuseOddTexts(body);
  return schema.parse(body);
}

export function required<T>(found: T | null | undefined | false, what: string): T {
  if (found === null || found === undefined || found === false)
    throw new Refusal(
      `${what.split(' ')[0]}: there is no such ${what}. It may have been deleted; go back to the Shelf.`,
      404,
    );
  return found;
}

/** The revision or overlay that a client names as it was told. Throws a Refusal. */
export const frameKey = (name: string): string => required(keyOfName(name), 'revision');

/** The version of a row that a client has seen, from the address. Throws a ZodError. */
export const seenVersion = (url: URL): number =>
  z.object({ version }).parse({ version: url.searchParams.get('version') ?? undefined }).version;

const POSITIVE = 'must be the whole number that the list gave';
/** Which state of a row has been seen. */
export const version = z.coerce
  .number(POSITIVE)
  .int(POSITIVE)
  .min(0, POSITIVE)
  .max(2 ** 31 - 2, POSITIVE);
