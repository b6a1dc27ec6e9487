/** Where the files of a live page lie in its capture: at their own paths, those of other hosts in folders of their own. */
import { typeOf } from '../ingest/paths.ts';

export interface Places {
  /** The path of what came from an address, given its media type; the same for the same address. */
  place: (url: URL, type: string) => string;
  /** Another address that leads to it. */
  alias: (from: string, to: URL) => void;
  /** What stands for an address in a file: null where the address says the same by itself. */
  standing: (address: string) => string | null;
}

const ENDINGS: Record<string, string> = {
  'text/html': '.html',
  'application/xhtml+xml': '.html',
  'text/css': '.css',
  'image/svg+xml': '.svg',
  'image/png': '.png',
  'image/jpeg': '.jpg',
  'image/gif': '.gif',
  'image/webp': '.webp',
  'image/avif': '.avif',
  'image/x-icon': '.ico',
  'image/vnd.microsoft.icon': '.ico',
  'font/woff2': '.woff2',
  'font/woff': '.woff',
  'font/ttf': '.ttf',
  'font/otf': '.otf',
  'application/font-woff2': '.woff2',
  'application/font-woff': '.woff',
};

/** The folder of what came from other hosts. */
const OTHERS = '_hosts';

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch (error) {
    if (error instanceof URIError) return path;
    throw error;
  }
}

const withoutFragment = (address: string): string => address.replace(/#.*$/, '');
const encoded = (path: string): string => `/${path.split('/').map(encodeURIComponent).join('/')}`;

/** `page`: the address of the page; its host's root is the root of the capture. */
export function makePlaces(page: URL): Places {
  const byAddress = new Map<string, string>();
  const taken = new Set<string>();
  const natural = (url: URL): string => {
    const names = decoded(url.pathname)
      .split(/[\\/]/)
      .filter((name) => !/^\.{0,2}$/.test(name))
      .map((name) => name.replaceAll('\0', '_'));
    const whole = [...names, ...(url.pathname.endsWith('/') ? ['index.html'] : [])].join('/');
    return url.origin === page.origin ? whole : `${OTHERS}/${url.host.replace(/[:[\]]/g, '_')}/${whole}`;
  };
  /** Whether an address leads to a path in the capture as it is written. */
  const saysItself = (url: URL, path: string): boolean => {
    const written = decoded(url.pathname.slice(1));
    return (
      url.origin === page.origin &&
      path === (written === '' || written.endsWith('/') ? `${written}index.html` : written)
    );
  };
  return {
    place: (url, type) => {
      const key = withoutFragment(url.href);
      const earlier = byAddress.get(key);
      if (earlier !== undefined) return earlier;
      const ending = ENDINGS[type] ?? '';
      const path = natural(url);
      const isTyped = ending === '' || typeOf(path) === typeOf(`x${ending}`);
      const base = isTyped ? path : path + ending;
      let found = base;
      // The same path with other queries is another file.
      for (let i = 2; taken.has(found); i++) found = base.replace(/(\.\w+)?$/, `~${i}$1`);
      taken.add(found);
      byAddress.set(key, found);
      return found;
    },
    alias: (from, to) => {
      const found = byAddress.get(withoutFragment(to.href));
      if (found !== undefined) byAddress.set(withoutFragment(from), found);
    },
    standing: (address) => {
      if (!URL.canParse(address)) return null;
      const url = new URL(address);
      const found = byAddress.get(withoutFragment(address));
      if (found === undefined) return null;
      return saysItself(url, found) ? null : encoded(found) + url.hash;
    },
  };
}
