/**
 * Style sheets parsed from their text, so that every declaration knows its place and nothing that the
 * author wrote is lost, invalid declarations included (CSS Syntax 3 §5, CSS Nesting 1).
 */
import { lineStarts } from './source-positions.ts';
import { reparsed } from './reparse.ts';
import { isClosing, isOpening, T, tokens, type Tokens } from './tokens.ts';

/** Where a sheet's text begins in the file that holds it: lines and columns count from 1. */
export interface SheetText {
  /** The file's path in the specimen; for a style element or attribute, that of its document. */
  file: string;
  text: string;
  line: number;
  column: number;
  /** `attribute`: the text is the content of a style attribute. */
  form: 'file' | 'element' | 'attribute';
}

export type ConditionKind = 'media' | 'supports' | 'container' | 'scope' | 'starting-style';

/** A group rule around a rule. All conditions of a rule must hold for it to take part in the cascade. */
export interface Condition {
  kind: ConditionKind;
  text: string;
}

export interface Declaration {
  property: string;
  /** The value as written, without `!important` and outer white space. */
  value: string;
  important: boolean;
  /** Offsets in the sheet's text: of the property's first character, of the value's, and behind the declaration. */
  start: number;
  valueStart: number;
  end: number;
}

export interface Rule {
  /** The selector list as written. */
  prelude: string;
  /** Selector lists of the style rules around a nested one, outermost first. */
  parents: string[];
  conditions: Condition[];
  /** Path of layer names; an anonymous layer has a name that no author can write. Null: in no layer. */
  layer: string[] | null;
  declarations: Declaration[];
  start: number;
  end: number;
}

/** What fixes the order of layers: a layer statement, or the first block of a layer (CSS Cascade 5 §6.4.3). */
export interface LayerMention {
  path: string[];
  conditions: Condition[];
}

export interface Import {
  address: string;
  conditions: Condition[];
  layer: string[] | null;
  start: number;
}

/** A custom property registered with `@property` (CSS Properties and Values 1 §2). */
export interface Registration {
  name: string;
  inherits: boolean;
  initial: string | null;
}

export interface Sheet extends SheetText {
  imports: Import[];
  rules: Rule[];
  layers: LayerMention[];
  registrations: Registration[];
  /** Of what is neither a style rule nor a layer and speaks of the whole document, as `@keyframes` does: the conditions around it. */
  others: Condition[][];
  /** Group conditions in the order in which they were met, for what asks about breakpoints. */
  conditions: Condition[];
  lineStarts: number[];
}

const ANONYMOUS = '(anonymous ';

class Parser {
  readonly list: Tokens;
  at = 0;
  readonly sheet: Sheet;
  anonymous = 0;

  constructor(source: SheetText, file: string) {
    this.list = tokens(source.text);
    this.sheet = {
      ...source,
      file,
      imports: [],
      rules: [],
      layers: [],
      registrations: [],
      others: [],
      conditions: [],
      lineStarts: lineStarts(source.text),
    };
  }

  type(): number {
    return this.at < this.list.count ? this.list.type[this.at]! : T.EOF;
  }
  start(): number {
    return this.at < this.list.count ? this.list.start[this.at]! : this.sheet.text.length;
  }
  word(): string {
    return this.sheet.text.slice(this.list.start[this.at], this.list.end[this.at]);
  }
  skipSpace(): void {
    while (this.type() === T.WhiteSpace || this.type() === T.Comment) this.at++;
  }
  /** Moves behind the token at hand, and behind its block when it opens one. */
  skipComponent(): void {
    let depth = 0;
    do {
      const type = this.type();
      if (isOpening(type)) depth++;
      else if (isClosing(type)) depth--;
      this.at++;
    } while (depth > 0 && this.at < this.list.count);
  }
  text(from: number, to: number): string {
    return withoutComments(this.sheet.text.slice(from, to));
  }
}

