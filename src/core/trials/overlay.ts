/** A trial laid over a specimen's files: the texts as they would be, and which edits found nothing to change. */
import type { SourceElement } from '../html/document.ts';
import type { Declaration } from '../css/syntax/style-sheets.ts';
import { T, tokens } from '../css/syntax/tokens.ts';
import { isOfFiles, STATES, type Change, type Edit, type NewDeclaration, type State } from './edit.ts';
import { applyPatches, type Patch } from './text-patch.ts';
import { blockOf, declarationIn, elementOf, readFiles, type Block, type Files } from './targets.ts';

export interface Overlay {
  /** Files that change, by path. */
  texts: Record<string, string>;
  patches: Record<string, Patch[]>;
  /** Edits that cannot be laid over, by their index. */
  failed: { edit: number; why: string }[];
}

export const STATE_MARK = 'data-normetra-state';

/** `edits`: those to lay over, whichever are switched on. Nothing of `texts` is changed. */
export function overlay(
  texts: Readonly<Record<string, string>>,
  edits: readonly Edit[],
  page: string,
  files: Files = readFiles(texts),
): Overlay {
  const out: Overlay = { texts: {}, patches: {}, failed: [] };
  const inlined = new Map<SourceElement, { file: string; block: Block; patches: Patch[] }>();
  const put = (file: string, patch: Patch) => (out.patches[file] ??= []).push(patch);
  edits.forEach((edit, index) => {
    const why = lay(files, edit, index, page, put, inlined);
    if (why) out.failed.push({ edit: index, why });
  });
  for (const [element, { file, block, patches }] of inlined) {
    const value = applyPatches(block.text, patches).trim();
    const last = patches.at(-1)!.edit;
    put(file, attributePatch(element, 'style', value === '' ? null : value, last));
  }
  showStates(files, edits, texts, put);
  for (const [file, patches] of Object.entries(out.patches)) {
    const text = applyPatches(texts[file] ?? '', patches);
    if (text !== texts[file]) out.texts[file] = text;
  }
  return out;
}

type Put = (file: string, patch: Patch) => void;
type Inlined = Map<SourceElement, { file: string; block: Block; patches: Patch[] }>;

/** Puts down what one edit replaces. The reason where it cannot; '' where it can. */
function lay(
  files: Files,
  { change, widths }: Edit,
  edit: number,
  page: string,
  put: Put,
  inlined: Inlined,
): string {
  switch (change.do) {
    case 'change':
    case 'mute':
    case 'add': {
      const block = blockOf(files, change.at);
      if (!block) return gone(change);
      const patches = widths
        ? limitedPatches(block, change, widths, edit)
        : declarationPatches(block, change, edit);
      if (typeof patches === 'string') return patches;
      if (block.element) {
        const patched = inlined.get(block.element) ?? { file: block.file, block, patches: [] };
        patched.patches.push(...patches);
        inlined.set(block.element, patched);
      } else
        for (const patch of patches)
          put(block.file, { ...patch, start: patch.start + block.base, end: patch.end + block.base });
      return '';
    }
    case 'rule':
      return ruleAtEnd(files, change, widths, edit, page, put);
    case 'viewport':
      return viewport(files, change, edit, put);
    case 'state':
      return elementOf(files, change.file, change.path) ? '' : gone(change);
    default:
      return markup(files, change, edit, put);
  }
}

const gone = (change: Change): string =>
  'path' in change
    ? `${change.file} has no element ${change.path} any more.`
    : 'at' in change && change.at.kind === 'rule'
      ? `${change.at.file} has no rule ${change.at.prelude} in that place any more.`
      : 'at' in change && change.at.kind === 'inline'
        ? `${change.at.file} has no element ${change.at.path} any more.`
        : 'What it changes is not there any more.';

export const declarationText = ({ property, value, important }: NewDeclaration): string =>
  `${property}: ${value}${important ? ' !important' : ''}`;

type OfBlock = Extract<Change, { do: 'change' | 'mute' | 'add' }>;

