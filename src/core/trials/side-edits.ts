/** Other sizes for box sides, said where the author said them: in the same unit, and as short as it can be said. */
import { dimensionOf } from '../css/values/lengths.ts';
import { expand } from '../css/cascade/shorthands.ts';
import { collapseShorthands, collapseSides, type Written } from '../css/cascade/collapse-shorthands.ts';
import { components } from '../css/syntax/tokens.ts';

/** One side as it is: `padding-left`, its used px, and the declaration that has the say; null: nobody declared it. */
export interface Side {
  longhand: string;
  used: number;
  winner: { key: string; property: string; value: string; important: boolean } | null;
}

export type SideEdit =
  /** The declaration of this key gets another value. */
  | { do: 'set'; key: string; value: string }
  /** More declarations in the block of the declaration of this key; null: of the element's own. */
  | { do: 'add'; beside: string | null; list: Written[] };

const SIDES = ['top', 'right', 'bottom', 'left'] as const;
const FOUR: Record<string, readonly string[]> = {
  margin: SIDES.map((side) => `margin-${side}`),
  padding: SIDES.map((side) => `padding-${side}`),
  inset: SIDES,
  'border-width': SIDES.map((side) => `border-${side}-width`),
};

const rounded = (value: number): string => String(Number(value.toFixed(4)));

/** `px` CSS px in the unit in which `was` is written, which came to `used` px: 14 as `1rem` where 28 was `2rem`. */
export function inUnit(was: string, used: number, px: number): string {
  const dimension = dimensionOf(was);
  if (px === 0) return '0';
  if (!dimension || dimension.number === 0 || Math.abs(used) < 0.05) return `${rounded(px)}px`;
  return `${rounded((px * dimension.number) / used)}${dimension.unit}`;
}

/** Another value for a declaration, with some of its longhands changed; null: one value of it cannot say that. */
export function withLonghands(
  property: string,
  value: string,
  wanted: Readonly<Record<string, string>>,
): string | null {
  if (property in wanted) return wanted[property]!;
  const parts = expand(property, value);
  if (!parts) return null;
  const four = FOUR[property];
  if (four) {
    const result = four.map((name) => wanted[name] ?? parts[name] ?? '0');
    return collapseSides(result as [string, string, string, string]);
  }
  const widths = Object.keys(parts).filter((name) => /^border-.*-width$/.test(name));
  const [first] = widths;
  if (!first || widths.some((name) => wanted[name] === undefined || wanted[name] !== wanted[first]))
    return null;
  const tokens = components(value);
  const at = tokens.indexOf(parts[first]!);
  return at < 0 ? `${wanted[first]} ${value}` : tokens.with(at, wanted[first]!).join(' ');
}

/** What must be written so that each of `sides` becomes `px` wide. */
export function sideEdits(sides: readonly Side[], px: number): SideEdit[] {
  const groups = new Map<string, Side[]>();
  for (const side of sides) {
    const key = side.winner?.key ?? '';
    groups.set(key, [...(groups.get(key) ?? []), side]);
  }
  const out: SideEdit[] = [];
  const longhands: Written[] = [];
  for (const [key, group] of groups) {
    const { winner } = group[0]!;
    if (!winner) {
      longhands.push(
        ...group.map(({ longhand }) => ({ property: longhand, value: inUnit('', 0, px), important: false })),
      );
      continue;
    }
    const parts = expand(winner.property, winner.value);
    const wanted = Object.fromEntries(
      group.map(({ longhand, used }) => [longhand, inUnit(parts?.[longhand] ?? winner.value, used, px)]),
    );
    const value = withLonghands(winner.property, winner.value, wanted);
    if (value !== null) out.push({ do: 'set', key, value });
    else {
      const list = Object.entries(wanted).map(([property, text]) => ({
        property,
        value: text,
        important: winner.important,
      }));
      out.push({ do: 'add', beside: key, list: collapseShorthands(list) });
    }
  }
  if (longhands.length > 0) out.push({ do: 'add', beside: null, list: collapseShorthands(longhands) });
  return out;
}