function withoutComments(text: string): string {
  return (text.includes('/*') ? text.replace(/\/\*[\s\S]*?(\*\/|$)/g, ' ') : text).trim();
}

interface Context {
  parents: string[];
  conditions: Condition[];
  layer: string[] | null;
}

/** Sheets parsed last, by their text: a trial changes one sheet at a time, and all are asked for again. */
const parsed = new Map<string, Sheet>();
const PARSED = 64;

/** A sheet is not changed by anyone who has it: the same text in the same place is parsed once. */
export function parseSheet(source: SheetText): Sheet {
  const cached = parsed.get(source.text);
  const isSame =
    cached?.file === source.file &&
    cached.line === source.line &&
    cached.column === source.column &&
    cached.form === source.form;
  if (cached && isSame) return cached;
  const sheet = parseFrom(source);
  parsed.set(source.text, sheet);
  for (const old of parsed.keys()) {
    if (parsed.size <= PARSED) break;
    parsed.delete(old);
  }
  return sheet;
}

/** Of each sheet one that was parsed as a whole, from which others with nearly its text are made. */
const bases = new Map<string, Sheet>();
/** Below this length in characters a text is parsed as a whole faster than it is compared. */
const SHORT = 2000;

function parseFrom(source: SheetText): Sheet {
  const { file, form, line, column, text } = source;
  if (form === 'attribute' || text.length < SHORT) return parseAnew(source);
  const key = `${form} ${file} ${line} ${column}`;
  const base = bases.get(key);
  const sheet = (base && reparsed(base, source, parseAnew)) ?? parseAnew(source);
  if (!base || sheet.conditions !== base.conditions) bases.set(key, sheet);
  for (const old of bases.keys()) {
    if (bases.size <= PARSED) break;
    bases.delete(old);
  }
  return sheet;
}

function parseAnew(source: SheetText): Sheet {
  const parser = new Parser(source, source.file);
  const context: Context = { parents: [], conditions: [], layer: null };
  if (source.form === 'attribute') {
    const rule = newRule('', context, 0);
    consumeContents(parser, context, rule);
    rule.end = source.text.length;
    if (!parser.sheet.rules.includes(rule)) parser.sheet.rules.unshift(rule);
  } else {
    consumeRules(parser, context);
  }
  return parser.sheet;
}

function newRule(prelude: string, context: Context, start: number): Rule {
  return {
    prelude,
    parents: context.parents,
    conditions: context.conditions,
    layer: context.layer,
    declarations: [],
    start,
    end: start,
  };
}

/** CSS Syntax 3 §5.5.1, the top level of a sheet. */
function consumeRules(parser: Parser, context: Context): void {
  while (parser.type() !== T.EOF) {
    const type = parser.type();
    if (type === T.WhiteSpace || type === T.Comment || type === T.CDO || type === T.CDC || type === T.Semicolon)
      parser.at++;
    else if (type === T.AtKeyword) consumeAtRule(parser, context, null);
    else consumeQualifiedRule(parser, context, false);
  }
}

/** CSS Syntax 3 §5.5.3. Nested: a semicolon at the top ends what was no rule. */
function consumeQualifiedRule(parser: Parser, context: Context, nested: boolean): void {
  const start = parser.start();
  for (;;) {
    const type = parser.type();
    if (type === T.EOF) return;
    if (type === T.LeftCurly) break;
    if (type === T.RightCurly && nested) return;
    if (type === T.Semicolon && nested) {
      parser.at++;
      return;
    }
    parser.skipComponent();
  }
  const prelude = parser.text(start, parser.start());
  parser.at++;
  const rule = newRule(prelude, context, start);
  const inner: Context = { ...context, parents: [...context.parents, prelude] };
  parser.sheet.rules.push(rule);
  consumeContents(parser, inner, rule);
  rule.end = closeBlock(parser);
}

function closeBlock(parser: Parser): number {
  if (parser.type() === T.RightCurly) parser.at++;
  return parser.at > 0 ? parser.list.end[parser.at - 1]! : 0;
}

