/** Options that the commands share, and the message that a refusal of them is. */
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { Refusal } from '../lib/server/ingest/refusal.ts';

const side = (name: string, most: number) =>
  z.coerce
    .number(`--${name} is a number of px`)
    .int(`--${name} is a whole number of px`)
    .min(100, `--${name} is at least 100`)
    .max(most, `--${name} is at most ${most}`);

const pageOptions = z.object({
  width: side('width', 7680).default(1280),
  height: side('height', 8000).default(800),
  engine: z.literal('chromium', '--engine is chromium: no other is started here yet').default('chromium'),
  defaults: z
    .literal('as-rendered', '--defaults is as-rendered: no others can be laid under a page yet')
    .default('as-rendered'),
  root: z.string().min(1).nullable().default(null),
  scripts: z.enum(['hold', 'run'], '--scripts is hold or run').default('hold'),
  out: z.string().min(1).nullable().default(null),
  json: z.boolean().default(false),
  select: z.string().min(1).nullable().default(null),
});
export type PageOptions = z.infer<typeof pageOptions> & { page: string };

/** Throws a Refusal that says which option is wrong and how it is written. */
export function readPageOptions(command: string, argv: string[]): PageOptions {
  const text = { type: 'string' } as const;
  let parsed: ReturnType<typeof parse>;
  const parse = () =>
    parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        width: text,
        height: text,
        engine: text,
        defaults: text,
        root: text,
        scripts: text,
        out: text,
        select: text,
        json: { type: 'boolean' },
      },
    });
  try {
    parsed = parse();
  } catch (error) {
    throw new Refusal(
      `${error instanceof Error ? error.message.split('\n')[0] : String(error)}. Run normetra --help for the options.`,
    );
  }
  const [page, ...more] = parsed.positionals;
  if (page === undefined)
    throw new Refusal(
      `normetra ${command} needs a page: an HTML file, a folder with index.html, a .zip, or an http(s) address.`,
    );
  if (more.length > 0)
    throw new Refusal(
      `normetra ${command} takes one page, and ${more.length + 1} were named. Run it once for each.`,
    );
  const checked = pageOptions.safeParse(parsed.values);
  if (!checked.success) throw new Refusal(`${checked.error.issues[0]?.message}.`);
  return { ...checked.data, page };
}
