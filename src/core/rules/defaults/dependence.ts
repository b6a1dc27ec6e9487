/**
 * Boxes that have their room, edges or fonts from a default that another engine or a reset gives otherwise, and that no
 * rule of the author's pins down (HTML §15.1: the suggested rendering is no more than that).
 */
import type { Observation } from '../../finding.ts';
import { observed, type Rule } from '../model.ts';
import type { Analysis } from '../../analysis.ts';
import { textLines } from '../../boxes/text-lines.ts';
import { hasBox, pxOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { defaultKeyOf } from '../../css/cascade/styles.ts';
import { differencesOf, entryText, type Difference, type Profile } from '../../css/defaults/profile.ts';
import { selectorOfKey } from '../../css/defaults/underlay.ts';
import { px } from '../../geometry/rect.ts';
import type { Edit, SheetTarget } from '../../trials/edit.ts';
import { isReplacedOrControl, boxName, visibilityOf } from '../../visibility/visibility.ts';

/** The elements of one kind that depend on defaults, and on which. */
export interface Dependence {
  key: string;
  elements: number[];
  differences: Difference[];
  /** CSS px by which a side or a size is another at most. */
  px: number;
}

/** Px below which nobody sees that something is different. */
const LEAST = 1;

/** `analysis`: of the page as rendered; `own`: what its engine gives; `other`: what something else gives. */
export function dependence(analysis: Analysis, engineProfile: Profile, other: Profile): Dependence[] {
  const out = new Map<string, Dependence>();
  for (const { element, key, size, open } of undecided(analysis, engineProfile, other)) {
    const dependence = out.get(key) ?? { key, elements: [], differences: [], px: 0 };
    out.set(key, dependence);
    dependence.elements.push(element);
    for (const difference of open) {
      if (!dependence.differences.includes(difference)) dependence.differences.push(difference);
      dependence.px = Math.max(dependence.px, offOf(difference, size));
    }
  }
  return [...out.values()].sort((a, b) => b.px * b.elements.length - a.px * a.elements.length);
}

/** For every box that is seen, the differences between two profiles that no declaration of its author decides. */
export function* undecided(
  analysis: Analysis,
  engineProfile: Profile,
  other: Profile,
): Generator<{ element: number; key: string; size: number; open: Difference[] }> {
  const { tree, reading, styles } = analysis;
  const { visible } = visibilityOf(analysis);
  const by = new Map<string, Difference[]>();
  for (const difference of differencesOf(engineProfile, other, reading.document.mode))
    by.set(difference.key, [...(by.get(difference.key) ?? []), difference]);
  for (let element = 0; element < tree.count; element++) {
    if (!visible[element] || !hasBox(tree, element)) continue;
    const key = defaultKeyOf(styles, element);
    const open = (by.get(key) ?? []).filter(
      ({ property }) => resolve(styles, element, property).winner === null,
    );
    const size = pxOf(usedText(reading, 'font-size', element)) || 16;
    if (open.length > 0) yield { element, key, size, open };
  }
}

/** CSS px by which two entries differ at a font size; 0: it is not a matter of px. */
export function offOf({ property, a, b }: Difference, size: number): number {
  if (!/^(margin|padding|border.*width|width|height|min-|max-|font-size|text-indent)/.test(property)) return 0;
  const of = ({ value, em, inherited }: Difference['a']): number =>
    inherited ? (property === 'font-size' ? size : 0) : em !== undefined ? em * size : pxOf(value);
  const off = Math.abs(of(a) - of(b));
  return Number.isFinite(off) ? off : 0;
}

/** Those that make most difference first. */
export const byPx = (list: readonly Difference[]): Difference[] =>
  [...list].sort((a, b) => offOf(b, 16) - offOf(a, 16));

/** Properties by which it is seen whether a box is as it was: as readings have them. */
const SEEN = [
  'margin',
  'padding',
  'border-width',
  'font-size',
  'line-height',
  'display',
  'white-space',
  'text-align',
];

const isSeenBy = (seen: string, { differences }: Dependence): boolean =>
  differences.some(({ property }) =>
    seen === 'border-width'
      ? /^border-.*-(width|style)$/.test(property)
      : property === seen || property.startsWith(`${seen}-`),
  );

/** Properties by which a box itself is another size; those of text count where it has some. */
const SIZING = /^(width|height|min-|max-|box-sizing|display)/;
const OF_TEXT = /^(font|line-height|white-space|letter-spacing|word-spacing|text-indent)/;

/** CSS px by which what depends on defaults makes boxes another size, or sets them off otherwise, in another reading of the same elements. */
export function shiftOf(
  a: Analysis,
  b: Analysis,
  dependence: Dependence,
  elements = dependence.elements,
): number {
  if (a.reading.count !== b.reading.count) return 0;
  let most = 0;
  const note = (off: number): void => {
    if (Number.isFinite(off)) most = Math.max(most, off);
  };
  const resizes = dependence.differences.some(({ property }) => SIZING.test(property));
  const sets = dependence.differences.some(({ property }) => OF_TEXT.test(property));
  const edges = ['margin', 'padding', 'border-width', 'font-size'].filter((seen) => isSeenBy(seen, dependence));
  for (const i of elements) {
    if (resizes || (sets && (textLines(a.tree, i) > 0 || isReplacedOrControl(a.tree, i))))
      for (const side of [2, 3])
        note(Math.abs(a.reading.rects[i * 4 + side]! - b.reading.rects[i * 4 + side]!));
    for (const property of edges) {
      const [was, is] = [a, b].map(({ reading }) => usedText(reading, property, i).split(' ').map(pxOf));
      [0, 1, 2, 3].forEach((n) => {
        const side = (list: number[]) => list[n] ?? list[n - 2] ?? list[0] ?? 0;
        note(Math.abs(side(was!) - side(is!)));
      });
    }
  }
  return most;
}

/** Whether some boxes are in another reading as they are in a first one, in size and in all that their defaults decide. */
export const isPinned = (a: Analysis, b: Analysis, dependence: Dependence): boolean =>
  a.reading.count === b.reading.count &&
  shiftOf(a, b, dependence) < LEAST / 2 &&
  dependence.elements.every((i) =>
    SEEN.filter((seen) => isSeenBy(seen, dependence)).every(
      (seen) => usedText(a.reading, seen, i) === usedText(b.reading, seen, i),
    ),
  );

/** What depends on defaults, as findings of the page under others. `title`: of these. */
export function detectBetween(
  plain: Analysis,
  under: Analysis,
  depends: readonly Dependence[],
  title: string,
): { observation: Observation; dependence: Dependence }[] {
  return depends.flatMap((dependence) => {
    const off = shiftOf(plain, under, dependence);
    if (off < LEAST) return [];
    const subject = dependence.elements.reduce((a, b) =>
      shiftOf(plain, under, dependence, [b]) > shiftOf(plain, under, dependence, [a]) ? b : a,
    );
    const first = byPx(dependence.differences)[0]!;
    const more = dependence.differences.length - 1;
    const values = `${first.property} is the browser’s ${entryText(first.a)}, and ${entryText(first.b)} there`;
    const count = dependence.elements.length;
    return [
      {
        dependence,
        observation: {
          ...observed({
            px: off,
            axis: /left|right|width|indent/.test(first.property) ? 'x' : 'y',
            subject,
            places: [subject, ...dependence.elements.filter((element) => element !== subject)],
            what: `${count === 1 ? `${boxName(under, subject)} is` : `${count} boxes like ${boxName(under, subject)} are`} up to ${px(off)} px otherwise under ${title}: ${values}${more > 0 ? `, and ${more} more` : ''}`,
            weight: Math.min(off, 10),
          }),
          rule: rule.id,
          kind: rule.kind,
          grade: 'wrong',
        },
      },
    ];
  });
}

/** The rule that pins down what some boxes have from defaults, at the end of a sheet. */
export function pinning({ key, differences }: Dependence, at: SheetTarget): Edit {
  return {
    id: `pin-${key}`,
    on: true,
    step: '',
    widths: null,
    engines: null,
    group: '',
    change: {
      do: 'rule',
      at,
      selector: selectorOfKey(key),
      declarations: differences.map(({ property, a }) => ({ property, value: entryText(a), important: false })),
    },
  };
}

/** It is seen between two readings of a page, and not in one: see `detectBetween`. */
export const rule: Rule<'defaults/dependence'> = {
  id: 'defaults/dependence',
  kind: 'defaults',
  title: 'The layout depends on default styles that differ',
  spec: ['HTML §15', 'CSS Cascade 5 §6.1'],
  why: 'No rule of the page sets a property that engines or resets give different values.',
  usual: 'Pin the value down by a rule of the page.',
  example: '<p>A paragraph with the margins that a browser gives it</p>',
  observe: () => [],
};
