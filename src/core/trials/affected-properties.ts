/** What edits of declarations can change in a reading besides layout, so that no more than that need be read again. */
import type { Changed } from '../reading/reading.ts';
import type { Edit } from './edit.ts';

const INSETS = ['top', 'right', 'bottom', 'left', 'inset'];

/** Properties that change themselves alone, with the names under which readings hold them. */
const NARROW: Record<string, readonly string[]> = {
  border: ['border-width'],
  inset: INSETS,
  gap: ['row-gap', 'column-gap'],
  flex: ['flex-grow', 'flex-shrink', 'flex-basis'],
  'flex-flow': ['flex-direction', 'flex-wrap'],
  color: ['color', 'background-color'],
  'letter-spacing': [],
  'word-spacing': [],
  'text-indent': [],
};
for (const side of ['top', 'right', 'bottom', 'left']) {
  NARROW[`margin-${side}`] = ['margin'];
  NARROW[`padding-${side}`] = ['padding'];
  NARROW[side] = INSETS;
  for (const part of ['', '-width', '-style']) NARROW[`border-${side}${part}`] = ['border-width'];
}
for (const name of (
  'margin padding border-width width height min-width min-height max-width max-height box-sizing clear row-gap column-gap ' +
  'flex-grow flex-shrink flex-basis flex-direction flex-wrap align-items align-content align-self justify-items ' +
  'justify-content justify-self order z-index vertical-align text-align white-space opacity background-color transform ' +
  'visibility overflow aspect-ratio grid-template-columns grid-template-rows grid-row-start grid-row-end ' +
  'grid-column-start grid-column-end'
).split(' '))
  NARROW[name] = [name];

/** The names under which a reading holds what a declaration of a property can change besides layout; null: anything. */
export const namesOf = (property: string): readonly string[] | null => NARROW[property] ?? null;

/** What a reading can hold other values of by these edits in the place of those; null: anything can be another. */
export function affectedProperties(before: readonly Edit[], after: readonly Edit[]): Changed | null {
  const out = new Set<string>();
  for (const [some, others] of [
    [before, after],
    [after, before],
  ] as const)
    for (const edit of some) {
      if (others.includes(edit)) continue;
      const { change } = edit;
      if (change.do !== 'change' && change.do !== 'mute' && change.do !== 'add') return null;
      const names = change.at.kind === 'rule' && !edit.widths ? namesOf(change.property) : null;
      if (!names) return null;
      for (const name of names) out.add(name);
    }
  return { properties: [...out], elements: null };
}