function declarationPatches(block: Block, change: OfBlock, edit: number): Patch[] | string {
  if (change.do === 'add') return [addPatch(block, declarationText(change), edit)];
  const found = declarationIn(block, change.property, change.nth);
  if (!found)
    return `${block.rule.prelude || 'The style attribute'} says nothing of ${change.property} there any more.`;
  if (change.do === 'mute') return [mutePatch(block, found, edit)];
  // What is between property and value stays as the author wrote it.
  const mark = change.important ? ' !important' : '';
  return [{ start: found.valueStart, end: trimmedEnd(block.text, found), text: change.value + mark, edit }];
}

const trimmedEnd = (text: string, { valueStart, end }: { valueStart: number; end: number }): number =>
  valueStart + text.slice(valueStart, end).trimEnd().length;

/** Where a declaration ends: before its semicolon, or behind its last letter where it has none. */
const endOf = (text: string, declaration: Declaration): number =>
  text[declaration.end] === ';' ? declaration.end : trimmedEnd(text, declaration);

/** Takes a declaration out with its semicolon, and with its line where it stands alone on it. */
function mutePatch({ text }: Block, declaration: Declaration, edit: number): Patch {
  const { start } = declaration;
  const end = endOf(text, declaration);
  const after = text[end] === ';' ? end + 1 : end;
  const lineStart = text.lastIndexOf('\n', start - 1) + 1;
  const alone = /^[ \t]*$/.test(text.slice(lineStart, start));
  const rest = /^[ \t]*\r?\n/.exec(text.slice(after));
  if (alone && rest) return { start: lineStart, end: after + rest[0].length, text: '', edit };
  return { start, end: after, text: '', edit };
}

/** Puts a declaration behind the last one of a block, indented like it. */
function addPatch({ text, rule }: Block, result: string, edit: number): Patch {
  const last = rule.declarations.at(-1);
  if (last) {
    // Behind its semicolon and its line, so that it stays when the last declaration goes.
    const end = endOf(text, last);
    const lineStart = text.lastIndexOf('\n', last.start - 1) + 1;
    const indent = text.slice(lineStart, last.start);
    const isOwnLine = lineStart > 0 && /^[ \t]+$/.test(indent);
    const rest = isOwnLine ? /^;[ \t]*\r?\n/.exec(text.slice(end)) : null;
    const behind = end + (rest?.[0].length ?? (text[end] === ';' ? 1 : 0));
    const put = rest
      ? `${indent}${result};\n`
      : text[end] === ';'
        ? ` ${result};`
        : `;${isOwnLine ? `\n${indent}` : ' '}${result}`;
    return { start: behind, end: behind, text: put, edit };
  }
  const open = rule.prelude === '' ? 0 : text.indexOf('{', rule.start) + 1;
  return { start: open, end: open, text: rule.prelude === '' ? `${result}; ` : ` ${result};`, edit };
}

/** The range of widths as a media condition (Media Queries 4 §4.1). */
export const widthCondition = ({ from, to }: { from: number; to: number }): string =>
  `(min-width: ${from}px) and (max-width: ${to}px)`;

/** An edit for some widths: a rule of its own behind the one that it changes, under a media condition. */
function limitedPatches(
  block: Block,
  change: OfBlock,
  widths: { from: number; to: number },
  edit: number,
): Patch[] | string {
  if (block.element)
    return 'A style attribute says the same at all widths; put the declaration in a rule instead.';
  const { rule } = block;
  const under = (condition: string, text: string) => `\n@media ${condition} { ${rule.prelude} { ${text}; } }`;
  if (change.do === 'mute') {
    const found = declarationIn(block, change.property, change.nth);
    if (!found) return `${rule.prelude} says nothing of ${change.property} there any more.`;
    const outside = `not all and ${widthCondition(widths)}`;
    return [
      mutePatch(block, found, edit),
      { start: rule.end, end: rule.end, text: under(outside, declarationText(found)), edit },
    ];
  }
  return [
    { start: rule.end, end: rule.end, text: under(widthCondition(widths), declarationText(change)), edit },
  ];
}

