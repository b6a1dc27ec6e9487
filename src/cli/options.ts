/** Options that the commands share, and the message that a refusal of them is. */
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { KINDS } from '../core/findings/finding.ts';
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
  defaults: z.string().min(1).default('as-rendered'),
  root: z.string().min(1).nullable().default(null),
  scripts: z.enum(['hold', 'run'], '--scripts is hold or run').default('hold'),
  out: z.string().min(1).nullable().default(null),
  json: z.boolean().default(false),
  select: z.string().min(1).nullable().default(null),
});
export type PageOptions = z.infer<typeof pageOptions> & { page: string };

const widthList = z
  .string()
  .default('1280')
  .transform((text) => text.split(',').map((one) => one.trim()))
  .pipe(
    z
      .array(
        z
          .string()
          .regex(/^\d+$/, '--widths is a list of whole numbers of px, like 320,768,1280')
          .transform(Number)
          .pipe(z.number().min(100, '--widths are at least 100').max(7680, '--widths are at most 7680')),
      )
      .min(1)
      .max(40, '--widths are 40 at most'),
  )
  .transform((list) => [...new Set(list)]);

const kindList = z
  .string()
  .transform((text) => text.split(',').map((one) => one.trim()))
  .pipe(z.array(z.enum(KINDS, `--kinds is a list of ${KINDS.join(', ')}`)))
  .nullable()
  .default(null);

const findOptions = pageOptions
  .omit({ width: true, select: true })
  .extend({
    widths: widthList,
    kinds: kindList,
    'fail-on': z.coerce
      .number('--fail-on is a number of px')
      .min(0, '--fail-on is a number of px from 0')
      .nullable()
      .default(null),
    format: z
      .enum(['text', 'json', 'sarif', 'junit'], '--format is text, json, sarif or junit')
      .default('text'),
    meant: z.boolean().default(false),
  })
  .transform(({ json, 'fail-on': failOn, format, ...rest }) => ({
    ...rest,
    failOn,
    format: json ? ('json' as const) : format,
  }));
export type FindOptions = z.infer<typeof findOptions> & { page: string };

const sweepOptions = pageOptions
  .omit({ width: true, select: true })
  .extend({ from: side('from', 7680).default(280), to: side('to', 7680).default(1920) })
  .refine(({ from, to }) => from < to, '--from must be less than --to')
  .refine(({ from, to }) => to - from <= 4000, '--from and --to are at most 4000 px apart');
export type SweepOptions = z.infer<typeof sweepOptions> & { page: string };

const atlasOptions = z.object({
  engine: z.enum(['chromium', 'firefox'], '--engine is chromium or firefox').default('chromium'),
  sheet: z.string().min(1).nullable().default(null),
  name: z
    .string()
    .regex(/^[\w-]+$/, '--name is letters, digits and dashes')
    .nullable()
    .default(null),
  title: z.string().min(1).max(120).nullable().default(null),
  against: z.string().min(1).nullable().default(null),
  mode: z.enum(['standards', 'quirks'], '--mode is standards or quirks').default('standards'),
  out: z.string().min(1).nullable().default(null),
  json: z.boolean().default(false),
});
export type AtlasOptions = z.infer<typeof atlasOptions>;
const ATLAS_TEXTS = ['engine', 'sheet', 'name', 'title', 'against', 'mode', 'out'];

const PAGE_TEXTS = ['width', 'height', 'engine', 'defaults', 'root', 'scripts', 'out', 'select'];
const SWEEP_TEXTS = ['from', 'to', 'height', 'engine', 'defaults', 'root', 'scripts', 'out'];
const FIND_TEXTS = [
  'widths',
  'kinds',
  'fail-on',
  'format',
  'height',
  'engine',
  'defaults',
  'root',
  'scripts',
  'out',
];

/** Throws a Refusal that says which option is wrong and how it is written. */
export const readPageOptions = (command: string, argv: string[]): PageOptions =>
  readOptions(command, argv, pageOptions, PAGE_TEXTS, ['json']);

/** The same for `normetra find`. */
export const readFindOptions = (argv: string[]): FindOptions =>
  readOptions('find', argv, findOptions, FIND_TEXTS, ['json', 'meant']);

/** The same for `normetra sweep`. */
export const readSweepOptions = (argv: string[]): SweepOptions =>
  readOptions('sweep', argv, sweepOptions, SWEEP_TEXTS, ['json']);

/** The same for `normetra atlas`, which takes no page. */
export const readAtlasOptions = (argv: string[]): AtlasOptions => {
  const { values, positionals } = parsedOf(argv, ATLAS_TEXTS, ['json']);
  if (positionals.length > 0)
    throw new Refusal('normetra atlas takes no page: it measures empty documents. Leave it out.');
  return checked(values, atlasOptions);
};

type Values = Record<string, string | boolean | undefined>;

function parsedOf(
  argv: string[],
  texts: readonly string[],
  flags: readonly string[],
): { values: Values; positionals: string[] } {
  const options = Object.fromEntries([
    ...texts.map((name) => [name, { type: 'string' as const }]),
    ...flags.map((name) => [name, { type: 'boolean' as const }]),
  ]) as Record<string, { type: 'string' | 'boolean' }>;
  try {
    return parseArgs({ args: argv, allowPositionals: true, options }) as {
      values: Values;
      positionals: string[];
    };
  } catch (error) {
    throw new Refusal(
      `${error instanceof Error ? error.message.split('\n')[0] : String(error)}. Run normetra --help for the options.`,
    );
  }
}

function checked<T>(values: Values, schema: z.ZodType<T>): T {
  const made = schema.safeParse(values);
  if (!made.success) throw new Refusal(`${made.error.issues[0]?.message}.`);
  return made.data;
}

function readOptions<T extends object>(
  command: string,
  argv: string[],
  schema: z.ZodType<T>,
  texts: readonly string[],
  flags: readonly string[],
): T & { page: string } {
  const { values, positionals } = parsedOf(argv, texts, flags);
  const [page, ...more] = positionals;
  if (page === undefined)
    throw new Refusal(
      `normetra ${command} needs a page: an HTML file, a folder with index.html, a .zip, or an http(s) address.`,
    );
  if (more.length > 0)
    throw new Refusal(
      `normetra ${command} takes one page, and ${more.length + 1} were named. Run it once for each.`,
    );
  return { ...checked(values, schema), page };
}
