/**
 * Presentational hints: attributes that count as author declarations of specificity zero before all sheets
 * (HTML §15, CSS Cascade 5 §6.5).
 */
export interface Hint {
  property: string;
  value: string;
  attribute: string;
}

/** What the hints of an element can depend on besides its own attributes. */
export interface HintContext {
  tag: string;
  /** An element of SVG: its presentation attributes are hints as well (SVG 2 §6.6). */
  svg: boolean;
  /** Name of the engine, for where it does not follow the standard. */
  engine: string;
  attribute: (name: string) => string | null;
  /** The closest table's attribute, for parts of it (`cellpadding`, `border`, `rules`). */
  table: (name: string) => string | null;
}

/** HTML §2.3.4.4 rules for parsing dimension values: px, a percentage, or null for none. */
function dimension(value: string | null): string | null {
  const match = value === null ? null : /^[\t\n\f\r ]*(\d+(?:\.\d+)?)(%?)/.exec(value);
  return match ? `${Number(match[1])}${match[2] || 'px'}` : null;
}

const nonZero = (value: string | null): string | null =>
  value && Number.parseFloat(value) === 0 ? null : value;

function integer(value: string | null): number | null {
  const match = value === null ? null : /^[\t\n\f\r ]*([-+]?\d+)/.exec(value);
  return match ? Number(match[1]) : null;
}

/** What of a table has hints by attributes of the table. */
export const OF_TABLE = new Set(['td', 'th', 'tr', 'thead', 'tbody', 'tfoot', 'colgroup']);

/** Attributes of a table by which they have them. */
export const FOR_PARTS = ['border', 'bordercolor', 'cellpadding', 'rules'];

const SIZED = new Set(['img', 'iframe', 'embed', 'object', 'video', 'marquee']);
const SPACED = new Set(['img', 'object', 'embed', 'marquee', 'iframe', 'input']);
const CELLS = new Set(['td', 'th']);
const TABLE_PARTS = new Set(['thead', 'tbody', 'tfoot', 'tr', 'td', 'th', 'col', 'colgroup']);
const FONT_SIZES = ['x-small', 'small', 'medium', 'large', 'x-large', 'xx-large', 'xxx-large'];

/** Presentation attributes of SVG that name a property the accounts follow, with whether a bare number is px. */
const SVG_ATTRIBUTES: Record<string, boolean> = {
  'font-size': true,
  'letter-spacing': true,
  'word-spacing': true,
  'font-family': false,
  'font-weight': false,
  'font-style': false,
  opacity: false,
  visibility: false,
  display: false,
  overflow: false,
  direction: false,
  'writing-mode': false,
  color: false,
  filter: false,
};
const SVG_SIZED = new Set(['svg', 'rect', 'image', 'foreignObject']);

function svgHints(tag: string, attribute: Attribute, out: Hint[]): void {
  const hint = (name: string, value: string, ...properties: string[]) => {
    for (const property of properties) out.push({ property, value, attribute: name });
  };
  const withUnit = (value: string) =>
    /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(value) ? `${Number(value)}px` : value;
  for (const [name, isLength] of Object.entries(SVG_ATTRIBUTES)) {
    const value = attribute(name)?.trim();
    if (!value) continue;
    if (name === 'overflow') hint(name, value, 'overflow-x', 'overflow-y');
    else hint(name, isLength ? withUnit(value) : value, name);
  }
  if (SVG_SIZED.has(tag))
    for (const name of ['width', 'height']) {
      const value = attribute(name)?.trim();
      if (value) hint(name, withUnit(value), name);
    }
}