/** A new rule as its author would write it. */
export function ruleText(selector: string, declarations: readonly NewDeclaration[], indent = ''): string {
  const lines = declarations.map((declaration) => `${indent}  ${declarationText(declaration)};\n`).join('');
  return `${indent}${selector} {\n${lines}${indent}}\n`;
}

function ruleAtEnd(
  files: Files,
  { at, selector, declarations }: Extract<Change, { do: 'rule' }>,
  widths: Edit['widths'],
  edit: number,
  page: string,
  put: Put,
): string {
  const plain = ruleText(selector, declarations);
  const text = widths
    ? `@media ${widthCondition(widths)} {\n${ruleText(selector, declarations, '  ')}}\n`
    : plain;
  if (at.file === '') {
    const head = elementOf(files, page, 'head');
    const where = head?.range?.innerEnd ?? files.document(page)?.root?.range?.inner ?? 0;
    put(page, { start: where, end: where, text: `<style>\n${text}</style>\n`, edit });
    return '';
  }
  const placed = files.sheet(at.file, at.style);
  if (!placed) return `There is no style sheet ${at.file} any more.`;
  const end = placed.base + placed.sheet.text.length;
  const before = placed.sheet.text.endsWith('\n') || placed.sheet.text === '' ? '' : '\n';
  put(at.file, { start: end, end, text: `${before}${text}`, edit });
  return '';
}

