/** Declarations that are valid, win, and do nothing: each with the reason, by the "applies to" of its property's definition. */
import type { Analysis } from '../analysis.ts';
import { boxAbove, layoutOf } from '../boxes/formatting-contexts.ts';
import { levelOf, type Level } from '../boxes/flow.ts';
import { isReplaced, refusal } from '../boxes/kinds.ts';
import { labelOf } from '../reading/labels.ts';
import { childrenOf, usedText } from '../boxes/tree.ts';
import { candidates } from '../css/cascade/candidates.ts';
import { resolve } from '../css/cascade/cascade.ts';
import type { Source } from '../css/cascade/styles.ts';
import { declaredOf } from './sizing/declared.ts';
import {
  hasPercent,
  isAuto,
  isIndefinite,
  heightLadder,
  ladderSentence,
} from './sizing/percentage-definiteness.ts';
import { sizeAccount } from './sizing/size.ts';
import { neverSticks } from './positioned/sticky.ts';

export interface Inert {
  property: string;
  value: string;
  source: Source;
  why: string;
}

interface Place {
  analysis: Analysis;
  element: number;
  kind: string;
  level: Level;
  position: string;
  /** How the box itself lays out what is in it, and how the box around it does. */
  own: string;
  outer: string;
  above: number;
  value: (property: string) => string;
}

interface Rule {
  properties: RegExp;
  /** Why the declaration does nothing; null: it has an effect. */
  why: (place: Place, property: string, value: string) => string | null;
}

const isSet = (value: string): boolean => !/^(auto|initial|none|normal)$/i.test(value);
const inlineLevel = ({ level }: Place): boolean => level === 'inline' || level === 'atom';
const named = ({ analysis, above }: Place): string =>
  above < 0 ? 'the page' : labelOf(analysis.reading, above);

