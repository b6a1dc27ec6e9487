/** Cookies as people have them: a Netscape cookie file, or a storage state in JSON. */
import { z } from 'zod';
import { Refusal } from '../ingest/refusal.ts';

export const cookieSchema = z.object({
  name: z.string().min(1).max(4096),
  value: z.string().max(8192),
  domain: z.string().min(1).max(255),
  path: z.string().max(2000).default('/'),
  /** Seconds since 1970; −1: until the browser closes. */
  expires: z.number().default(-1),
  httpOnly: z.boolean().default(false),
  secure: z.boolean().default(false),
  sameSite: z.enum(['Strict', 'Lax', 'None']).default('Lax'),
});
export type Cookie = z.infer<typeof cookieSchema>;

const stateSchema = z.object({ cookies: z.array(cookieSchema).max(2000) });

const ONLY = '#HttpOnly_';

/** Lines of seven fields with tabs between: domain, with subdomains, path, secure, expiry, name, value. */
function fromLines(text: string): Cookie[] {
  return text.split(/\r?\n/).flatMap((line, i): Cookie[] => {
    if (line.trim() === '' || (line.startsWith('#') && !line.startsWith(ONLY))) return [];
    const httpOnly = line.startsWith(ONLY);
    const fields = (httpOnly ? line.slice(ONLY.length) : line).split('\t');
    if (fields.length !== 7)
      throw new Refusal(
        `cookies: line ${i + 1} has ${fields.length} fields with tabs between; a cookie has 7.`,
      );
    const [domain, subdomains, path, secure, expires, name, value] = fields as [
      string,
      string,
      string,
      string,
      string,
      string,
      string,
    ];
    return [
      cookieSchema.parse({
        name,
        value,
        domain: subdomains === 'TRUE' && !domain.startsWith('.') ? `.${domain}` : domain,
        path,
        expires: Number(expires) > 0 ? Number(expires) : -1,
        secure: secure === 'TRUE',
        httpOnly,
      }),
    ];
  });
}

/** Throws a Refusal. */
export function parseCookies(text: string): Cookie[] {
  if (!text.trimStart().startsWith('{')) return fromLines(text);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Refusal(
      `cookies: the file begins like JSON and is none (${error instanceof Error ? error.message : String(error)}).`,
    );
  }
  const parsed = stateSchema.safeParse(json);
  if (!parsed.success)
    throw new Refusal(
      `cookies: ${parsed.error.issues[0]?.path.join('.') ?? ''} ${parsed.error.issues[0]?.message ?? ''}. A storage state has a list “cookies”.`,
    );
  return parsed.data.cookies;
}
