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

/** The empty document of a mode; of a specimen with other defaults, with these. */
export const bareAddress = (host: string, key: string, isUnder: boolean, mode: string): string =>
  isUnder ? frameAddress(host, key, `__bare/${mode}.html`) : frameAddress(host, 'bare', `${mode}.html`);
