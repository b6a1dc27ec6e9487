/**
 * Every request goes through here first. It asks for the token where there is one, tells the application's own hosts from
 * those of specimens, refuses hosts that are neither, and lets nothing change state that does not come from the application's
 * own pages.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { areEqual, frameName, keyOfName, visitOf } from './access.ts';

/** A specimen's name, and a room: frames in different rooms are of different sites, so that engines run them side by side. */
const FRAME_HOST = /^((?:[0-9a-f]{32}|bare)(?:-[0-9a-f]{32})?)(?:\.([a-z]+))?\.localhost$/;
const FRAME_PATH = /^\/frame\/([^/]+)(\/.*)?$/;
const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

export interface Guard {
  /** Host names beside the loopback ones at which the application is served. */
  hosts: string[];
  /** What everybody must know who asks for anything; null: nobody need. */
  token?: string | null;
}

const nameOf = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

export const isLoopback = (host: string): boolean =>
  LOOPBACK.has(nameOf(host)) || FRAME_HOST.test(nameOf(host));

export const isFrameHost = (host: string): boolean => FRAME_HOST.test(nameOf(host));

export function isOwnHost(host: string, { hosts }: Guard): boolean {
  const name = nameOf(host);
  return LOOPBACK.has(name) || hosts.includes(name);
}

/** Where the files of a specimen are: on a host of its own beside loopback, under a path on any other host. */
export function frameBase(host: string, key: string): string {
  const port = /:\d+$/.exec(host)?.[0] ?? '';
  const name = frameName(key);
  return isLoopback(host) ? `http://${name}.localhost${port}/` : `http://${host}/frame/${name}/`;
}

const HEADERS = {
  'content-type': 'application/json; charset=utf-8',
  'x-content-type-options': 'nosniff',
  'cross-origin-resource-policy': 'same-origin',
  'content-security-policy': "default-src 'none'; frame-ancestors 'none'",
  'cache-control': 'no-store',
};

function refuse(res: ServerResponse, status: number, field: string, why: string): true {
  res.writeHead(status, HEADERS);
  res.end(JSON.stringify({ error: `${field}: ${why}`, field }));
  return true;
}

function redirect(res: ServerResponse, status: number, headers: Record<string, string>): true {
  res.writeHead(status, { 'cache-control': 'no-store', ...headers });
  res.end();
  return true;
}

/** The path and query of a request, without steps up; null: it is no path. */
function targetOf(url: string): { path: string; query: string } | null {
  if (!url.startsWith('/')) return null;
  try {
    const { pathname, search } = new URL(`http://host.invalid${url}`);
    // A path that cannot be decoded is none (RFC 3986 §2.1).
    return decodeURIComponent(pathname).includes('\0') ? null : { path: pathname, query: search };
  } catch (error) {
    if (error instanceof TypeError || error instanceof URIError) return null;
    throw error;
  }
}

const cookieName = (host: string): string => `normetra${/:\d+$/.exec(host)?.[0].replace(':', '_') ?? ''}`;

function hasToken(req: IncomingMessage, host: string, token: string): boolean {
  const bearer = /^Bearer (.+)$/i.exec(req.headers.authorization ?? '')?.[1];
  if (bearer !== undefined && areEqual(bearer, token)) return true;
  return (req.headers.cookie ?? '').split(';').some((pair) => {
    const [name, value = ''] = pair.trim().split('=');
    return name === cookieName(host) && areEqual(value, visitOf(token));
  });
}

/** The name of the frame that a request comes from, where that lies under a path of this host. */
function frameOfReferer(referer: string | undefined, host: string): string | null {
  const url = URL.canParse(referer ?? '') ? new URL(referer!) : null;
  return url?.host === host.toLowerCase() ? (FRAME_PATH.exec(url.pathname)?.[1] ?? null) : null;
}

/** Answers or rewrites a request; true: it has been answered. */
export function guardRequest(req: IncomingMessage, res: ServerResponse, guard: Guard): boolean {
  const { token = null } = guard;
  const host = req.headers.host ?? '';
  const target = targetOf(req.url ?? '/');
  const isRead = req.method === 'GET' || req.method === 'HEAD';
  req.headers['x-forwarded-proto'] = 'http';
  const framed = FRAME_HOST.exec(nameOf(host));
  const inPath = framed ? null : FRAME_PATH.exec(target?.path ?? '');
  const name = framed?.[1] ?? inPath?.[1];
  const key = name === undefined ? null : keyOfName(name, token);
  if (token !== null && key === null) {
    const text = target && isRead ? new URLSearchParams(target.query).get('token') : null;
    if (text !== null && areEqual(text, token)) {
      const query = new URLSearchParams(target!.query);
      query.delete('token');
      return redirect(res, 303, {
        location: target!.path.replace(/^\/+/, '/') + (query.size > 0 ? `?${query}` : ''),
        'set-cookie': `${cookieName(host)}=${visitOf(token)}; Path=/; HttpOnly; SameSite=Lax; Max-Age=31536000`,
      });
    }
    if (name !== undefined || !hasToken(req, host, token))
      return refuse(
        res,
        401,
        'token',
        'this Normetra asks for its token. Open the address that it printed at its start, or send the token as “Authorization: Bearer …”.',
      );
  }
  if (!target)
    return refuse(res, 400, 'path', 'the address is not a path as RFC 3986 has it. Write it with %-escapes.');
  if (framed) {
    if (!isRead) return refuse(res, 405, 'method', 'a specimen is only read: GET or HEAD.');
    if (key === null) return refuse(res, 421, 'Host', 'there is no specimen at this name.');
    req.url = `/frame/${key}${target.path}${target.query}`;
    return false;
  }
  if (!isOwnHost(host, guard))
    return refuse(
      res,
      421,
      'Host',
      `Normetra is not served as “${host.slice(0, 200)}”. Open it at http://127.0.0.1, or name the host with --host.`,
    );
  if (inPath) {
    if (!isRead) return refuse(res, 405, 'method', 'a specimen is only read: GET or HEAD.');
    if (key === null) return refuse(res, 404, 'path', 'there is no specimen at this name.');
    req.url = `/frame/${key}${inPath[2] ?? '/'}${target.query}`;
    return false;
  }
  const from = frameOfReferer(req.headers.referer, host);
  if (from !== null && isRead && keyOfName(from, token) !== null)
    return redirect(res, 307, {
      location: `/frame/${from}${target.path}${target.query}`,
      'access-control-allow-origin': '*',
    });
  const { origin } = req.headers;
  if (!isRead && origin !== `http://${host}` && origin !== `https://${host}`)
    return refuse(
      res,
      403,
      'Origin',
      'a request that changes something must come from a page of Normetra itself, and this is another origin.',
    );
  return false;
}
