/** Options that the commands share, and the message that a refusal of them is. */
import { constants, existsSync } from 'node:fs';
import { access, stat } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import { z } from 'zod';
import { KINDS } from '../core/finding.ts';
import { parseWish } from '../core/wishes/parse.ts';
import { presentEngines } from '../lib/server/engines/drivers/index.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { parsedArguments } from './arguments.ts';

const side = (name: string, most: number) =>
  z.coerce
    .number(`--${name} is a number of px`)
    .int(`--${name} is a whole number of px`)
    .min(100, `--${name} is at least 100`)
    .max(most, `--${name} is at most ${most}`);

const ENGINE_FORM = '--engine is chromium, firefox, webkit, a list of them, all, or webdriver:NAME';
const ENGINE = /^(chromium|firefox|webkit|webdriver:[\w-]+)$/;

/** Names of engines, in the order in which they were named; `all`: those that are on this machine. */
const engineNames = z
  .string()
  .transform((text) =>
    text.split(',').flatMap((part) => (part.trim() === 'all' ? presentEngines() : [part.trim()])),
  )
  .pipe(z.array(z.string().regex(ENGINE, ENGINE_FORM)).min(1, 'No engine was found: see normetra doctor'))
  .transform((names) => [...new Set(names)]);
const engineList = z.string().default('chromium').pipe(engineNames);

const pageOptions = z.object({
  width: side('width', 7680).default(1280),
  height: side('height', 8000).default(800),
  engine: engineList,
  defaults: z.string().min(1).default('as-rendered'),
  root: z.string().min(1).nullable().default(null),
  scripts: z.enum(['hold', 'run'], '--scripts is hold or run').default('hold'),
  scrollbars: z.enum(['beside', 'over'], '--scrollbars is beside or over').default('beside'),
  out: z.string().min(1).nullable().default(null),
  json: z.boolean().default(false),
  select: z.string().min(1).nullable().default(null),
});
export type PageOptions = z.infer<typeof pageOptions> & { page: string };

/** px from one width of a range to the next, where it does not say. */
const STEP = 40;
const MOST_WIDTHS = 40;
const RANGE = /^(\d+)(?:-(\d+)(?:\/([1-9]\d*))?)?$/;
const WIDTHS = '--widths is a list of whole numbers of px and ranges of them, like 320,768-1280 or 320-1280/80';
const BACKWARDS = '--widths has a range that ends before it begins';

/** A width, or both ends of a range with what lies between by its step; null: it ends before it begins. */
function widthsOf(part: string): number[] | null {
  const [, from, to = from, step = STEP] = RANGE.exec(part) ?? [];
  const [first, last, by] = [Number(from), Number(to), Number(step)];
  if (!(first <= last)) return null;
  const out: number[] = [];
  // One more than a list may have tells as much as all of them.
  for (let width = first; width < last && out.length <= MOST_WIDTHS; width += by) out.push(width);
  return [...out, last];
}

const widthList = z
  .string()
  .default('1280')
  .transform((text) => text.split(',').map((part) => part.trim()))
  .pipe(
    z.array(
      z
        .string()
        .regex(RANGE, { error: WIDTHS, abort: true })
        .refine((part) => widthsOf(part) !== null, BACKWARDS),
    ),
  )
  .transform((parts) => [...new Set(parts.flatMap((part) => widthsOf(part) ?? []))])
  .pipe(
    z
      .array(z.number().min(100, '--widths are at least 100').max(7680, '--widths are at most 7680'))
      .max(MOST_WIDTHS, `--widths are ${MOST_WIDTHS} at most: ranges can have larger steps, like 320-1920/100`),
  );

const PX = String.raw`\d+(?:\.\d+)?`;
const SPOT = new RegExp(`^${PX},${PX}(?:,${PX},${PX})?$`);

