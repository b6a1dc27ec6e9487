/** What of an installation is there, as a document: `normetra: "doctor/1"`. */
import { z } from 'zod';

const engine = z.object({
  /** As `--engine` takes it. */
  name: z.string(),
  title: z.string(),
  version: z.string().nullable(),
  /** Its program, or the address of its WebDriver. */
  place: z.string().nullable(),
  /** ms from nothing to a page that measures. */
  startMs: z.number().int().nullable(),
  /** Device px to a CSS px. */
  ratio: z.number().nullable(),
  /** CSS px that a scrollbar takes; 0: it lies over what it scrolls. */
  scrollbar: z.number().nullable(),
  /** Why it cannot be had; null: it can. */
  why: z.string().nullable(),
  /** The line that installs it on Debian; '': it is not installed here. */
  install: z.string(),
});

export const doctorDocumentSchema = z.object({
  normetra: z.literal('doctor/1'),
  version: z.string(),
  node: z.string(),
  /** Whether the application is built, so that it can be served. */
  built: z.boolean(),
  engines: z.array(engine),
  /** What the system takes for a family of fonts; null: it cannot be asked. */
  fonts: z.array(z.object({ family: z.string(), font: z.string().nullable() })),
  database: z.object({
    kind: z.enum(['embedded', 'server']),
    /** Its folder, or its address without the password. */
    place: z.string(),
    /** Whether it is there, or can be made when it is needed. */
    usable: z.boolean(),
    why: z.string().nullable(),
  }),
});
export type DoctorDocument = z.infer<typeof doctorDocumentSchema>;

function engineText(state: DoctorDocument['engines'][number]): string {
  const { name, title, version, place, startMs, ratio, scrollbar, why, install } = state;
  if (why !== null)
    return ` - ${name.padEnd(10)} ${why}${install && !why.includes(install) ? ` (${install})` : ''}`;
  const bars = scrollbar === 0 ? 'scrollbars over the page' : `scrollbars ${scrollbar} px`;
  return ` + ${name.padEnd(10)} ${title} ${version}, ${place}; starts in ${(startMs! / 1000).toFixed(1)} s, ratio ${ratio}, ${bars}`;
}

export function doctorText({ version, node, built, engines, fonts, database }: DoctorDocument): string {
  const width = Math.max(...fonts.map(({ family }) => family.length));
  return [
    `Normetra ${version}, Node ${node.replace(/^v/, '')}`,
    'Engines',
    ...engines.map(engineText),
    'Fonts that stand for a family',
    ...fonts.map(({ family, font }) =>
      font === null
        ? ` - ${family.padEnd(width)} cannot be asked: there is no fc-match (apt-get install fontconfig)`
        : ` ${font === family ? '+' : '·'} ${family.padEnd(width)} ${font}`,
    ),
    'Database',
    ` ${database.usable ? '+' : '-'} ${database.kind === 'embedded' ? 'embedded, in ' : 'PostgreSQL at '}${database.place}${database.why ? `: ${database.why}` : ''}`,
    'Application',
    built ? ' + built' : ' - not built yet: npm start builds it; the command line needs no build',
  ].join('\n');
}
