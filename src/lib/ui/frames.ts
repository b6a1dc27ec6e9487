import { FRAME_HOST } from '$protocol/protocol.ts';

/** Frames of different rooms are of different sites: where the engine can, each has a process of its own. */
export type Room = '' | 'lab' | 'left' | 'right';

/** Where the files of a specimen are served for its frame; the same rule as the server's `frameBase`. */
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

export function frameBase(host: string, key: string, room: Room = ''): string {
  const port = /:\d+$/.exec(host)?.[0] ?? '';
  return LOOPBACK.test(host)
    ? `http://${key}.${room && `${room}.`}localhost${port}/`
    : `${location.protocol}//${host}/frame/${key}/`;
}

export const frameAddress = (host: string, key: string, path: string, room: Room = ''): string =>
  frameBase(host, key, room) + path.split('/').map(encodeURIComponent).join('/');

/** The document that holds a frame of a specimen's. */
export const holderAddress = (host: string, key: string, room: Room = ''): string =>
  frameBase(host, key, room) + FRAME_HOST;

/** The name under which the server has the empty documents. */
let bareName = 'bare';
export const nameBare = (name: string): void => {
  bareName = name;
};

/** The empty document of a mode; of a specimen with other defaults, with these. */
export const bareAddress = (host: string, key: string, isUnder: boolean, mode: string): string =>
  isUnder ? frameAddress(host, key, `__bare/${mode}.html`) : frameAddress(host, bareName, `${mode}.html`);
