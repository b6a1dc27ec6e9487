/**
 * Shorthands taken apart into their longhands, each shorthand by the grammar of its specification.
 * Values are taken to be valid: the engine has been asked before (see `css/cascade/plan.ts`).
 */
import { components } from '../syntax/tokens.ts';

export type Longhands = Record<string, string>;
type Expand = (value: string, parts: string[]) => Longhands | null;

export const WIDE_KEYWORDS = new Set(['initial', 'inherit', 'unset', 'revert', 'revert-layer']);

const LINE_STYLES = new Set('none hidden dotted dashed solid double groove ridge inset outset'.split(' '));
const LINE_WIDTHS = new Set(['thin', 'medium', 'thick']);
const LENGTH = /^[-+]?(\d|\.\d)|^(calc|min|max|clamp|round|mod|rem|abs|env|anchor|anchor-size)\(/i;
const isLength = (part: string): boolean => LENGTH.test(part);
const isLineWidth = (part: string): boolean => LINE_WIDTHS.has(part.toLowerCase()) || isLength(part);
const isLineStyle = (part: string): boolean => LINE_STYLES.has(part.toLowerCase());

/** One to four values given to top, right, bottom and left (CSS Box 4 §4.2). */
function fourSides(names: readonly [string, string, string, string]): Expand {
  return (_, p) => {
    const [top, right = top, bottom = top, left = right] = p;
    return { [names[0]]: top!, [names[1]]: right!, [names[2]]: bottom!, [names[3]]: left! };
  };
}

/** One or two values given to a start and an end. */
const pair =
  (first: string, second: string): Expand =>
  (_, p) => ({ [first]: p[0]!, [second]: p[1] ?? p[0]! });

const SIDE_NAMES = ['top', 'right', 'bottom', 'left'] as const;
const sideNames = (pattern: string) =>
  SIDE_NAMES.map((side) => pattern.replace('*', side)) as unknown as readonly [string, string, string, string];

/** `<line-width> || <line-style> || <color>` in any order, what is missing at its initial value. */
function line(parts: string[]): { width: string; style: string; color: string } {
  const out = { width: 'medium', style: 'none', color: 'currentcolor' };
  for (const part of parts) {
    if (isLineStyle(part)) out.style = part;
    else if (isLineWidth(part)) out.width = part;
    else out.color = part;
  }
  return out;
}

const border =
  (sides: readonly string[]): Expand =>
  (_, parts) => {
    const { width, style, color } = line(parts);
    const out: Longhands = {};
    for (const side of sides) {
      out[`border-${side}-width`] = width;
      out[`border-${side}-style`] = style;
      out[`border-${side}-color`] = color;
    }
    return out;
  };

/** CSS Flexbox 1 §7.1.1: a number alone is a grow factor with a basis of 0. */
const flex: Expand = (value, parts) => {
  const lower = value.toLowerCase();
  if (lower === 'none') return { 'flex-grow': '0', 'flex-shrink': '0', 'flex-basis': 'auto' };
  const numbers: string[] = [];
  let basis: string | null = null;
  for (const part of parts) {
    if (/^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(part) && numbers.length < 2) numbers.push(part);
    else basis = part;
  }
  return {
    'flex-grow': numbers[0] ?? '1',
    'flex-shrink': numbers[1] ?? '1',
    'flex-basis': basis ?? (numbers.length ? '0%' : 'auto'),
  };
};

const flexFlow: Expand = (_, parts) => {
  const out: Longhands = { 'flex-direction': 'row', 'flex-wrap': 'nowrap' };
  for (const part of parts) out[/^(row|column)/i.test(part) ? 'flex-direction' : 'flex-wrap'] = part;
  return out;
};

const FONT_RESET: Longhands = {
  'font-style': 'normal',
  'font-variant': 'normal',
  'font-weight': 'normal',
  'font-stretch': 'normal',
  'line-height': 'normal',
};
const SYSTEM_FONTS = new Set(['caption', 'icon', 'menu', 'message-box', 'small-caption', 'status-bar']);
const FONT_SIZES = /^(xx-small|x-small|small|medium|large|x-large|xx-large|xxx-large|larger|smaller|math)$/i;

/** CSS Fonts 4 §2.7: style, weight and the like, then size [ / line height ], then family. */
const font: Expand = (value, parts) => {
  if (SYSTEM_FONTS.has(value.toLowerCase())) return null;
  const out: Longhands = { ...FONT_RESET };
  let i = 0;
  for (; i < parts.length; i++) {
    const part = parts[i]!;
    const weight = /^\d+$/.test(part) && parts[i + 1] !== '/' && i + 1 < parts.length;
    if (FONT_SIZES.test(part) || (isLength(part) && !weight)) break;
    if (/^(bold|bolder|lighter)$/i.test(part) || weight) out['font-weight'] = part;
    else if (/^(italic|oblique)$/i.test(part)) out['font-style'] = part;
    else if (/condensed|expanded/i.test(part)) out['font-stretch'] = part;
    else if (!/^normal$/i.test(part)) out['font-variant'] = part;
  }
  out['font-size'] = parts[i] ?? 'medium';
  i++;
  if (parts[i] === '/') {
    out['line-height'] = parts[i + 1] ?? 'normal';
    i += 2;
  }
  out['font-family'] = parts.slice(i).join(' ').replace(/ , /g, ', ');
  return out;
};

const LIST_POSITIONS = new Set(['inside', 'outside']);
const listStyle: Expand = (_, parts) => {
  const out: Longhands = {
    'list-style-position': 'outside',
    'list-style-image': 'none',
    'list-style-type': 'disc',
  };
  let nones = 0;
  let typed = false;
  for (const part of parts) {
    if (LIST_POSITIONS.has(part.toLowerCase())) out['list-style-position'] = part;
    else if (part.toLowerCase() === 'none') nones++;
    else if (/^(url|image|.*gradient)\(/i.test(part)) out['list-style-image'] = part;
    else {
      out['list-style-type'] = part;
      typed = true;
    }
  }
  if (nones && !typed) out['list-style-type'] = 'none';
  return out;
};

/** The colour alone is of use here: it is the last layer's (CSS Backgrounds 3 §2.10). */
const background: Expand = (_, parts) => {
  const lastLayer = parts.slice(parts.lastIndexOf(',') + 1);
  const images = parts.filter((part) =>
    /^(url|image|image-set|cross-fade|element|paint|.*gradient)\(/i.test(part),
  );
  const keyword =
    /^(none|\/|,|repeat|repeat-x|repeat-y|no-repeat|space|round|scroll|fixed|local|top|left|right|bottom|center|cover|contain|auto|border-box|padding-box|content-box|text)$/i;
  const color = lastLayer.find((part) => !keyword.test(part) && !isLength(part) && !images.includes(part));
  return { 'background-color': color ?? 'transparent', 'background-image': images.join(', ') || 'none' };
};

const gridLine = (value: string | undefined, other: string): string =>
  value ?? (/^[a-z_-][\w-]*$/i.test(other) && !/^(auto|span)$/i.test(other) ? other : 'auto');

const slashParts = (value: string): string[] => {
  const out = [''];
  for (const part of components(value)) {
    if (part === '/') out.push('');
    else out[out.length - 1] += (out[out.length - 1] ? ' ' : '') + part;
  }
  return out;
};

const gridPair =
  (first: string, second: string): Expand =>
  (value) => {
    const [start, end] = slashParts(value);
    return { [first]: start!, [second]: gridLine(end, start!) };
  };

/** CSS Grid 2 §8.4. */
const gridArea: Expand = (value) => {
  const [rowStart, columnStart, rowEnd, columnEnd] = slashParts(value);
  const start = columnStart ?? gridLine(undefined, rowStart!);
  return {
    'grid-row-start': rowStart!,
    'grid-column-start': start,
    'grid-row-end': gridLine(rowEnd, rowStart!),
    'grid-column-end': gridLine(columnEnd, start),
  };
};

const GRID_RESET: Longhands = {
  'grid-template-rows': 'none',
  'grid-template-columns': 'none',
  'grid-template-areas': 'none',
};

/** CSS Grid 2 §7.4: rows [ / columns ], or strings of areas with the row sizes between them. */
const gridTemplate: Expand = (value, parts) => {
  if (value.toLowerCase() === 'none') return GRID_RESET;
  const [rows, columns = 'none'] = slashParts(value);
  if (!parts.some((part) => /^["']/.test(part)))
    return { ...GRID_RESET, 'grid-template-rows': rows!, 'grid-template-columns': columns };
  const areas: string[] = [];
  const sizes: string[] = [];
  for (const part of components(rows!)) {
    if (/^["']/.test(part)) {
      if (areas.length > sizes.filter((size) => !size.startsWith('[')).length) sizes.push('auto');
      areas.push(part);
    } else sizes.push(part);
  }
  if (areas.length > sizes.filter((size) => !size.startsWith('[')).length) sizes.push('auto');
  return {
    'grid-template-areas': areas.join(' '),
    'grid-template-rows': sizes.join(' '),
    'grid-template-columns': columns,
  };
};

const grid: Expand = (value, parts) => {
  const auto = { 'grid-auto-flow': 'row', 'grid-auto-rows': 'auto', 'grid-auto-columns': 'auto' };
  const flow = parts.findIndex((part) => /^auto-flow$/i.test(part));
  if (flow < 0) return { ...auto, ...gridTemplate(value, parts) };
  const [before, after = ''] = slashParts(value);
  const inRows = /auto-flow/i.test(before!);
  const text = (inRows ? before! : after).replace(/\bauto-flow\b/i, '').trim();
  const dense = /\bdense\b/i.test(text);
  const track = text.replace(/\bdense\b/i, '').trim() || 'auto';
  return {
    ...GRID_RESET,
    ...auto,
    'grid-auto-flow': `${inRows ? 'row' : 'column'}${dense ? ' dense' : ''}`,
    [inRows ? 'grid-auto-rows' : 'grid-auto-columns']: track,
    [inRows ? 'grid-template-columns' : 'grid-template-rows']: inRows ? after : before!,
  };
};

const columns: Expand = (_, parts) => {
  const out: Longhands = { 'column-width': 'auto', 'column-count': 'auto' };
  for (const part of parts) {
    if (/^\d+$/.test(part)) out['column-count'] = part;
    else if (!/^auto$/i.test(part)) out['column-width'] = part;
  }
  return out;
};

/** `<align> <justify>?`; `baseline` and overflow words belong to the position behind them. */
const place =
  (align: string, justify: string): Expand =>
  (_, parts) => {
    const words: string[] = [];
    for (const part of parts) {
      const last = words[words.length - 1];
      if (last !== undefined && /^(first|last|safe|unsafe|legacy)$/i.test(last))
        words[words.length - 1] = `${last} ${part}`;
      else words.push(part);
    }
    const second = words[1] ?? words[0]!;
    const single = words.length === 1 && /baseline/i.test(second) && justify === 'justify-content';
    return { [align]: words[0]!, [justify]: single ? 'start' : second };
  };

const outline: Expand = (_, parts) => {
  const { width, style, color } = line(parts.map((part) => (/^auto$/i.test(part) ? 'solid' : part)));
  const auto = parts.some((part) => /^auto$/i.test(part));
  return { 'outline-width': width, 'outline-style': auto ? 'auto' : style, 'outline-color': color };
};

const CORNERS = ['top-left', 'top-right', 'bottom-right', 'bottom-left'].map(
  (corner) => `border-${corner}-radius`,
) as unknown as readonly [string, string, string, string];

/** Across, and behind a slash down (Backgrounds 3 §4.1). */
const borderRadius: Expand = (value, parts) => {
  const slash = parts.indexOf('/');
  if (slash < 0) return fourSides(CORNERS)(value, parts);
  const across = fourSides(CORNERS)(value, parts.slice(0, slash))!;
  const down = fourSides(CORNERS)(value, parts.slice(slash + 1))!;
  return Object.fromEntries(CORNERS.map((name) => [name, `${across[name]} ${down[name]}`]));
};

const columnRule: Expand = (_, parts) => {
  const { width, style, color } = line(parts);
  return { 'column-rule-width': width, 'column-rule-style': style, 'column-rule-color': color };
};

const LOGICAL_BORDER_SIDES = {
  'border-block': ['block-start', 'block-end'],
  'border-inline': ['inline-start', 'inline-end'],
};

const TABLE: Record<string, Expand> = {
  margin: fourSides(sideNames('margin-*')),
  padding: fourSides(sideNames('padding-*')),
  inset: fourSides(sideNames('*')),
  'border-width': fourSides(sideNames('border-*-width')),
  'border-style': fourSides(sideNames('border-*-style')),
  'border-color': fourSides(sideNames('border-*-color')),
  'border-radius': borderRadius,
  border: border(SIDE_NAMES),
  overflow: pair('overflow-x', 'overflow-y'),
  gap: pair('row-gap', 'column-gap'),
  flex,
  'flex-flow': flexFlow,
  font,
  'list-style': listStyle,
  background,
  'grid-area': gridArea,
  'grid-row': gridPair('grid-row-start', 'grid-row-end'),
  'grid-column': gridPair('grid-column-start', 'grid-column-end'),
  'grid-template': gridTemplate,
  grid,
  columns,
  'column-rule': columnRule,
  'place-content': place('align-content', 'justify-content'),
  'place-items': place('align-items', 'justify-items'),
  'place-self': place('align-self', 'justify-self'),
  outline,
};
for (const side of [...SIDE_NAMES, 'block-start', 'block-end', 'inline-start', 'inline-end'])
  TABLE[`border-${side}`] = border([side]);
for (const [name, sides] of Object.entries(LOGICAL_BORDER_SIDES)) {
  TABLE[name] = border(sides);
  for (const part of ['width', 'style', 'color'])
    TABLE[`${name}-${part}`] = pair(`border-${sides[0]}-${part}`, `border-${sides[1]}-${part}`);
}
for (const axis of ['block', 'inline']) {
  TABLE[`margin-${axis}`] = pair(`margin-${axis}-start`, `margin-${axis}-end`);
  TABLE[`padding-${axis}`] = pair(`padding-${axis}-start`, `padding-${axis}-end`);
  TABLE[`inset-${axis}`] = pair(`inset-${axis}-start`, `inset-${axis}-end`);
}

/** Names that engines take for another property's. */
const ALIASES: Record<string, string> = {
  'word-wrap': 'overflow-wrap',
  'grid-gap': 'gap',
  'grid-row-gap': 'row-gap',
  'grid-column-gap': 'column-gap',
};
for (const name of (
  'box-sizing flex flex-basis flex-direction flex-flow flex-grow flex-shrink flex-wrap align-content align-items ' +
  'align-self justify-content order columns column-count column-gap column-width transform filter opacity'
).split(' '))
  ALIASES[`-webkit-${name}`] = name;

export const canonical = (property: string): string => ALIASES[property] ?? property;

export const isShorthand = (property: string): boolean => canonical(property) in TABLE;

/** The longhands that a shorthand sets, in their own order. Empty for a longhand. */
export function longhandsOf(property: string): string[] {
  const expand = TABLE[canonical(property)];
  if (!expand) return [];
  const sample = expand('0', ['0']) ?? expand('none', ['none']) ?? {};
  return Object.keys(sample);
}

/**
 * What a declaration gives each longhand. Null where its value cannot be taken apart (`var()` not yet
 * substituted, system fonts).
 */
export function expand(property: string, value: string): Longhands | null {
  const name = canonical(property);
  const shorthand = TABLE[name];
  if (!shorthand) return { [name]: value };
  if (WIDE_KEYWORDS.has(value.toLowerCase())) {
    const out: Longhands = {};
    for (const longhand of longhandsOf(name)) out[longhand] = value;
    return out;
  }
  if (/\bvar\(/i.test(value)) return null;
  return shorthand(value, components(value));
}