/**
 * A block's contents (CSS Syntax 3 §5.5.4). `rule` takes the declarations; null where only rules may stand.
 * Declarations behind a nested rule make a rule of their own in that place (CSS Nesting 1 §4).
 */
function consumeContents(parser: Parser, context: Context, rule: Rule | null): void {
  let current = rule;
  let interrupted = false;
  for (;;) {
    const type = parser.type();
    if (type === T.EOF || type === T.RightCurly) return;
    if (type === T.WhiteSpace || type === T.Comment || type === T.Semicolon) {
      parser.at++;
      continue;
    }
    if (type === T.AtKeyword) {
      consumeAtRule(parser, context, rule);
      interrupted = true;
      continue;
    }
    const declaration = rule ? consumeDeclaration(parser) : null;
    if (!declaration) {
      consumeQualifiedRule(parser, context, true);
      interrupted = true;
      continue;
    }
    if (interrupted && current) {
      current = { ...current, declarations: [], start: declaration.start };
      parser.sheet.rules.push(current);
      interrupted = false;
    }
    current!.declarations.push(declaration);
    current!.end = declaration.end;
  }
}

/** CSS Syntax 3 §5.5.6. Null, with nothing consumed, where a nested rule stands instead. */
function consumeDeclaration(parser: Parser): Declaration | null {
  const from = parser.at;
  const start = parser.start();
  const startsLikeOne =
    parser.type() === T.Ident || (parser.type() === T.Delim && '*_'.includes(parser.word()));
  if (!startsLikeOne) return null;
  let name = parser.word();
  parser.at++;
  if (parser.list.type[from] === T.Delim && parser.type() === T.Ident) {
    name += parser.word();
    parser.at++;
  }
  parser.skipSpace();
  if (parser.type() !== T.Colon) {
    parser.at = from;
    return null;
  }
  parser.at++;
  while (parser.type() === T.WhiteSpace) parser.at++;
  const valueStart = parser.start();
  const custom = name.startsWith('--');
  for (;;) {
    const type = parser.type();
    if (type === T.EOF || type === T.Semicolon || type === T.RightCurly) break;
    if (type === T.LeftCurly && !custom) {
      parser.at = from;
      return null;
    }
    parser.skipComponent();
  }
  const end = parser.start();
  if (parser.type() === T.Semicolon) parser.at++;
  let value = parser.text(valueStart, end);
  const important = /!\s*important$/i.exec(value);
  if (important) value = value.slice(0, important.index).trim();
  return {
    property: custom ? name : name.toLowerCase(),
    value,
    important: important !== null,
    start,
    valueStart,
    end,
  };
}

function consumeAtRule(parser: Parser, context: Context, rule: Rule | null): void {
  const start = parser.start();
  const name = parser.word().slice(1).toLowerCase();
  parser.at++;
  const preludeStart = parser.start();
  for (;;) {
    const type = parser.type();
    if (type === T.EOF || type === T.Semicolon || type === T.LeftCurly) break;
    if (type === T.RightCurly && (rule !== null || context.parents.length > 0)) break;
    parser.skipComponent();
  }
  const prelude = parser.text(preludeStart, parser.start());
  if (parser.type() !== T.LeftCurly) {
    if (parser.type() === T.Semicolon) parser.at++;
    statement(parser, context, name, prelude, start);
    return;
  }
  parser.at++;
  block(parser, context, rule, name, prelude, start);
  closeBlock(parser);
}

function statement(parser: Parser, context: Context, name: string, prelude: string, start: number): void {
  if (name === 'layer') {
    for (const path of prelude.split(',')) mentionLayer(parser, context, layerPath(context.layer, path.trim()));
  } else if (name === 'import') {
    const parsed = parseImport(parser, prelude);
    if (parsed) parser.sheet.imports.push({ ...parsed, start });
  }
}

