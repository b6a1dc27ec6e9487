/** Finding what an edit names in the files of a specimen: rules, declarations, elements. */
import { parseDocument, type SourceDocument, type SourceElement } from '../html/document.ts';
import { placeIn } from '../css/syntax/source-positions.ts';
import { parseSheet, type Declaration, type Rule, type Sheet } from '../css/syntax/style-sheets.ts';
import type { BlockTarget, RuleTarget } from './edit.ts';

/** A style sheet as it stands in a file, from an offset on. */
export interface PlacedSheet {
  sheet: Sheet;
  file: string;
  style: number;
  /** Offset of the sheet's text in the file. */
  base: number;
}

export interface Files {
  /** Text of a file; null: there is none. */
  text: (file: string) => string | null;
  document: (file: string) => SourceDocument | null;
  sheet: (file: string, style: number) => PlacedSheet | null;
}

/** The texts of a specimen by path, each parsed once. */
export function readFiles(texts: Readonly<Record<string, string>>): Files {
  const documents = new Map<string, SourceDocument | null>();
  const sheets = new Map<string, PlacedSheet | null>();
  const text = (file: string): string | null => texts[file] ?? null;
  const document = (file: string): SourceDocument | null => {
    const cached = documents.get(file);
    if (cached !== undefined) return cached;
    const sheetText = text(file);
    const source = sheetText === null ? null : parseDocument(file, sheetText);
    documents.set(file, source);
    return source;
  };
  const place = (file: string, style: number): PlacedSheet | null => {
    const pageText = text(file);
    if (pageText === null) return null;
    if (style < 0) {
      const sheet = parseSheet({ file, text: pageText, line: 1, column: 1, form: 'file' });
      return { sheet, file, style, base: 0 };
    }
    const found = document(file)?.styles.flat()[style]?.text;
    if (!found) return null;
    const { line, column, start, end } = found;
    const sheet = parseSheet({ file, text: pageText.slice(start, end), line, column, form: 'element' });
    return { sheet, file, style, base: start };
  };
  return {
    text,
    document,
    sheet: (file, style) => {
      const key = `${style} ${file}`;
      const cached = sheets.get(key);
      if (cached !== undefined) return cached;
      const placedSheet = place(file, style);
      sheets.set(key, placedSheet);
      return placedSheet;
    },
  };
}

const conditionsOf = ({ conditions }: Rule): string[] => conditions.map(({ kind, text }) => `${kind} ${text}`);
const sameRule = (rule: Rule, { prelude, conditions }: Pick<RuleTarget, 'prelude' | 'conditions'>): boolean =>
  rule.prelude === prelude && conditionsOf(rule).join('\n') === conditions.join('\n');

/** What names a rule of a sheet. */
export function targetOf({ sheet, file, style }: PlacedSheet, rule: Rule): RuleTarget {
  const wanted = { prelude: rule.prelude, conditions: conditionsOf(rule) };
  const alike = sheet.rules.filter((rule) => sameRule(rule, wanted));
  return { kind: 'rule', file, style, ...wanted, nth: alike.indexOf(rule) };
}

/** A block of declarations in a file's text. */
export interface Block {
  file: string;
  /** Text of the block's sheet, and where it begins in the file; for a style attribute, its value. */
  text: string;
  base: number;
  rule: Rule;
  /** Set for a style attribute: the element, whose whole attribute is written anew. */
  element: SourceElement | null;
}

/** null: it stands there no more. */
export function blockOf(files: Files, target: BlockTarget): Block | null {
  if (target.kind === 'inline') {
    const element = elementOf(files, target.file, target.path);
    if (!element) return null;
    const text = element.attributes['style']?.value ?? '';
    const sheet = parseSheet({ file: target.file, text, line: 1, column: 1, form: 'attribute' });
    return { file: target.file, text, base: 0, rule: sheet.rules[0]!, element };
  }
  const placed = files.sheet(target.file, target.style);
  const rule = placed?.sheet.rules.filter((rule) => sameRule(rule, target))[target.nth];
  return placed && rule
    ? { file: target.file, text: placed.sheet.text, base: placed.base, rule, element: null }
    : null;
}

/** The nth declaration of a property in a block, from 0. */
export const declarationIn = ({ rule }: Block, property: string, nth: number): Declaration | null =>
  rule.declarations.filter((declaration) => declaration.property === property)[nth] ?? null;

/** The element that a path names (see `pathOf`) in a file; null: none does. */
export function elementOf(files: Files, file: string, path: string): SourceElement | null {
  const steps = path.split(/\s+(?=>)/).map((step) => {
    const [, mark = '', tag = '', place] =
      /^(>*)\s*([^\s:]+?)(?::nth-child\((\d+)\))?$/.exec(step.trim()) ?? [];
    return { inside: mark.length === 3, tag: tag.replace(/\\/g, ''), place: place ? Number(place) : null };
  });
  let at = files.document(file)?.root ?? null;
  if (steps[0]?.tag === 'html') steps.shift();
  for (const { inside, tag, place } of steps) {
    const list: SourceElement[] = (inside ? at?.shadow : at?.children) ?? [];
    const found: SourceElement | undefined =
      place === null ? list.find((sourceElement) => sourceElement.tag === tag) : list[place - 1];
    if (!found || found.tag !== tag) return null;
    at = found;
  }
  return at;
}

/** The declaration that stands at a line and column (both from 1) of a file, and what names its block. */
export function declarationAt(
  files: Files,
  file: string,
  line: number,
  column: number,
): { target: RuleTarget; declaration: Declaration; nth: number } | null {
  const styles = files.document(file)?.styles.flat().length ?? 0;
  const isSheet = styles === 0;
  for (let style = isSheet ? -1 : 0; style < Math.max(styles, isSheet ? 0 : 1); style++) {
    const placed = files.sheet(file, style);
    if (!placed) continue;
    for (const rule of placed.sheet.rules)
      for (const declaration of rule.declarations) {
        const at = placeIn(placed.sheet, declaration.start);
        if (at.line !== line || at.column !== column) continue;
        const alike = rule.declarations.filter(({ property }) => property === declaration.property);
        return { target: targetOf(placed, rule), declaration, nth: alike.indexOf(declaration) };
      }
  }
  return null;
}
