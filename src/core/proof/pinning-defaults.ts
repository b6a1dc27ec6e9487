/** What depends on default styles, blamed and pinned down: each pin is laid over a copy and measured, as every remedy is. */
import type { Observation } from '../finding.ts';
import type { Analysis, Sources } from '../analysis.ts';
import { pathOf, tagOf } from '../reading/labels.ts';
import { pxOf, usedText } from '../boxes/tree.ts';
import { entryText } from '../css/defaults/profile.ts';
import type { SheetTarget } from '../trials/edit.ts';
import { byPx, isPinned, offOf, pinning, type Dependence } from '../rules/defaults/dependence.ts';
import { observeAll } from '../rules/index.ts';
import { keyOf } from './keys.ts';
import { sideEffectsOf } from './side-effects.ts';
import type { Blame, Culprit, Measure, ProvedRemedy } from './prover.ts';

export interface Pinning {
  /** The page as rendered, and under the other defaults. */
  rendered: Analysis;
  under: Analysis;
  observation: Observation;
  dependence: Dependence;
  /** The page under the other defaults and more edits. */
  measure: Measure;
}

export async function blameDefaults(pinning: Pinning): Promise<Blame> {
  const pin = await pinned(pinning);
  return { culprits: culpritsOf(pinning), remedies: pin ? [pin] : [], also: [] };
}

function culpritsOf({ rendered: { reading }, observation: { subject }, dependence }: Pinning): Culprit[] {
  const size = pxOf(usedText(reading, 'font-size', subject)) || 16;
  return byPx(dependence.differences).map((difference) => ({
    element: subject,
    path: pathOf(reading, subject),
    property: difference.property,
    px: offOf(difference, size),
    rule: 'default',
    source: {
      origin: 'browser',
      sheet: '',
      line: 0,
      column: 0,
      selector: tagOf(reading, subject),
      property: difference.property,
      value: entryText(difference.a),
    },
    because: `no rule of the page says anything of its ${difference.property}`,
  }));
}

const cache = new WeakMap<Analysis, Set<string>>();
/** What is found on a page, looked for once for all of its pins. */
function foundOn(analysis: Analysis): Set<string> {
  const keys = cache.get(analysis) ?? new Set(observeAll(analysis).map((found) => keyOf(analysis, found)));
  cache.set(analysis, keys);
  return keys;
}

/** So many sheets of a kind are tried. */
const MOST = 2;

/**
 * Where a rule for the whole page can be put: the last sheets of the page's own, then its last style elements, those left out
 * that hold under a condition alone or lie in a layer.
 */
function placesIn({ plan, document }: Sources): { at: SheetTarget; words: string }[] {
  const bound = new Set<number>();
  for (const { sheet, root, rule, conditions, layer } of plan.rules) {
    const depth = rule.conditions.filter(({ kind }) => kind !== 'scope').length;
    if (root !== 0 || conditions.length > depth || (layer?.length ?? 0) > (rule.layer?.length ?? 0))
      bound.add(sheet);
  }
  const free = plan.sheets.filter((_, i) => !bound.has(i)).reverse();
  const files = new Set(free.filter(({ form }) => form === 'file').map(({ file }) => file));
  const styles = document.styles.flat();
  const elements = free.flatMap(({ form, file, line, column }) => {
    const style = styles.findIndex(({ text }) => text?.line === line && text.column === column);
    return form === 'element' && file === document.path && style >= 0
      ? [{ at: { kind: 'sheet' as const, file, style }, words: `the style element in line ${line} of ${file}` }]
      : [];
  });
  return [
    ...[...files]
      .map((file) => ({ at: { kind: 'sheet' as const, file, style: -1 }, words: file }))
      .slice(0, MOST),
    ...elements.slice(0, MOST),
  ];
}

/** The rule that gives the boxes under the other defaults what they have as rendered; null: it does not, or brings more. */
async function pinned(pinning: Pinning): Promise<ProvedRemedy | null> {
  for (const place of placesIn(pinning.rendered.sources)) {
    const provedRemedy = await pinnedIn(pinning, place);
    if (provedRemedy) return provedRemedy;
  }
  return null;
}

async function pinnedIn(
  { rendered, under, dependence, measure }: Pinning,
  { at, words }: { at: SheetTarget; words: string },
): Promise<ProvedRemedy | null> {
  const edit = pinning(dependence, at);
  if (edit.change.do !== 'rule') return null;
  const after = await measure([edit]);
  if (!after || !isPinned(rendered, after, dependence)) return null;
  // What helps must bring nothing that neither of the two had.
  const had = [foundOn(rendered), foundOn(under)];
  const isNew = (key: string) => !had.some((keys) => keys.has(key));
  if (observeAll(after).some((found) => found.grade === 'wrong' && isNew(keyOf(after, found)))) return null;
  const { selector, declarations } = edit.change;
  return {
    words: `pin it down in ${words}`,
    edits: [edit],
    shown: declarations.map(({ property, value }) => ({ selector, property, value, was: '' })),
    widths: [after.reading.viewport.width],
    short: [],
    proved: true,
    sideEffects: sideEffectsOf(under, after),
  };
}
