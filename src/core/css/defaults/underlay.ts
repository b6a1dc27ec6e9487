/**
 * A profile laid under a page: a style sheet in the lowest layer of the author's, so that all the page's own rules win
 * (CSS Cascade 5 §6.4.4). It says only what differs from what the engine gives by itself.
 */
import { differencesOf, entryOf, entryText, type Mode, type Profile } from './profile.ts';

/** Attributes that are presentational hints for a property (HTML §15): elements that have one keep what it says. */
const HINTS: [RegExp, string[]][] = [
  [/^margin/, ['align', 'hspace', 'vspace', 'marginwidth', 'marginheight', 'topmargin', 'leftmargin']],
  [/^(width|height)$/, ['width', 'height', 'size', 'cols', 'rows']],
  [/^border-.*-(width|style)$/, ['border', 'frame', 'rules']],
  [/^(text-align|vertical-align|float|clear)$/, ['align', 'valign', 'clear']],
  [/^white-space$/, ['nowrap', 'wrap']],
  [/^font-(size|family)$/, ['size', 'face']],
  [/^display$/, ['hidden']],
  [/^direction$/, ['dir']],
  [/^list-style/, ['type']],
];
/** Of cells, hints that stand on their table. */
const TABLE_HINTS: [RegExp, string[]][] = [
  [/^padding/, ['cellpadding']],
  [/^border-/, ['border', 'rules']],
];

/** What no style sheet can give: the inside of controls and what has no box of its own. */
const CLOSED = new Set([
  'option',
  'option/1',
  'optgroup',
  'optgroup/1',
  'source',
  'track',
  'area',
  'param',
  'map',
]);
/** Properties that the engine fixes for some elements whatever a sheet says. */
const FIXED: Record<string, RegExp> = {
  'input[type=hidden]': /^display$/,
  br: /./,
  wbr: /./,
  html: /^(display|position|float)$/,
};

/** The selector of an element as its defaults are told apart. */
export function selectorOfKey(key: string): string {
  const input = /^(input|button)\[type=(.*)\]$/.exec(key);
  if (input) {
    const [, tag, type] = input;
    if (type === 'text') return `${tag}:is([type="text" i], :not([type]))`;
    return `${tag}[type="${type}" i]`;
  }
  const nested = /^(ul|ol)\/(\d)$/.exec(key);
  if (nested) {
    const lists = ':is(ul, ol, menu, dir) ';
    const [, tag, depth] = nested;
    return `${lists.repeat(Number(depth))}${tag}${depth === '2' ? '' : `:not(${lists.repeat(Number(depth) + 1)}${tag})`}`;
  }
  if (key === 'summary/1') return 'details[open] > summary';
  if (key === 'option/1' || key === 'optgroup/1') return `select[multiple] ${key.replace('/1', '')}`;
  return key;
}

const without = (list: readonly string[]): string => list.map((name) => `:not([${name}])`).join('');

function guarded(key: string, property: string): string {
  const selector = selectorOfKey(key);
  const hints = HINTS.filter(([of]) => of.test(property)).flatMap(([, names]) => names);
  const guards = without(hints.filter((name) => !(name === 'type' && /^(input|button)/.test(key))));
  const cell = /^t[dh]$/.test(key)
    ? TABLE_HINTS.filter(([of]) => of.test(property)).flatMap(([, names]) => names)
    : [];
  const tables = cell.map((name) => `:not(table[${name}] ${key})`).join('');
  return selector + guards + tables;
}

export interface Underlay {
  css: string;
  /** What could not be laid under. */
  left: { key: string; property: string }[];
}

const LAYER = 'normetra-defaults';

/** `own`: what the engine gives by itself. */
export function underlay(engineProfile: Profile, wanted: Profile, mode: Mode): Underlay {
  const rules = new Map<string, string[]>();
  const left: Underlay['left'] = [];
  for (const { key, property, b } of differencesOf(engineProfile, wanted, mode, () => true)) {
    if (CLOSED.has(key) || FIXED[key]?.test(property)) {
      left.push({ key, property });
      continue;
    }
    const selector = guarded(key, property);
    const list = rules.get(selector) ?? [];
    list.push(`${property}: ${entryText(b)}`);
    // A border that gets a style gets the width that goes with it: without one there was none to be different.
    const side = /^border-(\w+)-style$/.exec(property)?.[1];
    const width = side ? entryOf(wanted, mode, key, `border-${side}-width`) : null;
    if (width) list.push(`border-${side}-width: ${entryText(width)}`);
    rules.set(selector, list);
  }
  const text = [...rules].map(([selector, list]) => `${selector} { ${list.join('; ')} }`).join('\n');
  return { css: `@layer ${LAYER} {\n${text}\n}`, left };
}

/** A style sheet of somebody's own as the lowest layer, whatever the mode. */
export function layeredBoth(css: string): Record<Mode, string> {
  const text = `@layer ${LAYER} {\n${css}\n}`;
  return { standards: text, quirks: text };
}

/** A profile laid under pages of either mode. */
export const underlays = (engineProfile: Profile, wanted: Profile): Record<Mode, string> => ({
  standards: underlay(engineProfile, wanted, 'standards').css,
  quirks: underlay(engineProfile, wanted, 'quirks').css,
});