const kindList = z
  .string()
  .transform((text) => text.split(',').map((part) => part.trim()))
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
    write: z.boolean().default(false),
    yes: z.boolean().default(false),
    meant: z.boolean().default(false),
    evidence: z.boolean().default(false),
    grades: z.string().min(1).nullable().default(null),
    prove: z.enum(['wrong', 'likely', 'all'], '--prove is wrong, likely or all').default('likely'),
    why: z.string().min(1).nullable().default(null),
    wish: z
      .string()
      .transform((text, context) => {
        try {
          return { text, written: parseWish(text) };
        } catch (error) {
          if (!(error instanceof SyntaxError)) throw error;
          context.addIssue({ code: 'custom', message: `--wish ${error.message}` });
          return z.NEVER;
        }
      })
      .nullable()
      .default(null),
    at: z
      .string()
      .regex(SPOT, '--at is a spot of the page in CSS px: X,Y or X,Y,W,H, like 300,120 or 300,120,40,20')
      .transform((text) => {
        const [x, y, width = 0, height = 0] = text.split(',').map(Number);
        return { x: x!, y: y!, width, height };
      })
      .nullable()
      .default(null),
  })
  .refine(
    ({ at, wish, why }) => at === null || (wish === null && why === null),
    '--at is a question of its own: leave out --wish and --why',
  )
  .refine(
    ({ at, format }) => at === null || format === 'text' || format === 'json',
    '--at is answered as text or as json: leave out --format',
  )
  .refine(
    (options) => options.at === null || options['fail-on'] === null,
    '--at fails on nothing: leave out --fail-on',
  )
  .refine(
    ({ wish, why }) => wish === null || why === null,
    '--wish and --why are two questions: ask one of them',
  )
  .refine(
    ({ wish, format }) => wish === null || format === 'text' || format === 'json',
    '--wish is answered as text or as json: leave out --format',
  )
  .refine(
    ({ why, format }) => why === null || format === 'text' || format === 'json',
    '--why is told as text or as json: leave out --format',
  )
  .refine(
    (options) => options.why === null || options['fail-on'] === null,
    '--why fails on nothing: leave out --fail-on',
  )
  .refine(
    ({ engine, why, at, wish }) => engine.length === 1 || (why === null && at === null && wish === null),
    '--why, --at and --wish ask one engine: name one with --engine',
  )
  .refine(({ write, yes }) => write || !yes, '--yes says that --write need not ask: add --write')
  .refine(
    ({ write, wish, why, at }) => !write || (wish === null && why === null && at === null),
    '--write writes remedies of findings: leave out --wish, --why and --at',
  )
  .refine(
    ({ write, format, json, out }) => !write || (format === 'text' && !json && out === null),
    '--write says in words what it does: leave out --format, --json and --out',
  )
  .transform(({ json, 'fail-on': failOn, format, ...rest }) => ({
    ...rest,
    failOn,
    format: json ? ('json' as const) : format,
  }));
export type FindOptions = z.infer<typeof findOptions> & { page: string };

const sweepOptions = pageOptions
  .omit({ width: true, select: true })
  .extend({
    from: side('from', 7680).optional(),
    to: side('to', 7680).optional(),
    grades: z.string().min(1).nullable().default(null),
    widths: z
      .string()
      .regex(/^\d+-\d+$/, '--widths of a sweep is one range, like 320-1280')
      .optional(),
  })
  .refine(
    ({ from, to, widths }) => widths === undefined || (from === undefined && to === undefined),
    '--widths says the range already: leave out --from and --to',
  )
  .transform(({ from, to, widths, ...rest }) => {
    const [first, last] = widths?.split('-').map(Number) ?? [from ?? 240, to ?? 1920];
    return { ...rest, from: first!, to: last! };
  })
  .refine(({ from, to }) => from >= 100 && to <= 7680, '--widths of a sweep are from 100 to 7680')
  .refine(({ from, to }) => from < to, 'The range ends before it begins: --from must be less than --to')
  .refine(({ from, to }) => to - from <= 4000, '--from and --to are at most 4000 px apart');
export type SweepOptions = z.infer<typeof sweepOptions> & { page: string };

