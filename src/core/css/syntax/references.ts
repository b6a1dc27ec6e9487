/** The files that pages and style sheets ask for. */
import { scanHtml } from '../../html/scan.ts';
import { tokens, T } from './tokens.ts';

export interface Reference {
  /** As written. */
  address: string;
  /** The file that asks, and the line in it, from 1. */
  from: string;
  line: number;
  what: 'style sheet' | 'image' | 'font' | 'frame' | 'media' | 'script';
}

/** What an HTML file asks for, its style elements and attributes included. `base` is its first base element's address. */
export function documentReferences(
  path: string,
  html: string,
): { base: string | null; references: Reference[]; title: string } {
  const references: Reference[] = [];
  let base: string | null = null;
  let title: string | null = null;
  scanHtml(html, {
    element: ({ tag, attributes, location }) => {
      const attribute = (name: string): string =>
        attributes.find((attr) => attr.name === name)?.value.trim() ?? '';
      const line = location.startLine;
      const add = (address: string, what: Reference['what']) => {
        if (address) references.push({ address, from: path, line, what });
      };
      if (tag === 'base' && base === null && attribute('href')) base = attribute('href');
      if (
        tag === 'link' &&
        /\bstylesheet\b/i.test(attribute('rel')) &&
        !/\balternate\b/i.test(attribute('rel'))
      )
        add(attribute('href'), 'style sheet');
      if (tag === 'script') add(attribute('src'), 'script');
      if (tag === 'img' || (tag === 'input' && attribute('type').toLowerCase() === 'image'))
        add(attribute('src'), 'image');
      if (tag === 'img' || tag === 'source')
        for (const candidate of attribute('srcset').split(/,\s+/))
          add(candidate.trim().split(/\s+/)[0] ?? '', 'image');
      if (tag === 'iframe') add(attribute('src'), 'frame');
      if (tag === 'video') add(attribute('poster'), 'image');
      if (/^(video|audio)$/.test(tag)) add(attribute('src'), 'media');
      if (attribute('style')) references.push(...sheetReferences(path, attribute('style'), line));
    },
    text: (tag, text, line) => {
      if (tag === 'style') references.push(...sheetReferences(path, text, line));
      else title ??= text;
    },
  });
  return { base, references, title: (title ?? '').replace(/\s+/g, ' ').trim() };
}

/** What a style sheet asks for: imports, images, fonts. `line` is the line of its first character. */
export function sheetReferences(path: string, css: string, line = 1): Reference[] {
  const out: Reference[] = [];
  const list = tokens(css);
  let at = '';
  let depth = 0;
  let currentLine = line;
  let property = '';
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    const word = css.slice(list.start[i], list.end[i]);
    if (type === T.AtKeyword) at = word.toLowerCase();
    else if (type === T.LeftCurly) depth++;
    else if (type === T.RightCurly) {
      depth = Math.max(0, depth - 1);
      if (depth === 0) at = '';
    } else if (type === T.Semicolon && depth === 0) at = '';
    else if (type === T.Ident) property = list.type[i + 1] === T.Colon ? word.toLowerCase() : property;
    const isUrl =
      type === T.Url ||
      (type === T.Function && word.toLowerCase() === 'url(') ||
      (type === T.String && at === '@import' && depth === 0);
    if (isUrl) {
      let next = i + 1;
      while (list.type[next] === T.WhiteSpace) next++;
      const text =
        type === T.Url
          ? word.replace(/^url\(\s*|\s*\)$/gi, '')
          : type === T.String
            ? word
            : css.slice(list.start[next], list.end[next]);
      const what =
        at === '@import' ? 'style sheet' : at === '@font-face' && property === 'src' ? 'font' : 'image';
      if (at !== '@namespace') out.push({ address: unquote(text), from: path, line: currentLine, what });
      if (type === T.Function) i = next;
      if (at === '@import') at = '';
    }
    for (const c of word) if (c === '\n') currentLine++;
  }
  return out.filter((reference) => reference.address !== '');
}

/** A style sheet with every address in it made absolute, so that it means the same from anywhere else. */
export const rebased = (css: string, base: string): string =>
  withAddresses(css, (address) => absoluteOf(address, base));

/** A style sheet with other addresses in the place of its own; null: one stays as it is written. */
export function withAddresses(css: string, replace: (address: string) => string | null): string {
  const list = tokens(css);
  let out = '';
  let last = 0;
  let at = '';
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    const word = css.slice(list.start[i], list.end[i]);
    if (type === T.AtKeyword) at = word.toLowerCase();
    else if (type === T.Semicolon || type === T.LeftCurly) at = '';
    const isImport = type === T.String && at === '@import';
    if (at === '@namespace' || (type !== T.Url && !isImport && !(type === T.Function && /^url\($/i.test(word))))
      continue;
    let inner = i;
    if (type === T.Function) {
      inner++;
      while (list.type[inner] === T.WhiteSpace) inner++;
      if (list.type[inner] !== T.String) continue;
    }
    const [from, to] = [list.start[inner]!, list.end[inner]!];
    const raw = css.slice(from, to);
    const address = type === T.Url ? raw.replace(/^url\(\s*|\s*\)$/gi, '') : unquote(raw);
    const other = replace(address);
    if (other === null) continue;
    out += css.slice(last, from) + (type === T.Url ? `url("${other}")` : `"${other}"`);
    last = to;
    i = inner;
  }
  return out + css.slice(last);
}

/** null: it is none that can be made absolute, or is so already; fragments mean the document itself. */
function absoluteOf(address: string, base: string): string | null {
  if (address === '' || address.startsWith('#') || /^[a-z][a-z\d+.-]*:/i.test(address)) return null;
  try {
    return new URL(address, base).href.replace(/"/g, '%22');
  } catch (error) {
    if (error instanceof TypeError) return null;
    throw error;
  }
}

const unquote = (text: string): string => text.replace(/^["']|["']$/g, '').trim();
