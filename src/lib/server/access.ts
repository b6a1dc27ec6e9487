/**
 * Who may ask: where a token is set, nobody without it. Frames of specimens send no cookies, since their documents have no
 * origin, so that the names under which they are served bear a mark that is made with the token.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

export const newToken = (): string => randomBytes(24).toString('base64url');

/** The token of this process; null: whoever reaches the server may use it. */
export const tokenAtHand = (): string | null => process.env['NORMETRA_TOKEN'] || null;

const mark = (token: string, what: string): string => createHmac('sha256', token).update(what).digest('hex');

/** Takes as long for any two texts of the same length. */
export function areEqual(part: string, other: string): boolean {
  const [a, b] = [part, other].map((text) => createHmac('sha256', 'length').update(text).digest());
  return timingSafeEqual(a!, b!);
}

/** What a browser keeps in place of the token. */
export const visitOf = (token: string): string => mark(token, 'visit');

const MARK_LENGTH = 32;
const frameMark = (token: string, key: string): string => mark(token, `frame ${key}`).slice(0, MARK_LENGTH);

/** The name under which the files of a key are served: a label of a host, or a part of a path. */
export const frameName = (key: string, token = tokenAtHand()): string =>
  token ? `${key}-${frameMark(token, key)}` : key;

const NAME = /^([0-9a-f]{32}|bare)(?:-([0-9a-f]{32}))?$/;

/** The key that a name is of; null: it is none, or its mark was not made with the token. */
export function keyOfName(name: string, token = tokenAtHand()): string | null {
  const [, key, text] = NAME.exec(name) ?? [];
  if (key === undefined || (text === undefined) !== (token === null)) return null;
  return token === null || areEqual(text!, frameMark(token, key)) ? key : null;
}