const RULES: Rule[] = [
  {
    properties: /^position$/,
    why: ({ analysis, element }, _, value) =>
      value === 'sticky' ? (neverSticks(analysis, element)?.why ?? null) : null,
  },
  {
    properties: /^(top|right|bottom|left)$/,
    why: ({ position }, property, value) =>
      position === 'static' && isSet(value)
        ? `${property} moves positioned boxes only, and this one is static (CSS 2.2 §9.3.2)`
        : null,
  },
  {
    properties: /^(right|bottom)$/,
    why: (place, property, value) => {
      const other = property === 'right' ? 'left' : 'top';
      if (place.position !== 'relative' || !isSet(value) || !isSet(place.value(other))) return null;
      const rtl = property === 'right' && usedText(place.analysis.reading, 'direction', place.above) === 'rtl';
      return rtl ? null : `${other} goes before it in a relatively positioned box (CSS 2.2 §9.4.3)`;
    },
  },
  {
    properties: /^z-index$/,
    why: ({ position, outer, kind }, _, value) =>
      isSet(value) && position === 'static' && outer !== 'flex' && outer !== 'grid' && kind !== 'root'
        ? 'z-index orders positioned boxes and flex and grid items only (CSS 2.2 §9.9.1)'
        : null,
  },
  {
    properties: /^float$/,
    why: ({ outer, position }, _, value) =>
      value === 'none'
        ? null
        : outer === 'flex' || outer === 'grid'
          ? `float does nothing on a ${outer} item (${outer === 'flex' ? 'Flexbox 1 §3' : 'Grid 2 §4'})`
          : position === 'absolute' || position === 'fixed'
            ? 'an absolutely positioned box does not float (CSS 2.2 §9.7)'
            : null,
  },
  {
    properties: /^clear$/,
    why: (place, _, value) =>
      value !== 'none' &&
      (place.level !== 'block' || place.outer === 'flex' || place.outer === 'grid') &&
      place.level !== 'float' &&
      place.kind !== 'inline'
        ? 'clear applies to block-level boxes in flow (CSS 2.2 §9.5.2)'
        : null,
  },
  {
    properties: /^vertical-align$/,
    why: (place, _, value) =>
      value !== 'baseline' && !inlineLevel(place) && place.kind !== 'table-cell' && place.level !== 'part'
        ? 'vertical-align applies to inline-level boxes and table cells (CSS 2.2 §10.8.1)'
        : null,
  },
  {
    properties: /^(width|height|(min|max)-(width|height))$/,
    why: ({ kind, analysis, element }, property, value) => {
      if (isAuto(value) || /^(none|0(px)?)$/i.test(value)) return null;
      const size = property.endsWith('width') ? 'width' : 'height';
      const refused = refusal(kind as never, size);
      if (refused) return refused;
      const lost = sizeAccount(analysis, element, size === 'width' ? 'x' : 'y').lost.find(
        (entry) => entry.property === property && entry.box === element,
      );
      if (lost) return lost.why;
      if (!hasPercent(value) || !isIndefinite(analysis, element, size === 'width' ? 'x' : 'y', value))
        return null;
      return property === 'height'
        ? ladderSentence(heightLadder(analysis, element))
        : 'a percentage of a height that is not known counts for nothing (CSS 2.2 §10.7)';
    },
  },
  {
    properties: /^margin-(top|bottom)$/,
    why: ({ kind, level, outer, position }, property, value) => {
      if (/^0(px)?$/i.test(value)) return null;
      const refused = refusal(kind as never, 'vertical margins');
      if (refused) return refused;
      const inFlow =
        level === 'block' && outer !== 'flex' && outer !== 'grid' && !/^(absolute|fixed)$/.test(position);
      return value === 'auto' && (inFlow || level === 'float' || level === 'atom')
        ? `${property}: auto is 0 in flow: it centres nothing down the page (CSS 2.2 §10.6.3)`
        : null;
    },
  },
  {
    properties: /^margin-(left|right)$/,
    why: ({ kind, level }, property, value) =>
      /^0(px)?$/i.test(value)
        ? null
        : (refusal(kind as never, 'horizontal margins') ??
          (value === 'auto' && (level === 'float' || inlineKind(level))
            ? `${property}: auto is 0 here (CSS 2.2 §10.3)`
            : null)),
  },
  {
    properties: /^padding-(top|right|bottom|left)$/,
    why: ({ kind }, _, value) => (/^0(px)?$/i.test(value) ? null : refusal(kind as never, 'padding')),
  },
  {
    properties: /^(flex-(grow|shrink|basis))$/,
    why: (place, property) =>
      place.outer === 'flex'
        ? null
        : `${property} applies to flex items, and ${named(place)} is no flex container (Flexbox 1 §7)`,
  },
  {
    properties: /^order$/,
    why: (place, _, value) =>
      value === '0' || place.outer === 'flex' || place.outer === 'grid'
        ? null
        : `order applies to flex and grid items, and ${named(place)} is neither container (Flexbox 1 §5.4)`,
  },
  {
    properties: /^align-self$/,
    why: (place) =>
      place.outer === 'flex' || place.outer === 'grid' || /^(absolute|fixed)$/.test(place.position)
        ? null
        : `align-self applies to flex and grid items, and ${named(place)} is neither container (Box Alignment 3 §6.2)`,
  },
  {
    properties: /^grid-(row|column)-(start|end)$/,
    why: (place, property, value) =>
      value === 'auto' || place.outer === 'grid'
        ? null
        : `${property} places grid items, and ${named(place)} is no grid (Grid 2 §8)`,
  },
  {
    properties: /^(flex-direction|flex-wrap)$/,
    why: ({ own }, property) =>
      own === 'flex' ? null : `${property} applies to flex containers, and this is none (Flexbox 1 §5)`,
  },
  {
    properties: /^grid-template-(columns|rows|areas)$|^grid-auto-(flow|rows|columns)$/,
    why: ({ own }, property, value) =>
      own === 'grid' || value === 'none'
        ? null
        : `${property} applies to grid containers, and this is none (Grid 2 §7)`,
  },
  {
    properties: /^(align-items|justify-items|justify-content)$/,
    why: ({ own }, property, value) => {
      if (value === 'normal') return null;
      if (property === 'justify-items')
        return own === 'grid' ? null : 'justify-items applies to grid containers (Box Alignment 3 §7.1)';
      return own === 'flex' || own === 'grid'
        ? null
        : `${property} applies to flex and grid containers, and this is neither (Box Alignment 3)`;
    },
  },
  {
    properties: /^align-content$/,
    why: ({ own, value: of }, _, value) =>
      own === 'flex' && of('flex-wrap') === 'nowrap' && value !== 'normal'
        ? 'with flex-wrap: nowrap there is one line, which fills the container (Flexbox 1 §8.4)'
        : null,
  },
  {
    properties: /^(row|column)-gap$/,
    why: ({ own, analysis, element }, property, value) =>
      own === 'flex' ||
      own === 'grid' ||
      value === 'normal' ||
      isSet(usedText(analysis.reading, 'column-count', element) || 'auto') ||
      isSet(usedText(analysis.reading, 'column-width', element) || 'auto')
        ? null
        : `${property} applies to flex, grid and multi-column containers (Box Alignment 3 §8)`,
  },
  {
    properties: /^overflow-(x|y)$/,
    why: ({ kind }, property, value) =>
      kind === 'inline' && value !== 'visible'
        ? `${property} applies to block containers, not to inline boxes (CSS Overflow 3 §3.1)`
        : null,
  },
  {
    properties: /^(transform|text-indent|text-align|box-sizing)$/,
    why: ({ kind, analysis, element }, property, value) =>
      kind === 'inline' &&
      isSet(value) &&
      property !== 'text-indent' &&
      !(property === 'text-align' && holdsBlocks(analysis, element)) &&
      !/^(start|left|inherit)$/.test(value)
        ? `${property} does not apply to inline boxes`
        : null,
  },
  {
    properties: /^text-overflow$/,
    why: ({ analysis, element, kind, own }, _, value) => {
      if (value === 'clip') return null;
      if (kind === 'inline')
        return 'text-overflow applies to block containers, not to inline boxes (CSS Overflow 3 §5)';
      if (own === 'flex' || own === 'grid')
        return `text-overflow applies to block containers, and this is a ${own} container (CSS Overflow 3 §5)`;
      const { reading } = analysis;
      if (!/hidden|clip|auto|scroll/.test(usedText(reading, 'overflow', element).split(' ')[0]!))
        return 'text-overflow acts where the box clips its overflow, and overflow is visible here (CSS Overflow 3 §5)';
      return /nowrap|pre$/.test(usedText(reading, 'white-space', element)) ||
        /\d/.test(usedText(reading, '-webkit-line-clamp', element))
        ? null
        : 'text-overflow acts on a line that sticks out, and these lines wrap (CSS Overflow 3 §5)';
    },
  },
  {
    properties: /^border-spacing$/,
    why: ({ analysis, element }) =>
      usedText(analysis.reading, 'border-collapse', element) === 'collapse'
        ? 'border-spacing counts in the separated model, and the borders collapse here (CSS 2.2 §17.6.1)'
        : null,
  },
  {
    properties: /^(border-collapse|table-layout|caption-side)$/,
    why: ({ analysis, element, kind, value: of }, property, value) => {
      const display = usedText(analysis.reading, 'display', element);
      if (property === 'table-layout' && value === 'fixed' && /table$/.test(display) && isAuto(of('width')))
        return 'table-layout: fixed needs a width: with auto the columns are sized by their cells (CSS 2.2 §17.5.2)';
      return property === 'table-layout' && value !== 'auto' && !/table$/.test(display) && kind !== 'table'
        ? 'table-layout applies to tables'
        : null;
    },
  },
  {
    properties: /^object-fit$/,
    why: ({ analysis, element }) =>
      isReplaced(analysis.reading, element) ? null : 'object-fit applies to replaced elements (Images 3 §5.5)',
  },
  {
    properties: /^aspect-ratio$/,
    why: ({ value: of, kind, analysis, element }, _, value) => {
      if (value === 'auto') return null;
      if (kind === 'inline') return 'aspect-ratio does not apply to inline boxes (Sizing 4 §5.1)';
      const fixed = (property: string) =>
        !isAuto(of(property)) &&
        !isIndefinite(analysis, element, property === 'height' ? 'y' : 'x', of(property));
      return fixed('width') && fixed('height')
        ? 'width and height are both set and go before it (Sizing 4 §5.1)'
        : null;
    },
  },
  {
    properties: /^border-(top|right|bottom|left)-width$/,
    why: ({ value: of }, property, value) => {
      const style = of(property.replace('width', 'style'));
      return /^(none|hidden|initial)$/.test(style) && !/^(0(px)?|medium|initial)$/.test(value)
        ? `there is no line: ${property.replace('width', 'style')} is none (Backgrounds 3 §3.3)`
        : null;
    },
  },
];

