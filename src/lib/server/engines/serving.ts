/** What a station in a headless engine is served: its own page, specimens from memory, empty documents. */
import { build } from 'esbuild';
import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Mode } from '../../../core/css/defaults/profile.ts';
import { guardRequest } from '../request-guard.ts';
import type { Underlays } from '../frames/overlays.ts';
import { serveBare, serveFrame } from '../frames/serve.ts';
import { ROOT } from '../root.ts';
import { fromFiles, type PageSource } from './source.ts';

export type Kept = PageSource & { scripts: 'hold' | 'run'; underlay: Underlays | null };

export interface Serving {
  port: number;
  /** The station as a script for its page. */
  script: string;
  /** Specimens by their keys. */
  specimens: Map<string, Kept>;
  /** The address of an empty document of a mode, with a style sheet laid under it. */
  bare: (mode: Mode, underlay?: Underlays | null) => string;
  close: () => Promise<void>;
}

export async function serveStation(): Promise<Serving> {
  const specimens = new Map<string, Kept>();
  const [{ server, port }, script] = await Promise.all([listen(specimens), stationScript()]);
  return {
    port,
    script,
    specimens,
    bare: (mode, underlay = null) => {
      if (!underlay) return `http://bare.localhost:${port}/${mode}.html`;
      const key = randomBytes(16).toString('hex');
      specimens.set(key, { ...fromFiles([], ''), scripts: 'hold', underlay });
      return `http://${key}.localhost:${port}/__bare/${mode}.html`;
    },
    close: async () => {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}

async function listen(specimens: Map<string, Kept>): Promise<{ server: Server; port: number }> {
  const handle = async (req: IncomingMessage, res: ServerResponse): Promise<void> => {
    if (guardRequest(req, res, { hosts: [] })) return;
    const host = req.headers.host ?? '';
    const framed = /^\/frame\/(\w+)\/([^?#]*)([^#]*)/.exec(req.url ?? '');
    if (!framed) {
      res
        .writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
        .end('<!doctype html><title>Station</title><body style="margin:0">');
      return;
    }
    const [, key = '', path = '', query = ''] = framed;
    const kept = specimens.get(key);
    const answer =
      key === 'bare' || !kept
        ? await serveBare(host, path)
        : await serveFrame(host, key, decodeURIComponent(path), kept, path + query);
    res.writeHead(answer.status, answer.headers).end(answer.body);
  };
  const server = createServer((req, res) => {
    handle(req, res).catch((error: unknown) => {
      res.writeHead(500).end(error instanceof Error ? error.message : String(error));
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { server, port: (server.address() as AddressInfo).port };
}

async function stationScript(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [join(ROOT, 'src/station/page.ts')],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    tsconfigRaw: {},
  });
  return outputFiles[0]!.text;
}