export function hintsOf({ tag, svg, engine, attribute, table }: HintContext): Hint[] {
  const out: Hint[] = [];
  if (svg) {
    svgHints(tag, attribute, out);
    return out;
  }
  const hint = (name: string, value: string | null, ...properties: string[]) => {
    if (value !== null) for (const property of properties) out.push({ property, value, attribute: name });
  };
  const length = (name: string, ...properties: string[]) =>
    hint(name, dimension(attribute(name)), ...properties);
  const image = tag === 'input' && attribute('type')?.toLowerCase() === 'image';

  if (SIZED.has(tag) || image) {
    length('width', 'width');
    length('height', 'height');
  }
  if (tag === 'img' || tag === 'video' || tag === 'canvas' || image) {
    const number = (name: string): number | null => {
      const value = attribute(name);
      if (tag === 'canvas') return integer(value);
      const size = dimension(value);
      return size?.endsWith('px') ? Number.parseFloat(size) : null;
    };
    const [width, height] = [number('width'), number('height')];
    if (width !== null && height !== null) hint('width', `auto ${width} / ${height}`, 'aspect-ratio');
  }
  // Chromium gives all inputs the space that the standard gives those of images (HTML §15.4.3).
  if (SPACED.has(tag) && (tag !== 'input' || image || engine === 'chromium')) {
    length('hspace', 'margin-left', 'margin-right');
    length('vspace', 'margin-top', 'margin-bottom');
  }
  if (SPACED.has(tag) && (tag !== 'input' || image)) {
    const align = attribute('align')?.toLowerCase() ?? '';
    if (align === 'left' || align === 'right') {
      hint('align', align, 'float');
      hint('align', 'top', 'vertical-align');
    }
    const vertical: Record<string, string> = {
      top: 'top',
      texttop: 'text-top',
      absmiddle: 'middle',
      abscenter: 'middle',
      bottom: 'baseline',
      baseline: 'baseline',
      middle: '-webkit-baseline-middle',
    };
    if (vertical[align]) hint('align', vertical[align]!, 'vertical-align');
    const isFramed = tag === 'img' || tag === 'object' || image;
    const border = isFramed ? attribute('border') : null;
    const width = integer(border) ?? -1;
    if (border !== null && (width >= 0 || engine === 'chromium')) {
      hint('border', `${Math.max(0, width)}px`, ...sides('width'));
      hint('border', 'solid', ...sides('style'));
    }
  }
  const frame = tag === 'iframe' ? attribute('frameborder') : null;
  // An error counts as 0 (HTML §15.4.3).
  if (frame !== null && (integer(frame) ?? 0) === 0) hint('frameborder', '0px', ...sides('width'));
  if (tag === 'table') tableHints(hint, length, attribute, engine);
  if (OF_TABLE.has(tag)) ruledHints(hint, tag, table, engine);
  if (CELLS.has(tag)) cellHints(hint, attribute, table, engine);
  if (TABLE_PARTS.has(tag)) {
    if (tag === 'col' || tag === 'colgroup') length('width', 'width');
    if (!CELLS.has(tag)) length('height', 'height');
    const valign = attribute('valign')?.toLowerCase() ?? '';
    if (['top', 'middle', 'bottom', 'baseline'].includes(valign)) hint('valign', valign, 'vertical-align');
    hint('bgcolor', attribute('bgcolor'), 'background-color');
    alignHint(hint, attribute);
  }
  if (/^(div|h[1-6]|p|caption|legend)$/.test(tag)) {
    if (tag === 'caption' && attribute('align')?.toLowerCase() === 'bottom')
      hint('align', 'bottom', 'caption-side');
    else if (tag !== 'legend') alignHint(hint, attribute, /^h[1-6]$/.test(tag));
  }
  if (tag === 'hr') ruleHints(hint, length, attribute, engine);
  if (tag === 'body') {
    const margin = (names: string[], property: string) => {
      const name = names.find((text) => dimension(attribute(text)) !== null);
      if (name) hint(name, dimension(attribute(name)), property);
    };
    // Chromium takes those of one side for both, and those of the others for none.
    const [bottom, right] =
      engine === 'chromium' ? ['topmargin', 'leftmargin'] : ['bottommargin', 'rightmargin'];
    margin(['marginheight', 'topmargin'], 'margin-top');
    margin(['marginheight', bottom], 'margin-bottom');
    margin(['marginwidth', 'leftmargin'], 'margin-left');
    margin(['marginwidth', right], 'margin-right');
    hint('bgcolor', attribute('bgcolor'), 'background-color');
    hint('text', attribute('text'), 'color');
  }
  if (tag === 'font') {
    hint('color', attribute('color'), 'color');
    hint('face', attribute('face'), 'font-family');
    const size = attribute('size');
    const number = /^[\t\n\f\r ]*([-+]?)(\d+)/.exec(size ?? '');
    if (number) {
      const step = number[1] ? 3 + Number(number[1] + number[2]) : Number(number[2]);
      hint('size', FONT_SIZES[Math.min(7, Math.max(1, step)) - 1]!, 'font-size');
    }
  }
  if (tag === 'br') {
    const clear = attribute('clear')?.toLowerCase() ?? '';
    if (clear === 'left' || clear === 'right') hint('clear', clear, 'clear');
    else if (clear === 'all' || clear === 'both') hint('clear', 'both', 'clear');
  }
  if (/^(ol|ul|li)$/.test(tag)) {
    const types: Record<string, string> = {
      '1': 'decimal',
      a: 'lower-alpha',
      A: 'upper-alpha',
      i: 'lower-roman',
      I: 'upper-roman',
    };
    const type = attribute('type');
    if (type !== null)
      hint(
        'type',
        types[type] ?? (/^(none|disc|circle|square)$/i.test(type) ? type.toLowerCase() : null),
        'list-style-type',
      );
  }
  if (tag === 'pre' && attribute('wrap') !== null) hint('wrap', 'pre-wrap', 'white-space');
  const wrap = tag === 'textarea' ? attribute('wrap')?.toLowerCase() : undefined;
  if (wrap === 'off' || (wrap !== undefined && engine === 'chromium')) {
    hint('wrap', wrap === 'off' ? 'pre' : 'pre-wrap', 'white-space');
    if (engine === 'chromium') hint('wrap', wrap === 'off' ? 'normal' : 'break-word', 'overflow-wrap');
  }
  const dir = attribute('dir')?.toLowerCase();
  if (dir === 'rtl' || dir === 'ltr') hint('dir', dir, 'direction');
  if (attribute('hidden') !== null && attribute('hidden') !== 'until-found' && tag !== 'embed')
    hint('hidden', 'none', 'display');
  return out;
}