const escaped = (value: string): string => value.replace(/&/g, '&amp;').replace(/"/g, '&quot;');

/** One attribute of an element set, or taken out. */
function attributePatch(element: SourceElement, name: string, value: string | null, edit: number): Patch {
  const there = element.attributes[name];
  if (there) {
    // The space before goes with it.
    if (value === null) return { start: there.start - 1, end: there.end, text: '', edit };
    return { start: there.start, end: there.end, text: `${name}="${escaped(value)}"`, edit };
  }
  const at = (element.range?.start ?? 0) + 1 + element.tag.length;
  return { start: at, end: at, text: value === null ? '' : ` ${name}="${escaped(value)}"`, edit };
}

type OfMarkup = Extract<Change, { do: 'remove' | 'duplicate' | 'move' | 'text' | 'markup' | 'attribute' }>;

function markup(files: Files, change: OfMarkup, edit: number, put: Put): string {
  const element = elementOf(files, change.file, change.path);
  const range = element?.range;
  if (!element || !range) return gone(change);
  const html = files.text(change.file)!;
  const { start, end, inner, innerEnd } = range;
  const whole = html.slice(start, end);
  switch (change.do) {
    case 'remove':
      put(change.file, { start, end, text: '', edit });
      return '';
    case 'duplicate':
      put(change.file, { start: end, end, text: whole, edit });
      return '';
    case 'text':
      put(change.file, {
        start: inner,
        end: innerEnd,
        text: change.text.replace(/&/g, '&amp;').replace(/</g, '&lt;'),
        edit,
      });
      return '';
    case 'markup':
      put(change.file, { start: inner, end: innerEnd, text: change.markup, edit });
      return '';
    case 'attribute':
      put(change.file, attributePatch(element, change.name, change.value, edit));
      return '';
    case 'move': {
      const to = elementOf(files, change.file, change.to)?.range;
      if (!to) return `${change.file} has no element ${change.to} any more.`;
      if (to.start >= start && to.end <= end) return 'An element cannot be moved into itself.';
      const at = { before: to.start, after: to.end, start: to.inner, end: to.innerEnd }[change.where];
      put(change.file, { start, end, text: '', edit });
      put(change.file, { start: at, end: at, text: whole, edit });
      return '';
    }
  }
}

function viewport(
  files: Files,
  { file, content }: Extract<Change, { do: 'viewport' }>,
  edit: number,
  put: Put,
): string {
  const head = elementOf(files, file, 'head');
  const root = files.document(file)?.root;
  if (!head || !root) return `There is no page ${file} any more.`;
  // Of several the last one has the say.
  const found = head.children.findLast(
    ({ tag, attributes }) => tag === 'meta' && attributes['name']?.value.trim().toLowerCase() === 'viewport',
  );
  if (found?.range) {
    if (content === null) put(file, { start: found.range.start, end: found.range.end, text: '', edit });
    else put(file, attributePatch(found, 'content', content, edit));
    return '';
  }
  if (content === null) return '';
  const at = head.range?.inner ?? root.range?.inner ?? 0;
  put(file, { start: at, end: at, text: `<meta name="viewport" content="${escaped(content)}">`, edit });
  return '';
}

/** States that an element shares with those around it (Selectors 4 §9). */
const SHARED = new Set<State>(['hover', 'active', 'focus-within']);

/**
 * Forced states: elements are marked, and every selector that asks for a state also takes the mark. `:is()` has the
 * specificity of the heaviest in it, and a pseudo-class weighs as much as an attribute (Selectors 4 §17), so nothing else
 * changes.
 */
function showStates(
  files: Files,
  edits: readonly Edit[],
  texts: Readonly<Record<string, string>>,
  put: Put,
): void {
  const marks = new Map<SourceElement, { file: string; states: Set<State>; edit: number }>();
  edits.forEach(({ change }, edit) => {
    if (change.do !== 'state') return;
    const steps = change.path.split(/\s+(?=>)/);
    for (let n = steps.length; n > 0; n--) {
      const element = elementOf(files, change.file, steps.slice(0, n).join(' '));
      if (!element?.range) continue;
      const marked = marks.get(element) ?? { file: change.file, states: new Set<State>(), edit };
      const added = change.states.flatMap((state): State[] =>
        state === 'focus' ? [state, 'focus-within'] : [state],
      );
      for (const state of added) if (n === steps.length || SHARED.has(state)) marked.states.add(state);
      if (marked.states.size > 0) marks.set(element, marked);
    }
  });
  if (marks.size === 0) return;
  for (const [element, { file, states, edit }] of marks)
    put(file, attributePatch(element, STATE_MARK, [...states].join(' '), edit));
  for (const file of Object.keys(texts)) {
    const styles = files.document(file)?.styles.flat().length ?? 0;
    const list = /\.css$/i.test(file) ? [-1] : Array.from({ length: styles }, (_, i) => i);
    for (const style of list) {
      const placed = files.sheet(file, style);
      for (const rule of placed?.sheet.rules ?? [])
        for (const patch of statePatches(placed!.sheet.text, rule.start)) {
          const { start, end } = patch;
          put(file, { ...patch, start: start + placed!.base, end: end + placed!.base });
        }
    }
  }
}

const STATE_NAMES = new Set<string>(STATES);

/** Pseudo-classes of states in the selector list that begins at an offset. */
function statePatches(text: string, from: number): Patch[] {
  const until = text.indexOf('{', from);
  const prelude = text.slice(from, until < 0 ? text.length : until);
  if (!prelude.includes(':')) return [];
  const list = tokens(prelude);
  const out: Patch[] = [];
  for (let i = 0; i + 1 < list.count; i++) {
    if (list.type[i] !== T.Colon || list.type[i + 1] !== T.Ident || list.type[i - 1] === T.Colon) continue;
    const name = prelude.slice(list.start[i + 1], list.end[i + 1]).toLowerCase();
    if (!STATE_NAMES.has(name)) continue;
    const [start, end] = [from + list.start[i]!, from + list.end[i + 1]!];
    out.push({ start, end, text: `:is(:${name}, [${STATE_MARK}~="${name}"])`, edit: -1 });
  }
  return out;
}

/** The edits of a trial that change files, as they would be written out. */
export const ofFiles = (edits: readonly Edit[]): Edit[] => edits.filter((edit) => edit.on && isOfFiles(edit));
