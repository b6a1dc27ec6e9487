/**
 * Every request goes through here first. It tells the application's own hosts from those of specimens, refuses
 * hosts that are neither, and lets nothing change state that does not come from the application's own pages.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';

/** A specimen's key, and a room: frames in different rooms are of different sites, so that engines run them side by side. */
const FRAME_HOST = /^([0-9a-f]{32}|bare)(?:\.([a-z]+))?\.localhost$/;
const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

export interface Door {
  /** Host names beside the loopback ones at which the application is served. */
  hosts: string[];
}

const nameOf = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

export const isLoopback = (host: string): boolean =>
  LOOPBACK.has(nameOf(host)) || FRAME_HOST.test(nameOf(host));

export const isFrameHost = (host: string): boolean => FRAME_HOST.test(nameOf(host));

export function isOwnHost(host: string, { hosts }: Door): boolean {
  const name = nameOf(host);
  return LOOPBACK.has(name) || hosts.includes(name);
}

/** Where the files of a specimen are: on a host of its own beside loopback, under a path on any other host. */
export function frameBase(host: string, key: string): string {
  const port = /:\d+$/.exec(host)?.[0] ?? '';
  return isLoopback(host) ? `http://${key}.localhost${port}/` : `http://${host}/frame/${key}/`;
}

function refuse(res: ServerResponse, status: number, why: string): void {
  res.writeHead(status, { 'content-type': 'application/json; charset=utf-8' });
  res.end(JSON.stringify({ error: why }));
}

/** Answers or rewrites a request; true: it has been answered. */
export function passDoor(req: IncomingMessage, res: ServerResponse, door: Door): boolean {
  const host = req.headers.host ?? '';
  const url = req.url ?? '/';
  req.headers['x-forwarded-proto'] = 'http';
  const framed = FRAME_HOST.exec(nameOf(host));
  if (framed) {
    if (req.method !== 'GET' && req.method !== 'HEAD') {
      refuse(res, 405, 'A specimen is only read.');
      return true;
    }
    req.url = `/frame/${framed[1]}${url.startsWith('/') ? url : '/'}`;
    return false;
  }
  if (!isOwnHost(host, door)) {
    refuse(
      res,
      421,
      `Normetra is not served as “${host}”. Open it at http://127.0.0.1, or name the host with --host.`,
    );
    return true;
  }
  const from = /^https?:\/\/[^/]+\/frame\/([0-9a-f]{32})\//.exec(req.headers.referer ?? '');
  if (from && !url.startsWith('/frame/')) {
    res.writeHead(307, { location: `/frame/${from[1]}${url}`, 'access-control-allow-origin': '*' });
    res.end();
    return true;
  }
  if (
    req.method !== 'GET' &&
    req.method !== 'HEAD' &&
    req.headers.origin !== `http://${host}` &&
    req.headers.origin !== `https://${host}`
  ) {
    refuse(
      res,
      403,
      'A request that changes something must come from a page of Normetra itself: its Origin header is another.',
    );
    return true;
  }
  return false;
}
