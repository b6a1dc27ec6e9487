/** What depends on default styles, blamed and pinned down: each pin is laid over a copy and measured, as every remedy is. */
import type { Analysis } from '../analysis.ts';
import { pathOf } from '../boxes/label.ts';
import { pxOf, usedText } from '../boxes/tree.ts';
import { entryText } from '../defaults/profile.ts';
import { differences } from '../trials/moved.ts';
import { byPx, isPinned, offOf, pinning, type Dependence } from './defaults.ts';
import type { Suspect } from './finding.ts';
import { detectAll } from './index.ts';
import { keyOf, type Blame, type Culprit, type Measure, type ProvedRemedy } from './prove.ts';

export interface Pinning {
  /** The page as rendered, and under the other defaults. */
  rendered: Analysis;
  under: Analysis;
  suspect: Suspect;
  dependence: Dependence;
  /** The page under the other defaults and more edits. */
  measure: Measure;
}

export async function blameDefaults(given: Pinning): Promise<Blame> {
  const pin = await pinned(given);
  return { culprits: culpritsOf(given), remedies: pin ? [pin] : [], also: [] };
}

function culpritsOf({ rendered: { reading }, suspect: { subject }, dependence }: Pinning): Culprit[] {
  const size = pxOf(usedText(reading, 'font-size', subject)) || 16;
  return byPx(dependence.differences).map((one) => ({
    element: subject,
    path: pathOf(reading, subject),
    property: one.property,
    px: offOf(one, size),
    rule: 'default',
    source: {
      origin: 'browser',
      sheet: '',
      line: 0,
      column: 0,
      selector: reading.strings[reading.tag[subject]!] ?? '',
      property: one.property,
      value: entryText(one.a),
    },
    because: `no rule of the page says anything of its ${one.property}`,
  }));
}

const known = new WeakMap<Analysis, Set<string>>();
/** What is found on a page, looked for once for all of its pins. */
function foundOn(analysis: Analysis): Set<string> {
  const keys = known.get(analysis) ?? new Set(detectAll(analysis).map((found) => keyOf(analysis, found)));
  known.set(analysis, keys);
  return keys;
}

/** The rule that gives the boxes under the other defaults what they have as rendered; null: it does not, or brings more. */
async function pinned({ rendered, under, dependence, measure }: Pinning): Promise<ProvedRemedy | null> {
  const sheet = rendered.sources.plan.sheets.findLast(
    ({ form, file }) => form === 'file' && !file.startsWith('('),
  )?.file;
  if (sheet === undefined) return null;
  const edit = pinning(dependence, sheet);
  if (edit.change.do !== 'rule') return null;
  const after = await measure([edit]);
  if (!after || !isPinned(rendered, after, dependence)) return null;
  // What helps must bring nothing that neither of the two had.
  const had = [foundOn(rendered), foundOn(under)];
  const isNew = (key: string) => !had.some((keys) => keys.has(key));
  if (detectAll(after).some((found) => found.meant === '' && isNew(keyOf(after, found)))) return null;
  const { counts, largest } = differences(under.tree, after.tree);
  const { selector, declarations } = edit.change;
  return {
    words: `pin it down in ${sheet}`,
    edits: [edit],
    shown: declarations.map(({ property, value }) => ({ selector, property, value, was: '' })),
    widths: [after.reading.viewport.width],
    short: [],
    proved: true,
    sideEffects: { moved: counts.moved, resized: counts.resized + counts.wrapped, largest },
  };
}
