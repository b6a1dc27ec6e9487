/** `normetra serve`: the built application behind its guard. */
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type RequestListener } from 'node:http';
import type { Socket } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { z } from 'zod';
import { newToken, tokenAtHand } from '../lib/server/access.ts';
import { guardRequest } from '../lib/server/request-guard.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { ROOT } from '../lib/server/root.ts';
import { parsedArguments } from './arguments.ts';
import { SERVING } from './serving.ts';

const optionsSchema = z.object({
  port: z.coerce
    .number('--port is a number')
    .int('--port is a whole number')
    .min(0, '--port is at least 0')
    .max(65535, '--port is at most 65535')
    .default(4870),
  host: z.string().min(1, '--host is an address or a name').default('127.0.0.1'),
  data: z.string().min(1, '--data is a folder').default('data'),
});

const isWildcard = (host: string): boolean => host === '0.0.0.0' || host === '::';
const isLoopbackOnly = (host: string): boolean => /^(localhost|127\.\d+\.\d+\.\d+|::1)$/.test(host);

const inUrl = (address: string): string => (address.includes(':') ? `[${address}]` : address);

const ownAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((all) =>
    (all ?? []).filter(({ internal }) => !internal).map(({ address }) => inUrl(address)),
  );

/** Names by which the server may be asked for; a wildcard address answers to all that this machine has. */
const namesOf = (host: string): string[] =>
  isWildcard(host) ? [hostname().toLowerCase(), ...ownAddresses()] : [inUrl(host.toLowerCase())];

/** Ms for which a connection is kept that nothing goes over. */
const KEEP_ALIVE = 55_000;
/** Ms in which the head of a request must have come, and the whole of it. */
const HEAD_MS = 30_000;
const REQUEST_MS = 15 * 60_000;

function optionsOf(argv: string[]): z.infer<typeof optionsSchema> {
  const { values } = parsedArguments({
    args: argv,
    options: { port: { type: 'string' }, host: { type: 'string' }, data: { type: 'string' } },
  });
  const parsed = optionsSchema.safeParse(values);
  if (!parsed.success) throw new Refusal(`${parsed.error.issues[0]?.message}. Correct it and start again.`);
  return parsed.data;
}

const LISTENING: Record<string, (host: string, port: number) => string> = {
  EADDRINUSE: (_host, port) => `Port ${port} is taken. Stop what uses it, or choose another with --port.`,
  EADDRNOTAVAIL: (host) => `This machine has no address ${host}. Choose one that it has with --host.`,
  ENOTFOUND: (host) => `The name ${host} is unknown. Choose an address of this machine with --host.`,
  EACCES: (_host, port) => `Port ${port} may not be used by this user. Choose one above 1023 with --port.`,
};

export async function serve(argv: string[]): Promise<number> {
  await listen(argv, console.log);
  return 0;
}

/** Starts the server, with `say` for what whoever started it must know; the answer is its address on this machine. */
export async function listen(argv: string[], say: (line: string) => void): Promise<string> {
  const { port, host, data } = optionsOf(argv);
  const handlerFile = join(ROOT, 'build', 'handler.js');
  if (!existsSync(handlerFile))
    throw new Refusal('The application is not built yet. Run npm start, which builds it.');
  if (!isLoopbackOnly(host) && tokenAtHand() === null) process.env['NORMETRA_TOKEN'] = newToken();
  const token = tokenAtHand();
  process.env['NORMETRA_ROOT'] = ROOT;
  process.env['NORMETRA_DATA'] = resolve(data);
  process.env['NORMETRA_LOOPBACK'] = isLoopbackOnly(host) ? 'yes' : '';
  process.env['PROTOCOL_HEADER'] = 'x-forwarded-proto';
  process.env['BODY_SIZE_LIMIT'] = 'Infinity';
  const hosts = namesOf(host);
  let handler: RequestListener | null = null;
  const server = createServer((req, res) => {
    // What of a body nobody has read holds up the next request on its connection: it is read and let go.
    res.once('finish', () => {
      if (req.complete) return;
      req.removeAllListeners('data');
      req.resume();
    });
    if (!guardRequest(req, res, { hosts, token })) handler!(req, res);
  });
  // Between two looks at a page a minute goes by: a connection that is closed just as it is used again is an error.
  server.keepAliveTimeout = KEEP_ALIVE;
  server.headersTimeout = HEAD_MS;
  server.requestTimeout = REQUEST_MS;
  server.on('clientError', (error: NodeJS.ErrnoException, socket: Socket) => {
    if (error.code === 'ECONNRESET' || !socket.writable) return;
    const body = JSON.stringify({
      error: `request: it is not as HTTP has it (${error.code ?? error.message}).`,
      field: 'request',
    });
    socket.end(
      `HTTP/1.1 400 Bad Request\r\nContent-Type: application/json; charset=utf-8\r\nConnection: close\r\nContent-Length: ${Buffer.byteLength(body)}\r\n\r\n${body}`,
    );
  });
  // The database is opened as the application is loaded: where it cannot be had, nothing is listened on and nothing printed.
  ({ handler } = (await import(pathToFileURL(handlerFile).href)) as { handler: RequestListener });
  await new Promise<void>((listening, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      failed(new Refusal(LISTENING[error.code ?? '']?.(host, port) ?? error.message)),
    );
    server.listen(port, host, listening);
  });
  const address = server.address();
  const at = typeof address === 'object' && address ? address.port : port;
  const serving = join(resolve(data), SERVING);
  const ownAddress = `http://${isWildcard(host) ? '127.0.0.1' : inUrl(host)}:${at}/`;
  if (!process.env['DATABASE_URL']) writeFileSync(serving, JSON.stringify({ url: ownAddress }));
  const query = token === null ? '' : `?token=${encodeURIComponent(token)}`;
  say(`Normetra is at ${ownAddress}${query}`);
  if (!isLoopbackOnly(host)) {
    for (const name of isWildcard(host) ? ownAddresses() : [])
      say(`          and http://${name}:${at}/${query}`);
    say(
      `Whoever can reach ${isWildcard(host) ? 'an address of this machine' : host} on port ${at} and knows the token can use it: see and change all specimens.`,
    );
  }
  const stop = () => {
    rmSync(serving, { force: true });
    server.close();
    server.closeAllConnections();
    process.emit('sveltekit:shutdown' as never);
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  return ownAddress;
}
