/** Why two engines give a property of a box other values, or measure the same thing otherwise: causes with a name. */
import { declaredOf } from '../../accounts/sizing/declared.ts';
import { droppedOf } from '../../css/cascade/candidates.ts';
import type { Source } from '../../css/cascade/styles.ts';
import { computedText, inside, usedText } from '../../boxes/tree.ts';
import { fontKey } from '../../reading/contents.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { px } from '../../geometry/rect.ts';
import type { Analysis } from '../../analysis.ts';
import type { Pair } from './pair.ts';

export const CAUSE_KINDS = [
  'default',
  'dropped',
  'condition',
  'font',
  'scrollbar',
  'control',
  'rounding',
  'rule',
  'unexplained',
] as const;
export type CauseKind = (typeof CAUSE_KINDS)[number];

export interface EngineCause {
  kind: CauseKind;
  /** By which two are the same one. */
  key: string;
  /** What differs, in words without the engines: `margin-top of h1`. */
  what: string;
  /** What it is in each, in words. */
  first: string;
  second: string;
  property: string;
  /** The declaration behind it. */
  source: Source | null;
}

const cause = (kind: CauseKind, what: string, given: Partial<EngineCause> = {}): EngineCause => ({
  kind,
  what,
  first: '',
  second: '',
  property: '',
  source: null,
  ...given,
  key: `${kind} ${given.key ?? `${what} ${given.first ?? ''} ${given.second ?? ''}`}`,
});

export const ROUNDING = cause(
  'rounding',
  'Fractions of a px, which engines round to 1/64, to 1/60 or to whole px',
);
export const SCROLLBAR = (pair: Pair): EngineCause => {
  const room = ({ reading }: Analysis): string =>
    `${px(reading.viewport.width - reading.document.clientWidth)} px`;
  return cause('scrollbar', 'The room that scrollbars take', {
    key: 'scrollbar',
    first: room(pair.first),
    second: room(pair.second),
  });
};
export const UNEXPLAINED = cause('unexplained', 'Not explained');

/** The control's own look: its size, or what it holds. */
export function controlCause({ first }: Pair, box: number): EngineCause {
  const tag = tagOf(first.reading, box);
  const type = tag === 'input' ? (attributeOf(first, box, 'type') ?? 'text') : '';
  return cause('control', `The engine’s own size of ${tag}${type ? `[type=${type}]` : ''}`, {
    key: `${tag} ${type}`,
  });
}

function attributeOf({ reading }: Analysis, box: number, name: string): string | null {
  const { attributes, strings } = reading;
  for (let i = 0; i + 2 < attributes.length; i += 3)
    if (attributes[i] === box && strings[attributes[i + 1]!] === name)
      return strings[attributes[i + 2]!] ?? null;
  return null;
}

/** Two engines lay the same thing out by different rules. */
export const ruleCause = (what: string, first: string, second: string): EngineCause =>
  cause('rule', what, { key: what, first, second });

/** The first family of a list: the one that is looked for first. */
const familyOf = (list: string): string => (list.split(',')[0] ?? '').trim().replace(/^["']|["']$/g, '');

/** The font of a box: another one, or the same with other measures. */
export function fontCause({ first, second, toSecond }: Pair, box: number): EngineCause {
  const other = toSecond.get(box) ?? box;
  const [a, b] = [
    usedText(first.reading, 'font-family', box),
    usedText(second.reading, 'font-family', other),
  ].map(familyOf);
  const measures = (analysis: Analysis, element: number): string => {
    const font = inside(analysis.tree).fonts.get(fontKey(analysis.reading, element));
    const size = usedText(analysis.reading, 'font-size', element);
    if (!font) return size;
    return `${size}: ascent ${px(font.ascent)}, descent ${px(font.descent)}, line ${px(font.line)}, “0” ${px(font.zero)}`;
  };
  const [here, there] = [measures(first, box), measures(second, other)];
  // Letters of one font can be set closer or further apart though all that is measured of it is the same.
  if (a === b && here === there)
    return cause('font', `How wide the letters of ${a} are set`, { property: 'font-family' });
  return cause('font', a === b ? `Measures of the font ${a}` : `The font: ${a}, or ${b}`, {
    key: `${a} ${b}`,
    first: here,
    second: there,
    property: 'font-family',
  });
}

const isSame = (a: Source, b: Source): boolean =>
  a.sheet === b.sheet && a.line === b.line && a.column === b.column && a.property === b.property;

const placeOf = ({ sheet, line }: Source): string => (line > 0 ? `${sheet}:${line}` : sheet);

/**
 * Why a property of a box has two values. null: the same declaration gives both, by what it is relative to or by rounding.
 * `box`: as the first engine counts them.
 */
export function propertyCause(
  { first, second, toSecond }: Pair,
  box: number,
  property: string,
): EngineCause | null {
  const other = toSecond.get(box);
  if (other === undefined) return null;
  const [here, there] = [declaredOf(first, box, property), declaredOf(second, other, property)];
  const [byBrowser, byOther] = [here, there].map(({ source }) => source.origin === 'browser');
  const values = { first: here.value, second: there.value, property };
  if (byBrowser && byOther) {
    if (here.value === there.value) return null;
    const tag = tagOf(first.reading, box);
    return cause('default', `Default ${property} of ${tag}`, { ...values, key: `${property} ${tag}` });
  }
  if (!byBrowser && !byOther && isSame(here.source, there.source)) return null;
  const drops = (analysis: Analysis, element: number, { source }: { source: Source }) =>
    droppedOf(analysis.styles, element).find((dropped) => isSame(dropped.source, source));
  const lost = byBrowser ? null : drops(second, other, here);
  const lostHere = byOther ? null : drops(first, box, there);
  const written = lost ? here : lostHere ? there : null;
  if (written)
    return cause(
      'dropped',
      `${written.source.property}: ${written.source.value} (${placeOf(written.source)})`,
      {
        key: `${placeOf(written.source)} ${written.source.property}`,
        property,
        source: written.source,
        first: lost ? here.value : `not taken: ${here.value}`,
        second: lost ? `not taken: ${there.value}` : there.value,
      },
    );
  const source = byBrowser ? there.source : here.source;
  return cause('condition', `${property} of ${labelOf(first.reading, box)} (${placeOf(source)})`, {
    ...values,
    key: `${placeOf(source)} ${property}`,
    source,
  });
}

/** Whether a property has one value in both engines, as computed or as used. */
export function hasSameValue({ first, second, toSecond }: Pair, box: number, property: string): boolean {
  const other = toSecond.get(box) ?? box;
  const value = ({ reading }: Analysis, element: number): string =>
    computedText(reading, property, element) || usedText(reading, property, element);
  return value(first, box) === value(second, other);
}
