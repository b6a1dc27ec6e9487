/** A client of the application's API, as the interface is one. */
import type { App } from './app.ts';

export interface Answered {
  status: number;
  text: string;
  /** The answer as JSON. Throws where it is none. */
  json: <T = Record<string, unknown>>() => T;
  headers: Headers;
}

export interface Client {
  ask: (method: string, path: string, body?: unknown, headers?: Record<string, string>) => Promise<Answered>;
  /** Sends files as a form; `path`: where to. */
  upload: (files: readonly [string, Uint8Array | string][], path?: string) => Promise<Answered>;
  /** Makes a specimen of HTML and CSS; its id. */
  make: (html?: string, css?: string) => Promise<string>;
  list: () => Promise<Listed[]>;
}

export interface Listed {
  id: string;
  name: string;
  key: string;
  entry: string;
  version: number;
  readings: number;
  missing: number;
  scripts: string;
}

export function clientOf({ url }: Pick<App, 'url'>): Client {
  const answered = async (response: Response): Promise<Answered> => {
    const text = await response.text();
    return {
      status: response.status,
      text,
      headers: response.headers,
      json: <T>() => JSON.parse(text) as T,
    };
  };
  const client: Client = {
    ask: async (method, path, body, headers = {}) =>
      answered(
        await fetch(url + path, {
          method,
          headers: {
            origin: url,
            ...(typeof body === 'string' ? {} : { 'content-type': 'application/json' }),
            ...headers,
          },
          ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
        }),
      ),
    upload: async (files, path = '/api/specimens') => {
      const form = new FormData();
      for (const [name, contents] of files) {
        form.append('files', new File([contents as BlobPart], name));
        form.append('paths', name);
      }
      return answered(await fetch(url + path, { method: 'POST', headers: { origin: url }, body: form }));
    },
    make: async (html = '<title>One</title><p>x', css = 'p { margin: 0 }') =>
      (await client.ask('POST', '/api/specimens', { html, css })).json<{ id: string }>().id,
    list: async () => (await client.ask('GET', '/api/specimens')).json<Listed[]>(),
  };
  return client;
}