/** Whether what is in an inline box has lines of its own, and inherits how they are aligned. */
const holdsBlocks = (analysis: Analysis, element: number): boolean =>
  childrenOf(analysis.tree, element).some(
    (child) => analysis.tree.kinds[child] !== 'inline' || holdsBlocks(analysis, child),
  );

const byProperty = new Map<string, Rule[]>();

function rulesFor(property: string): Rule[] {
  let cached = byProperty.get(property);
  if (!cached) byProperty.set(property, (cached = RULES.filter(({ properties }) => properties.test(property))));
  return cached;
}

const inlineKind = (level: Level): boolean => level === 'inline' || level === 'atom';

/** In the order of the style sheets, of the properties asked for: what some declaration asks for and this kind of box, in this place, does not take. */
export function inertOf(
  analysis: Analysis,
  element: number,
  asked: Iterable<string> = candidates(analysis.styles, element).keys(),
): Inert[] {
  const { tree, styles, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (kind === 'none' || kind === 'contents') return [];
  const above = boxAbove(tree, element);
  const place: Place = {
    analysis,
    element,
    kind,
    level: levelOf(tree, element),
    position: usedText(reading, 'position', element) || 'static',
    own: layoutOf(tree, element),
    outer: above < 0 ? 'flow' : layoutOf(tree, above),
    above,
    value: (property) => declaredOf(analysis, element, property).value,
  };
  const out: Inert[] = [];
  for (const property of asked) {
    const resolution = resolve(styles, element, property);
    const { winner, from, value } = resolution;
    if (!winner || from !== 'declared') continue;
    for (const rule of rulesFor(property)) {
      const why = rule.why(place, property, value);
      if (why) {
        out.push({ property, value, source: winner.source, why });
        break;
      }
    }
  }
  return together(out);
}

/** Sides of one declaration with one reason are told once. */
function together(list: Inert[]): Inert[] {
  const out = new Map<string, Inert>();
  for (const inert of list) {
    const { sheet, line, column, property } = inert.source;
    const key = `${sheet}:${line}:${column}:${property}:${inert.why.replace(inert.property, '')}`;
    const cached = out.get(key);
    if (cached) cached.property = `${cached.property}, ${inert.property}`;
    else out.set(key, { ...inert });
  }
  return [...out.values()];
}
