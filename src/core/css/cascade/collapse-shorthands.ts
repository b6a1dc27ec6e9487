/** Longhands of box sides written as the shortest shorthand that says the same (CSS Box 4 §4.2; Box Alignment 3 §8). */

export interface Written {
  property: string;
  value: string;
  important: boolean;
}

const SIDES = ['top', 'right', 'bottom', 'left'] as const;

/** One to four values for top, right, bottom and left. */
export function collapseSides([top, right, bottom, left]: readonly [string, string, string, string]): string {
  if (left !== right) return `${top} ${right} ${bottom} ${left}`;
  if (top !== bottom) return `${top} ${right} ${bottom}`;
  return top === right ? top : `${top} ${right}`;
}

const shortPair = ([first, second]: readonly [string, string]): string =>
  first === second ? first : `${first} ${second}`;

interface Group {
  shorthand: string;
  longhands: readonly string[];
  write: (values: string[]) => string;
}

const sides = (shorthand: string, name: (side: string) => string): Group => ({
  shorthand,
  longhands: SIDES.map(name),
  write: (values) => collapseSides(values as [string, string, string, string]),
});

const GROUPS: Group[] = [
  sides('margin', (side) => `margin-${side}`),
  sides('padding', (side) => `padding-${side}`),
  sides('inset', (side) => side),
  sides('border-width', (side) => `border-${side}-width`),
  {
    shorthand: 'gap',
    longhands: ['row-gap', 'column-gap'],
    write: (values) => shortPair(values as [string, string]),
  },
  {
    shorthand: 'overflow',
    longhands: ['overflow-x', 'overflow-y'],
    write: (values) => shortPair(values as [string, string]),
  },
];

/** Values that a shorthand cannot take beside others. */
const WHOLE = /^(initial|inherit|unset|revert|revert-layer)$|var\(/i;

/** Declarations with all longhands of a group in them, alike in importance, made one; the others stay as they are. */
export function collapseShorthands(list: readonly Written[]): Written[] {
  let out = [...list];
  for (const { shorthand, longhands, write } of GROUPS) {
    const winners = longhands.map((name) => out.findLast(({ property }) => property === name));
    if (winners.some((written) => written === undefined)) continue;
    const found = winners as Written[];
    const [first] = found;
    const alike = found.every(
      (written) => written.important === first!.important && !WHOLE.test(written.value),
    );
    const all = found.every((written) => written.value === first!.value);
    if (!alike && !(all && found.every((written) => written.important === first!.important))) continue;
    const value = all ? first!.value : write(found.map((written) => written.value));
    const at = out.indexOf(first!);
    out = out.flatMap((written, i) =>
      i === at
        ? [{ property: shorthand, value, important: first!.important }]
        : longhands.includes(written.property)
          ? []
          : [written],
    );
  }
  return out;
}
