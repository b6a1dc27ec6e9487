/** `normetra open`: a folder or a page of this machine, or the page of an address, on the Bench of the server that runs, or of one that is started. */
import { existsSync, readFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join, resolve } from 'node:path';
import openInBrowser from 'open';
import { z } from 'zod';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { ROOT } from '../lib/server/root.ts';
import { isAddress } from '../lib/server/engines/source.ts';
import { parsedArguments } from './arguments.ts';
import { CAPTURE_OPTIONS, liveInput, type CaptureValues } from './capture-options.ts';
import { listen } from './serve.ts';
import { SERVING } from './serving.ts';

const OPTIONS = {
  ...CAPTURE_OPTIONS,
  root: { type: 'string' },
  data: { type: 'string' },
  port: { type: 'string' },
  json: { type: 'boolean' },
  'no-browser': { type: 'boolean' },
} as const;

interface Asked {
  place: string;
  /** What the server is asked besides. */
  how: Record<string, unknown>;
  data: string | null;
  port: string | null;
  isJson: boolean;
  hasBrowser: boolean;
}

async function askedOf(argv: string[]): Promise<Asked> {
  const { values, positionals } = parsedArguments({ args: argv, options: OPTIONS, allowPositionals: true });
  const [place] = positionals;
  if (place === undefined || positionals.length > 1)
    throw new Refusal('Name one folder, page or address to open, like: normetra open .');
  const root = values.root === undefined ? null : resolve(values.root);
  return {
    ...(isAddress(place)
      ? { place, how: await howOf(place, values) }
      : { place: resolve(place), how: { root } }),
    data: values.data === undefined ? null : resolve(values.data),
    port: values.port ?? null,
    isJson: values.json ?? false,
    hasBrowser: !(values['no-browser'] ?? false),
  };
}

/** How the page of an address is taken, as the server is asked for it. */
async function howOf(place: string, values: CaptureValues): Promise<Record<string, unknown>> {
  const { address: _, also, ...how } = await liveInput(place, values);
  return { ...how, also: also.map(({ href }) => href) };
}

const servingSchema = z.object({ url: z.url() });

/** The address of a server that answers and has its data in a folder; null: there is none. */
async function serverOf(data: string): Promise<string | null> {
  const file = join(data, SERVING);
  if (!existsSync(file)) return null;
  const serving = servingSchema.safeParse(JSON.parse(readFileSync(file, 'utf8')));
  if (!serving.success) return null;
  // One that was killed has left its file behind.
  const answer = await fetch(new URL('/api/health', serving.data.url)).catch(() => null);
  await answer?.body?.cancel();
  return answer ? serving.data.url : null;
}

/** Where the data of a server is that `open` starts: the same wherever it is called. */
const homeData = (): string =>
  join(process.env['XDG_DATA_HOME'] || join(homedir(), '.local', 'share'), 'normetra');

const openedSchema = z.object({ id: z.string(), page: z.string().nullable(), url: z.url() });
const refusedSchema = z.object({ error: z.string() });

async function ask(server: string, { place, how }: Asked): Promise<z.infer<typeof openedSchema>> {
  const token = process.env['NORMETRA_TOKEN'];
  const response = await fetch(new URL('/api/open', server), {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      origin: new URL(server).origin,
      ...(token && { authorization: `Bearer ${token}` }),
    },
    body: JSON.stringify({ place, ...how }),
  });
  const answer: unknown = await response.json();
  if (response.ok) return openedSchema.parse(answer);
  throw new Refusal(refusedSchema.parse(answer).error.replace(/^\w+: /, ''));
}

export async function open(argv: string[]): Promise<number> {
  const asked = await askedOf(argv);
  const places = asked.data === null ? [join(ROOT, 'data'), homeData()] : [asked.data];
  let server: string | null = null;
  for (const data of places) server ??= await serverOf(data);
  // What a server says at its start is no part of a document.
  server ??= await listen(
    ['--data', asked.data ?? homeData(), '--port', asked.port ?? '4870'],
    asked.isJson ? () => undefined : console.log,
  );
  const opened = await ask(server, asked);
  if (asked.isJson)
    console.log(JSON.stringify({ normetra: 'open/1', ...opened, api: new URL('/api/', server).href }));
  else console.log(`${asked.place} is on the Bench at ${opened.url}`);
  if (asked.hasBrowser) {
    const browser = await openInBrowser(opened.url);
    // A machine without a browser has said its address above.
    browser.once('error', () =>
      console.error('normetra: no browser could be started. Open the address above in one.'),
    );
    browser.unref();
  }
  return 0;
}