function mentionLayer(parser: Parser, context: Context, path: string[]): void {
  parser.sheet.layers.push({ path, conditions: context.conditions });
}

function layerPath(outer: string[] | null, name: string): string[] {
  return [...(outer ?? []), ...name.split('.').map((part) => part.trim())];
}

function anonymousLayer(parser: Parser): string {
  return `${ANONYMOUS}${++parser.anonymous} of ${parser.sheet.file}:${parser.sheet.line}:${parser.sheet.column})`;
}

/** `@import <url> [layer | layer(name)]? [supports(...)]? <media-query-list>?` (CSS Cascade 5 §5). */
function parseImport(parser: Parser, prelude: string): Omit<Import, 'start'> | null {
  const match = /^(?:url\(\s*)?(?:"([^"]*)"|'([^']*)'|([^\s"')]+))\s*\)?\s*/i.exec(prelude);
  if (!match) return null;
  let rest = prelude.slice(match[0].length);
  let layer: string[] | null = null;
  const conditions: Condition[] = [];
  const named = /^layer\(([^)]*)\)\s*/i.exec(rest);
  const bare = named ? null : /^layer\b\s*/i.exec(rest);
  if (named) layer = layerPath(null, named[1]!);
  if (bare) layer = [anonymousLayer(parser)];
  rest = rest.slice((named ?? bare)?.[0].length ?? 0);
  if (/^supports\(/i.test(rest)) {
    const list = tokens(rest);
    let depth = 0;
    let i = 0;
    do {
      if (isOpening(list.type[i]!)) depth++;
      else if (isClosing(list.type[i]!)) depth--;
      i++;
    } while (depth > 0 && i < list.count);
    const inner = rest.slice('supports('.length, list.end[i - 1]! - 1).trim();
    conditions.push({ kind: 'supports', text: /^[-\w]+\s*:/.test(inner) ? `(${inner})` : inner });
    rest = rest.slice(list.end[i - 1]);
  }
  if (rest.trim()) conditions.push({ kind: 'media', text: rest.trim() });
  return { address: match[1] ?? match[2] ?? match[3] ?? '', conditions, layer };
}

const GROUPS: Record<string, ConditionKind> = {
  media: 'media',
  supports: 'supports',
  container: 'container',
  scope: 'scope',
  'starting-style': 'starting-style',
};

function block(
  parser: Parser,
  context: Context,
  rule: Rule | null,
  name: string,
  prelude: string,
  start: number,
): void {
  const kind = GROUPS[name];
  if (kind || name === 'layer') {
    const inner = { ...context };
    if (kind) {
      const condition = { kind, text: prelude };
      parser.sheet.conditions.push(condition);
      inner.conditions = [...context.conditions, condition];
      if (kind === 'scope') inner.parents = [];
    } else {
      inner.layer = prelude
        ? layerPath(context.layer, prelude)
        : [...(context.layer ?? []), anonymousLayer(parser)];
      mentionLayer(parser, context, inner.layer);
    }
    const nested = inner.parents.length > 0;
    const ownConditions =
      nested && rule ? { ...rule, ...newRule(rule.prelude, { ...inner, parents: rule.parents }, start) } : null;
    if (ownConditions) parser.sheet.rules.push(ownConditions);
    consumeContents(parser, inner, ownConditions);
    if (ownConditions) ownConditions.end = parser.start();
    return;
  }
  parser.sheet.others.push(context.conditions);
  if (name === 'property') {
    const holder = newRule('', context, start);
    consumeContents(parser, context, holder);
    const descriptor = (wanted: string) => holder.declarations.find((d) => d.property === wanted)?.value;
    parser.sheet.registrations.push({
      name: prelude,
      inherits: descriptor('inherits') === 'true',
      initial: descriptor('initial-value') ?? null,
    });
    return;
  }
  while (parser.type() !== T.EOF && parser.type() !== T.RightCurly) parser.skipComponent();
}
