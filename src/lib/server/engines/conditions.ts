/** Conditions that one engine meets and others do not, found by asking the engines, and what a rule under one does in each. */
import { differences } from '../../../core/compare/reading-diff.ts';
import type { OnlyDocument } from '../../../core/reports/only.ts';
import { decodeHtml } from '../ingest/encoding.ts';
import { withText } from '../ingest/files.ts';
import type { Headless } from './headless.ts';
import type { PageSource } from './source.ts';

export type EngineCondition = OnlyDocument['conditions'][number];

/** Prefixes that an engine gives to what is not standard, and that no other takes up. */
const OWN_PREFIX: Record<string, RegExp> = {
  firefox: /^-moz-/,
  webkit: /^-(apple|webkit)-/,
  chromium: /^-(internal|webkit)-/,
};

/**
 * Conditions of `@supports` (CSS Conditional 3 §2) that `only` meets and none of `others` does: its own prefixed properties first,
 * then by name. Every property that the engine lists is asked about, with its initial value.
 */
export async function conditionsOf(only: Headless, others: readonly Headless[]): Promise<EngineCondition[]> {
  const listed = await only.initialValues();
  const isTaken = await only.supports(listed);
  const candidates = listed.filter((_, n) => isTaken[n]);
  const elsewhere = await Promise.all(others.map((engine) => engine.supports(candidates)));
  const prefix = OWN_PREFIX[only.engine];
  return candidates
    .filter((_, n) => elsewhere.every((list) => !list[n]))
    .map(([property, value]) => ({
      condition: `(${property}: ${value})`,
      property,
      isPrefixed: prefix?.test(property) ?? property.startsWith('-'),
    }))
    .sort(
      (a, b) =>
        Number(b.isPrefixed) - Number(a.isPrefixed) ||
        a.condition.length - b.condition.length ||
        (a.condition < b.condition ? -1 : 1),
    );
}

/** Where a style element of ours goes: before the end of the head, or of the document. */
function withRule(html: string, css: string): string {
  const at = /<\/head\s*>/i.exec(html)?.index ?? html.length;
  return `${html.slice(0, at)}<style>${css}</style>${html.slice(at)}`;
}

const sourceWith = (source: PageSource, css: string): PageSource => ({
  ...source,
  file: async (path, target) => {
    const file = await source.file(path, target);
    if (!file || file.path !== source.entry) return file;
    return withText(file, withRule(decodeHtml(file.bytes).text, css));
  },
});

/**
 * What a rule under a condition does to a page in each engine, at each width: boxes that are elsewhere, or of another size, than
 * under an empty style element in the same place.
 */
export async function effectsOf(
  engines: readonly Headless[],
  source: PageSource,
  css: string,
  { widths, height, scripts }: { widths: readonly number[]; height: number; scripts: 'hold' | 'run' },
): Promise<OnlyDocument['effects']> {
  const out: OnlyDocument['effects'] = [];
  for (const engine of engines)
    for (const width of widths) {
      const [before, after] = await Promise.all(
        ['', css].map(async (text) => {
          const opened = await engine.openSource(sourceWith(source, text), { width, height }, scripts);
          const analysis = await opened.measure();
          await opened.close();
          return analysis;
        }),
      );
      const { list, largest } = differences(before!.tree, after!.tree);
      out.push({ engine: engine.engine, width, boxes: list.length, largest });
    }
  return out;
}
