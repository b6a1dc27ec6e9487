/** What of a page depends on default styles: measured as rendered and under others, each pin proved. */
import {
  byPx,
  dependence,
  detectBetween,
  isPinned,
  offOf,
  pinning,
  type Dependence,
} from '../../../core/findings/defaults.ts';
import { pathOf } from '../../../core/boxes/label.ts';
import type { Profile } from '../../../core/defaults/profile.ts';
import { entryText } from '../../../core/defaults/profile.ts';
import { pxOf, usedText } from '../../../core/boxes/tree.ts';
import { detectAll } from '../../../core/findings/index.ts';
import { keyOf, type Blame } from '../../../core/findings/prove.ts';
import type { Analysis } from '../../../core/analysis.ts';
import type { Suspect } from '../../../core/findings/finding.ts';
import { differences } from '../../../core/trials/moved.ts';
import type { Opened } from './headless.ts';

export interface Beneath {
  /** The same page as rendered. */
  plain: Opened;
  own: Profile;
  other: Profile;
}

export interface Depending {
  suspect: Suspect;
  blame: Blame;
  under: Analysis;
}

/** `opened`: the page under the other defaults, shown at the same width. */
export async function dependingOn(opened: Opened, { plain, own, other }: Beneath): Promise<Depending[]> {
  const rendered = await plain.measure();
  const under = await opened.measure();
  const found = detectBetween(rendered, under, dependence(rendered, own, other), other.title);
  const sheet = rendered.sources.plan.sheets.findLast(
    ({ form, file }) => form === 'file' && !file.startsWith('('),
  );
  const out: Depending[] = [];
  for (const { suspect, dependence: one } of found) {
    const remedy = sheet ? await proved(opened, rendered, under, one, sheet.file) : null;
    out.push({
      suspect,
      under,
      blame: { culprits: culpritsOf(rendered, suspect, one), remedies: remedy ? [remedy] : [] },
    });
  }
  await opened.lay([]);
  return out;
}

function culpritsOf(
  { reading }: Analysis,
  { subject }: Suspect,
  { differences: list }: Dependence,
): Blame['culprits'] {
  const size = pxOf(usedText(reading, 'font-size', subject)) || 16;
  return byPx(list).map(({ property, a }) => ({
    element: subject,
    path: pathOf(reading, subject),
    property,
    px: offOf(
      list.find((one) => one.property === property)!,
      size,
    ),
    rule: 'default',
    source: {
      origin: 'browser',
      sheet: '',
      line: 0,
      column: 0,
      selector: reading.strings[reading.tag[subject]!] ?? '',
      property,
      value: entryText(a),
    },
    because: `no rule of the page says anything of its ${property}`,
  }));
}

/** The rule that gives the boxes under the other defaults what they have as rendered; null: it does not. */
async function proved(
  opened: Opened,
  rendered: Analysis,
  under: Analysis,
  one: Dependence,
  sheet: string,
): Promise<Blame['remedies'][number] | null> {
  const edit = pinning(one, sheet);
  const { failed } = await opened.lay([edit]);
  if (failed.length > 0) return null;
  const after = await opened.measure();
  if (!isPinned(rendered, after, one) || edit.change.do !== 'rule') return null;
  // What helps must bring nothing that neither of the two had.
  const had = new Set([rendered, under].flatMap((at) => detectAll(at).map((found) => keyOf(at, found))));
  if (detectAll(after).some((found) => found.meant === '' && !had.has(keyOf(after, found)))) return null;
  const { counts, largest } = differences(under.tree, after.tree);
  const { selector, declarations } = edit.change;
  return {
    words: `pin it down in ${sheet}`,
    edits: [edit],
    shown: declarations.map(({ property, value }) => ({ selector, property, value, was: '' })),
    widths: [after.reading.viewport.width],
    proved: true,
    sideEffects: { moved: counts.moved, resized: counts.resized + counts.wrapped, largest },
  };
}
