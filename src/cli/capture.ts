/** `normetra capture`: what a live page has become, as a file that every command takes. */
import { writeFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { zipSync } from 'fflate';
import { openLivePage, type Captured } from '../lib/server/capture/live-page.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { isAddress } from '../lib/server/engines/source.ts';
import { parsedArguments } from './arguments.ts';
import { CAPTURE_OPTIONS, liveInput } from './capture-options.ts';
import { writableFile } from './options.ts';

/** The files as an archive; the page is the first of its pages. */
function archiveOf({ files, entry }: Captured): Uint8Array {
  const first = files.filter(({ path }) => path === entry);
  const rest = files.filter(({ path }) => path !== entry);
  return zipSync(Object.fromEntries([...first, ...rest].map(({ path, bytes }) => [path, bytes])));
}

export async function capture(argv: string[]): Promise<number> {
  const { values, positionals } = parsedArguments({
    args: argv,
    options: { ...CAPTURE_OPTIONS, out: { type: 'string' } },
    allowPositionals: true,
  });
  const [address] = positionals;
  if (address === undefined || positionals.length > 1 || !isAddress(address))
    throw new Refusal('Name the address of one page, like: normetra capture http://localhost:5173/');
  const out = resolve(values.out ?? 'capture.zip');
  await writableFile(out);
  const live = await openLivePage(await liveInput(address, values));
  try {
    const captured = await live.freeze();
    await writeFile(out, archiveOf(captured));
    console.log(`${captured.url} is in ${out}: ${captured.files.length} files, the page is ${captured.entry}.`);
    for (const sentence of captured.left) console.log(`Not in it: ${sentence}`);
  } finally {
    await live.close();
  }
  return 0;
}
