/** `normetra serve`: the built application behind its door. */
import { existsSync } from 'node:fs';
import { createServer, type RequestListener } from 'node:http';
import { hostname, networkInterfaces } from 'node:os';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { passDoor } from '../lib/server/door.ts';
import { ROOT } from '../lib/server/root.ts';

const optionsSchema = z.object({
  port: z.coerce
    .number('--port is a number')
    .int('--port is a whole number')
    .min(0)
    .max(65535, '--port is at most 65535')
    .default(4870),
  host: z.string().min(1).default('127.0.0.1'),
  data: z.string().min(1).default('data'),
});

/** Names by which the server may be asked for; a wildcard address answers to all that this machine has. */
function namesOf(host: string): string[] {
  if (host !== '0.0.0.0' && host !== '::') return [host.toLowerCase()];
  const addresses = Object.values(networkInterfaces()).flatMap((all) =>
    (all ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address}]` : address)),
  );
  return [hostname().toLowerCase(), ...addresses];
}

/** Ms for which a connection is kept that nothing goes over. */
const KEEP_ALIVE = 55_000;

export async function serve(argv: string[]): Promise<number> {
  const { values } = parseArgs({
    args: argv,
    options: { port: { type: 'string' }, host: { type: 'string' }, data: { type: 'string' } },
  });
  const parsed = optionsSchema.safeParse(values);
  if (!parsed.success) throw new Error(`${parsed.error.issues[0]?.message}. Correct it and start again.`);
  const { port, host, data } = parsed.data;
  const handlerFile = join(ROOT, 'build', 'handler.js');
  if (!existsSync(handlerFile))
    throw new Error('The application is not built yet. Run npm start, which builds it.');
  process.env['NORMETRA_ROOT'] = ROOT;
  process.env['NORMETRA_DATA'] = resolve(data);
  process.env['PROTOCOL_HEADER'] = 'x-forwarded-proto';
  process.env['BODY_SIZE_LIMIT'] = 'Infinity';
  const { handler } = (await import(pathToFileURL(handlerFile).href)) as { handler: RequestListener };
  const hosts = namesOf(host);
  const server = createServer((req, res) => {
    if (!passDoor(req, res, { hosts })) handler(req, res);
  });
  // Between two looks at a page a minute goes by: a connection that is closed just as it is used again is an error.
  server.keepAliveTimeout = KEEP_ALIVE;
  await new Promise<void>((listening, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      failed(
        error.code === 'EADDRINUSE'
          ? new Error(`Port ${port} is taken. Stop what uses it, or choose another with --port.`)
          : error,
      ),
    );
    server.listen(port, host, listening);
  });
  const address = server.address();
  console.log(`Normetra is at http://${host}:${typeof address === 'object' && address ? address.port : port}/`);
  const stop = () => {
    server.close();
    server.closeAllConnections();
    process.emit('sveltekit:shutdown' as never);
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  return 0;
}