const sides = (part: string): string[] =>
  ['top', 'right', 'bottom', 'left'].map((side) => `border-${side}-${part}`);

type Add = (name: string, value: string | null, ...properties: string[]) => void;
type Attribute = (name: string) => string | null;

/** `plain`: the hint moves lines alone, not blocks (HTML §15.3.3). */
function alignHint(hint: Add, attribute: Attribute, plain = false): void {
  const align = attribute('align')?.toLowerCase() ?? '';
  if (plain && ['left', 'right', 'center', 'justify'].includes(align))
    return hint('align', align, 'text-align');
  const values: Record<string, string> = {
    left: '-webkit-left',
    right: '-webkit-right',
    center: '-webkit-center',
    middle: '-webkit-center',
    justify: 'justify',
  };
  if (values[align]) hint('align', values[align]!, 'text-align');
}

type Sides = [top: boolean, right: boolean, bottom: boolean, left: boolean];
const ALL: Sides = [true, true, true, true];
const ROWS: Sides = [true, false, true, false];
const COLUMNS: Sides = [false, true, false, true];

/** Sides of a table that `frame` draws a border on. */
const FRAMES: Record<string, Sides> = {
  void: [false, false, false, false],
  above: [true, false, false, false],
  below: [false, false, true, false],
  hsides: ROWS,
  lhs: [false, false, false, true],
  rhs: [false, true, false, false],
  vsides: COLUMNS,
  box: ALL,
  border: ALL,
};
const RULES = new Set(['none', 'groups', 'rows', 'cols', 'all']);

/** px of a table's border; what is no number counts as 1. */
function borderPx(border: string | null): number {
  if (border === null) return 0;
  const width = integer(border) ?? 1;
  return width < 0 ? 1 : width;
}

const rulesOf = (attribute: Attribute): string | null => {
  const rules = attribute('rules')?.toLowerCase() ?? '';
  return RULES.has(rules) ? rules : null;
};

const chosen = (part: string, which: Sides): string[] => sides(part).filter((_, i) => which[i]);