const atlasOptions = z.object({
  engine: z
    .string()
    .regex(ENGINE, '--engine is chromium, firefox, webkit or webdriver:NAME')
    .default('chromium'),
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

/** Options with a text that all commands on pages take. */
const TEXTS = ['height', 'engine', 'defaults', 'root', 'scripts', 'scrollbars', 'out'];
const PAGE_TEXTS = [...TEXTS, 'width', 'select'];
const SWEEP_TEXTS = [...TEXTS, 'widths', 'from', 'to', 'grades'];
const FIND_TEXTS = [...TEXTS, 'widths', 'kinds', 'fail-on', 'format', 'why', 'wish', 'at', 'prove', 'grades'];

/** Throws a Refusal that says which option is wrong and how it is written. */
export const readPageOptions = (command: string, argv: string[]): PageOptions =>
  readOptions(command, argv, pageOptions, PAGE_TEXTS, ['json']);

/** The same for `normetra find`. */
export const readFindOptions = (argv: string[]): FindOptions =>
  readOptions('find', argv, findOptions, FIND_TEXTS, ['json', 'meant', 'evidence', 'write', 'yes']);

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

const matrixOptions = pageOptions.omit({ width: true, select: true }).extend({
  engine: z.string().default('all').pipe(engineNames),
  widths: widthList,
  trial: z.string().min(1).nullable().default(null),
  /** Default styles that are columns of their own, in the first engine. */
  defaults: z
    .string()
    .default('')
    .transform((text) =>
      text
        .split(',')
        .map((part) => part.trim())
        .filter(Boolean),
    )
    .pipe(z.array(z.string()).max(6, '--defaults are 6 at most')),
});

/** The same as `readPageOptions` for `normetra matrix`. */
export const readMatrixOptions = (argv: string[]): z.infer<typeof matrixOptions> & { page: string } =>
  readOptions('matrix', argv, matrixOptions, [...TEXTS, 'widths', 'trial'], ['json']);

const onlyOptions = z.object({
  against: z.string().default('all').pipe(engineNames),
  put: z
    .string()
    .regex(/^[^{}]+\{[^{}]+\}\s*$/, "--put is one rule, like '.card { width: 300px }'")
    .nullable()
    .default(null),
  widths: widthList,
  height: side('height', 8000).default(800),
  root: z.string().min(1).nullable().default(null),
  scripts: z.enum(['hold', 'run'], '--scripts is hold or run').default('hold'),
  json: z.boolean().default(false),
  out: z.string().min(1).nullable().default(null),
});
const ONLY_TEXTS = ['against', 'put', 'widths', 'height', 'root', 'scripts', 'out'];
export type OnlyOptions = z.infer<typeof onlyOptions> & { engine: string; page: string | null };

/** Options of `normetra only`, which names an engine, and a page where there is a rule to try. */
export const readOnlyOptions = (argv: string[]): OnlyOptions => {
  const { values, positionals } = parsedOf(argv, ONLY_TEXTS, ['json']);
  const [engine, page = null, ...more] = positionals;
  if (engine === undefined || !ENGINE.test(engine) || more.length > 0)
    throw new Refusal(
      'normetra only names an engine, and a page where there is a rule to try: normetra only firefox page.html --put RULE.',
    );
  const options = checked(values, onlyOptions);
  if ((page === null) !== (options.put === null))
    throw new Refusal(
      page === null
        ? '--put is tried on a page: name one.'
        : 'There is no rule to try on the page: write one with --put.',
    );
  return { ...options, engine, page };
};

const doctorOptions = z.object({
  json: z.boolean().default(false),
  out: z.string().min(1).nullable().default(null),
  data: z.string().min(1).default('data'),
});

/** Options of `normetra doctor`, which takes no page. */
export const readDoctorOptions = (argv: string[]): z.infer<typeof doctorOptions> => {
  const { values, positionals } = parsedOf(argv, ['out', 'data'], ['json']);
  if (positionals.length > 0)
    throw new Refusal('normetra doctor takes no page: it looks at this installation. Leave it out.');
  return checked(values, doctorOptions);
};

const keepingOptions = z.object({ data: z.string().min(1).default('data') });

/** Options of the commands on what is kept, which name one file. */
export function readKeepingOptions(command: string, argv: string[]): { file: string; data: string } {
  const { values, positionals } = parsedOf(argv, ['data'], []);
  const [file, ...more] = positionals;
  if (file === undefined || more.length > 0)
    throw new Refusal(`normetra ${command} names one file: normetra ${command} FILE [--data DIR].`);
  return { ...checked(values, keepingOptions), file };
}

/** Refuses a file that could not be written, before what is to be in it is worked out. */
export async function writableFile(file: string): Promise<void> {
  const folder = dirname(resolve(file));
  const because = (why: string): Refusal =>
    new Refusal(`${file} cannot be written: ${why}. Name another file.`);
  try {
    await access(folder, constants.W_OK);
    if (!(await stat(folder)).isDirectory()) throw because(`${folder} is no folder`);
    if (await isFolder(file)) throw because('it is a folder');
    if (existsSync(file)) await access(file, constants.W_OK);
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const { code } = error as NodeJS.ErrnoException;
    throw because(
      code === 'ENOENT' || code === 'ENOTDIR'
        ? `there is no folder ${folder}`
        : code === 'EACCES' || code === 'EROFS' || code === 'EPERM'
          ? 'it may not be written to'
          : String(code),
    );
  }
}

const isFolder = (file: string): Promise<boolean> =>
  stat(file).then(
    (found) => found.isDirectory(),
    () => false,
  );

type Values = Record<string, string | boolean | undefined>;

/** A value that begins with a dash and a digit is a number, not an option: it is joined to the option before it. */
function joined(argv: readonly string[], texts: readonly string[]): string[] {
  const out: string[] = [];
  for (const word of argv) {
    const before = out.at(-1) ?? '';
    if (/^-\d/.test(word) && before.startsWith('--') && texts.includes(before.slice(2)))
      out[out.length - 1] = `${before}=${word}`;
    else out.push(word);
  }
  return out;
}

function parsedOf(
  argv: string[],
  texts: readonly string[],
  flags: readonly string[],
): { values: Values; positionals: string[] } {
  const options = Object.fromEntries([
    ...texts.map((name) => [name, { type: 'string' as const }]),
    ...flags.map((name) => [name, { type: 'boolean' as const }]),
  ]) as Record<string, { type: 'string' | 'boolean' }>;
  return parsedArguments({ args: joined(argv, texts), allowPositionals: true, options }) as {
    values: Values;
    positionals: string[];
  };
}

function checked<T>(values: Values, schema: z.ZodType<T>): T {
  const parsed = schema.safeParse(values);
  if (!parsed.success) throw new Refusal(`${parsed.error.issues[0]?.message}.`);
  return parsed.data;
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
