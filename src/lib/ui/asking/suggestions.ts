/** What may be wished for a box, in the language of wishes, with its own numbers: to be taken as it is, or changed. */
import type { BoxAccount } from '$core/accounts/box.ts';
import type { PickedBox } from './wishes.svelte.ts';
import type { RawReading } from '$core/reading/reading.ts';

export interface Suggestion {
  text: string;
  /** How it is shown: with names for paths. */
  words: string;
  /** Whether its number is to be changed before it is asked. */
  isNumber: boolean;
}

const rounded = (value: number): number => Math.round(value);

/** Whether some text lies in a box or in what lies in it. */
function hasText({ texts, parent }: RawReading, element: number): boolean {
  for (let at = 0; at + 3 < texts.length; at += 4 + texts[at + 3]! * 4) {
    if (texts[at + 2] === 1) continue;
    for (let owner = texts[at]!; owner >= element; owner = parent[owner]!) if (owner === element) return true;
  }
  return false;
}

/** `before`: the box that was picked before this one. */
export function suggestionsFor(box: BoxAccount, reading: RawReading, before: PickedBox | null): Suggestion[] {
  const { scrolls, parent, count } = reading;
  const out: Suggestion[] = [];
  const add = (text: string, isNumber = false, words = text): void => {
    out.push({ text, isNumber, words });
  };
  const { width, height } = box.areas.rect;
  const siblings = Array.from({ length: count }, (_, i) => i).filter((i) => parent[i] === parent[box.element]);
  const at = siblings.indexOf(box.element);
  const scrollsInside = Array.from({ length: scrolls.length / 5 }, (_, i) => scrolls[i * 5]).includes(
    box.element,
  );
  if (Math.abs(width - height) > 0.5 && Math.max(width, height) < 3 * Math.min(width, height)) add('square');
  if (hasText(reading, box.element)) {
    add('one line');
    add('whole text');
  }
  add(`${rounded(width)} wide`, true);
  add(`${rounded(height)} tall`, true);
  // Who picks one box after another has both in mind.
  if (before && before.path !== box.path)
    for (const relation of ['as wide as', 'as tall as', 'left flush with', 'top flush with'])
      add(`${relation} ${before.path}`, false, `${relation} ${before.label}, picked before`);
  if (siblings.length > 1) {
    const neighbour = at < siblings.length - 1 ? 'the next one' : 'the one before it';
    add(`as wide as ${neighbour}`);
    add(`as tall as ${neighbour}`);
    add(`16 ${at < siblings.length - 1 ? 'above' : 'below'} ${neighbour}`, true);
    add(`not over ${neighbour}`);
  }
  add('centred in what is around it');
  add('left flush with what is around it');
  if (scrollsInside || box.element === 0) add('no scroll');
  return out;
}
