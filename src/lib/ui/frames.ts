/** Where the files of a specimen are served for its frame; the same rule as the server's `frameBase`. */
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

export function frameBase(host: string, key: string): string {
  const port = /:\d+$/.exec(host)?.[0] ?? '';
  return LOOPBACK.test(host)
    ? `http://${key}.localhost${port}/`
    : `${location.protocol}//${host}/frame/${key}/`;
}

export const frameAddress = (host: string, key: string, path: string): string =>
  frameBase(host, key) + path.split('/').map(encodeURIComponent).join('/');
