/**
 * What a document that is open in a frame must be told so that it is as its files would be under a trial: texts of its
 * style sheets and attributes of its elements. What changes its elements needs the document to be opened anew.
 */
import type { Described } from '../reading/reading.ts';
import { pathInFrame } from '../css/syntax/addresses.ts';
import { parseDocument, type SourceElement } from '../html/document.ts';
import { rebased } from '../css/syntax/references.ts';
import { ruleChanges, topLevelRules } from '../css/syntax/top-level-rules.ts';
import type { Edit } from './edit.ts';

export interface DocumentPatch {
  /** By index in `described.sheets`. All others are as the document came. */
  sheets: PatchedSheet[];
  /** Of elements of the last reading; null: the attribute is not there. */
  attributes: { element: number; name: string; value: string | null }[];
}

export interface PatchedSheet {
  sheet: number;
  /** As the document came, and as it is now. */
  was: string;
  is: string;
  /** What relative addresses in it start from; null: from the document. */
  address: string | null;
}

/** Whether an edit changes which elements there are, so that a document must be opened anew for it. */
export const isStructural = ({ change }: Edit): boolean =>
  /^(remove|duplicate|move|text|markup|viewport)$/.test(change.do) ||
  (change.do === 'rule' && change.at.file === '');

export interface Loaded {
  page: string;
  /** Texts that the document was opened with. */
  texts: Readonly<Record<string, string>>;
  described: Described;
  /** Address under which the specimen's root is served to the frame. */
  frameBase: string;
  /** The element of the page's source for each of the last reading's. */
  sources: readonly (SourceElement | null)[];
}

/** `wanted`: texts that differ from those loaded. null: the document must be opened anew for them. */
export function documentPatch(
  { page, texts, described, frameBase, sources }: Loaded,
  wanted: Readonly<Record<string, string>>,
): DocumentPatch | null {
  const out: DocumentPatch = { sheets: [], attributes: [] };
  const open = new Set(Object.keys(wanted).filter((file) => wanted[file] !== texts[file]));
  const before = open.has(page) ? parseDocument(page, texts[page] ?? '') : null;
  const after = open.has(page) ? parseDocument(page, wanted[page]!) : null;
  described.sheets.forEach(({ form, root, owner, address }, sheet) => {
    if (form === 'link') {
      const file = pathInFrame(address, '', frameBase);
      if (file === null || wanted[file] === undefined || wanted[file] === texts[file]) return;
      out.sheets.push({ sheet, was: texts[file] ?? '', is: wanted[file], address });
      open.delete(file);
    } else if (form === 'style' && before && after) {
      const [was, is] = [before, after].map(({ styles }) => styles[root]?.[owner]?.text?.value ?? '');
      if (was !== is) out.sheets.push({ sheet, was: was!, is: is!, address: null });
    }
  });
  if (before?.root && after?.root) {
    // The reading's elements know their source by the object that the page's own parse gave; paths lead from one to the other.
    const numbers = new Map<SourceElement, number>();
    sources.forEach((source, element) => source && numbers.set(source, element));
    const sourceElement = sources.find((source) => source !== null) ?? null;
    if (!sourceElement || !compare(sourceElement, before.root, after.root, numbers, out)) return null;
    open.delete(page);
  }
  return open.size === 0 ? out : null;
}

/** Collects attributes that differ; false where the elements do. */
function compare(
  sourceElement: SourceElement,
  before: SourceElement,
  after: SourceElement,
  numbers: Map<SourceElement, number>,
  out: DocumentPatch,
): boolean {
  const stack: [SourceElement, SourceElement, SourceElement][] = [[sourceElement, before, after]];
  for (let next = stack.pop(); next; next = stack.pop()) {
    const [at, was, is] = next;
    const lists = [
      [at.children, was.children, is.children],
      [at.shadow ?? [], was.shadow ?? [], is.shadow ?? []],
    ] as const;
    if (was.tag !== is.tag) return false;
    for (const name of new Set([...Object.keys(was.attributes), ...Object.keys(is.attributes)])) {
      const [old, now] = [was.attributes[name]?.value ?? null, is.attributes[name]?.value ?? null];
      if (old === now) continue;
      const element = numbers.get(at);
      if (element === undefined) return false;
      out.attributes.push({ element, name, value: now });
    }
    for (const [a, b, c] of lists) {
      if (b.length !== c.length || a.length !== b.length) return false;
      a.forEach((entry, i) => stack.push([entry, b[i]!, c[i]!]));
    }
  }
  return true;
}

/** Whether a page opened with the texts `a`, by file, is the one opened with `b`. */
export const sameTexts = (a: Readonly<Record<string, string>>, b: Readonly<Record<string, string>>): boolean =>
  Object.keys(a).length === Object.keys(b).length && Object.keys(a).every((file) => a[file] === b[file]);

/** What a frame is asked to show. */
export interface PatchRequest {
  sheets: {
    root: number;
    owner: number;
    form: 'style' | 'link';
    /** null: `rules` must do. */
    text: string | null;
    /**
     * The same, rule by rule: every top-level rule that differs from the document's own or has differed since it was
     * opened, with what it was. `count`: how many rules there are in all. null: it cannot be said so.
     */
    rules: { count: number; list: { index: number; text: string; was: string }[] } | null;
  }[];
  attributes: DocumentPatch['attributes'];
}

/**
 * Turns dressings of one open document into what its frame is asked, which depends on what it was asked before. `isWhole`:
 * sheets are told as whole texts too.
 */
export function makePatcher(described: Described): (patch: DocumentPatch, isWhole: boolean) => PatchRequest {
  const touched = new Map<number, { was: string; address: string | null; rules: Set<number> }>();
  return ({ sheets, attributes }, isWhole) => {
    const bySheet = new Map(sheets.map((sheet) => [sheet.sheet, sheet]));
    // A sheet that reads as it did is told so rule by rule as well: it need not come anew.
    for (const [sheet, { was, address }] of touched)
      if (!bySheet.has(sheet)) bySheet.set(sheet, { sheet, was, is: was, address });
    return {
      attributes,
      sheets: [...bySheet.values()].map(({ sheet, was, is, address }) => {
        const { root, owner, form } = described.sheets[sheet]!;
        const based = (text: string) => (address === null ? text : rebased(text, address));
        const previous = touched.get(sheet) ?? { was, address, rules: new Set<number>() };
        touched.set(sheet, previous);
        const result = ruleChanges(was, is);
        for (const { index } of result?.list ?? []) previous.rules.add(index);
        const changed = new Map(result?.list.map(({ index, text }) => [index, text]));
        const stretches = topLevelRules(was);
        const list = [...previous.rules].map((index) => {
          const { start, end } = stretches[index]!;
          const text = was.slice(start, end);
          return { index, text: based(changed.get(index) ?? text), was: based(text) };
        });
        return {
          root,
          owner,
          form: form as 'style' | 'link',
          text: result && !isWhole ? null : based(is),
          rules: result && { count: result.count, list },
        };
      }),
    };
  };
}