/** HTML §15.3.8 Tables. */
function tableHints(
  hint: Add,
  length: (name: string, ...p: string[]) => void,
  attribute: Attribute,
  engine: string,
): void {
  hint('width', nonZero(dimension(attribute('width'))), 'width');
  length('height', 'height');
  const spacing = dimension(attribute('cellspacing'));
  if (spacing?.endsWith('px'))
    hint('cellspacing', `${Math.floor(Number.parseFloat(spacing))}px`, 'border-spacing');
  const border = attribute('border');
  const frame = FRAMES[attribute('frame')?.toLowerCase() ?? ''];
  const rules = rulesOf(attribute);
  if (border !== null) hint('border', `${borderPx(border)}px`, ...sides('width'));
  else if (frame && engine === 'chromium') hint('frame', '1px', ...sides('width'));
  if (frame) {
    hint('frame', engine === 'chromium' ? 'solid' : 'outset', ...chosen('style', frame));
    hint('frame', 'hidden', ...sides('style').filter((_, i) => !frame[i]));
  } else if (borderPx(border) > 0)
    hint('border', attribute('bordercolor') ? 'solid' : 'outset', ...sides('style'));
  else if (rules) hint('rules', 'hidden', ...sides('style'));
  const align = attribute('align')?.toLowerCase();
  if (align === 'left' || align === 'right') hint('align', align, 'float');
  if (align === 'center') hint('align', 'auto', 'margin-left', 'margin-right');
  hint('bgcolor', attribute('bgcolor'), 'background-color');
  if (rules) hint('rules', 'collapse', 'border-collapse');
}

/** Lines that a table's `rules` draw in it; between rows by the standard on these, in Chromium on their cells. */
function ruledHints(hint: Add, tag: string, table: Attribute, engine: string): void {
  const rules = rulesOf(table);
  if (!rules) return;
  const areRowsOfCells = engine === 'chromium';
  const ofCells: Record<string, Sides | undefined> = {
    all: ALL,
    cols: COLUMNS,
    ...(areRowsOfCells && { rows: ROWS }),
  };
  const ofGroups = rules === 'groups' ? (tag === 'colgroup' ? COLUMNS : ROWS) : null;
  const ofRows = rules === 'rows' && !areRowsOfCells ? ROWS : null;
  const which = CELLS.has(tag) ? ofCells[rules] : tag === 'tr' ? ofRows : ofGroups;
  if (!which) return;
  hint('rules', '1px', ...chosen('width', which));
  hint('rules', 'solid', ...chosen('style', which));
}

function cellHints(hint: Add, attribute: Attribute, table: Attribute, engine: string): void {
  hint('width', nonZero(dimension(attribute('width'))), 'width');
  hint('height', nonZero(dimension(attribute('height'))), 'height');
  if (attribute('nowrap') !== null) hint('nowrap', 'nowrap', 'white-space');
  const written = table('cellpadding');
  // Chromium takes what is no number for 0.
  const padding = engine === 'chromium' && written ? Math.max(0, integer(written) ?? 0) : integer(written);
  if (padding !== null && padding >= 0)
    hint('cellpadding', `${padding}px`, 'padding-top', 'padding-right', 'padding-bottom', 'padding-left');
  if (borderPx(table('border')) > 0 && !rulesOf(table)) {
    hint('border', '1px', ...sides('width'));
    hint('border', table('bordercolor') ? 'solid' : 'inset', ...sides('style'));
  }
}

/** HTML §15.3.12 The hr element. */
function ruleHints(
  hint: Add,
  length: (name: string, ...p: string[]) => void,
  attribute: Attribute,
  engine: string,
): void {
  length('width', 'width');
  const align = attribute('align')?.toLowerCase();
  if (align === 'left') {
    hint('align', '0px', 'margin-left');
    hint('align', 'auto', 'margin-right');
  } else if (align === 'right') {
    hint('align', 'auto', 'margin-left');
    hint('align', '0px', 'margin-right');
  } else if (align === 'center') hint('align', 'auto', 'margin-left', 'margin-right');
  const color = attribute('color');
  const solid = attribute('noshade') !== null || color !== null;
  if (solid) hint(color !== null ? 'color' : 'noshade', 'solid', ...sides('style'));
  // The standard colours the rule's text, from which its borders take theirs; Chromium its borders and background.
  if (engine === 'chromium')
    hint(color !== null ? 'color' : 'noshade', color ?? (solid ? 'gray' : null), 'background-color');
  else hint('color', color, 'color');
  const size = integer(attribute('size'));
  if (engine === 'chromium' && attribute('size') !== null && (size ?? 0) < 1)
    hint('size', '0px', 'border-bottom-width');
  if (size !== null && size >= 1) {
    // The standard gives a solid rule borders of half its size; Chromium keeps its own and sets the height.
    if (solid && engine !== 'chromium') hint('size', `${size / 2}px`, ...sides('width'));
    else if (size === 1) hint('size', '0px', 'border-bottom-width');
    else hint('size', `${size - 2}px`, 'height');
  }
}
