/// <reference path="./url.d.ts" />
/** Addresses within a specimen, whose root stands for the root of a host (URL Standard §4). */

const ROOT = 'http://specimen.invalid/';

/** The file that an address points at from another file, or null when it is none of the specimen's. */
export function pathOf(address: string, fromPath: string, base: string | null = null): string | null {
  try {
    const from = new URL(fromPath.split('/').map(encodeURIComponent).join('/'), ROOT);
    const url = new URL(address, base === null ? from : new URL(base, from));
    return url.origin === new URL(ROOT).origin ? decodeURIComponent(url.pathname.slice(1)) || null : null;
  } catch (error) {
    if (error instanceof TypeError || error instanceof URIError) return null;
    throw error;
  }
}

/**
 * The same for an address that a frame's document gives in full: `frameBase` is the address under which the
 * specimen's root is served there.
 */
export function pathInFrame(address: string, fromPath: string, frameBase: string): string | null {
  const origin = new URL(frameBase).origin;
  if (address.startsWith(frameBase)) return pathOf(`/${address.slice(frameBase.length)}`, fromPath);
  if (address.startsWith(`${origin}/`)) return pathOf(address.slice(origin.length), fromPath);
  return pathOf(address, fromPath);
}
