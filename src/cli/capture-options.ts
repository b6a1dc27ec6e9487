/** Options by which the command line says how a live page is taken, the same for all commands that take one. */
import { readFile } from 'node:fs/promises';
import { parseCookies } from '../lib/server/capture/cookies.ts';
import { parseStep } from '../lib/server/capture/steps.ts';
import type { LiveInput } from '../lib/server/capture/live-page.ts';
import { isAddress } from '../lib/server/engines/source.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';

export const CAPTURE_OPTIONS = {
  width: { type: 'string' },
  height: { type: 'string' },
  do: { type: 'string', multiple: true },
  cookies: { type: 'string' },
  user: { type: 'string' },
  also: { type: 'string', multiple: true },
} as const;

export interface CaptureValues {
  width?: string | undefined;
  height?: string | undefined;
  do?: string[] | undefined;
  cookies?: string | undefined;
  user?: string | undefined;
  also?: string[] | undefined;
}

function side(name: string, text: string | undefined, otherwise: number): number {
  if (text === undefined) return otherwise;
  const value = Number(text);
  if (!Number.isInteger(value) || value < 100 || value > 8000)
    throw new Refusal(`--${name} is a whole number of px from 100 to 8000.`);
  return value;
}

/** A host that may be reached: as an address, or as HOST:PORT. */
function hostOf(text: string): URL {
  const address = isAddress(text) ? text : `http://${text}`;
  if (!URL.canParse(address)) throw new Refusal(`--also ${text} is no host. Write it like localhost:3000.`);
  return new URL(address);
}

async function cookiesOf(file: string | undefined): Promise<LiveInput['cookies']> {
  if (file === undefined) return [];
  const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new Refusal(`--cookies ${file} cannot be read (${error.code ?? error.message}).`);
  });
  return parseCookies(text);
}

/** Throws a Refusal. */
export async function liveInput(address: string, values: CaptureValues): Promise<LiveInput> {
  if (!URL.canParse(address))
    throw new Refusal(`${address} is no address. Write it like http://localhost:5173/.`);
  const at = values.user?.indexOf(':') ?? -1;
  if (values.user !== undefined && at < 1) throw new Refusal('--user is a name and a password: NAME:PASSWORD.');
  const steps = values.do ?? [];
  for (const step of steps) parseStep(step);
  return {
    address: new URL(address),
    width: side('width', values.width, 1280),
    height: side('height', values.height, 800),
    steps,
    cookies: await cookiesOf(values.cookies),
    credentials:
      values.user === undefined
        ? null
        : { username: values.user.slice(0, at), password: values.user.slice(at + 1) },
    also: (values.also ?? []).map(hostOf),
  };
}
