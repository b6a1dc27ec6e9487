/** The files that pages and style sheets ask for. */
import { parse, type DefaultTreeAdapterMap } from 'parse5';
import { tokens, T } from './tokens.ts';

type Node = DefaultTreeAdapterMap['node'];

export interface Reference {
  /** As written. */
  address: string;
  /** The file that asks, and the line in it, from 1. */
  from: string;
  line: number;
  what: 'style sheet' | 'image' | 'font' | 'frame' | 'media';
}

/** What an HTML file asks for, its style elements and attributes included. `base` is its first base element's address. */
export function documentReferences(
  path: string,
  html: string,
): { base: string | null; references: Reference[] } {
  const references: Reference[] = [];
  let base: string | null = null;
  const stack: Node[] = [parse(html, { sourceCodeLocationInfo: true })];
  for (let node = stack.pop(); node; node = stack.pop()) {
    if ('tagName' in node) {
      const { attrs } = node;
      const attribute = (name: string): string => attrs.find((attr) => attr.name === name)?.value.trim() ?? '';
      const line = node.sourceCodeLocation?.startLine ?? 1;
      const add = (address: string, what: Reference['what']) => {
        if (address) references.push({ address, from: path, line, what });
      };
      const tag = node.tagName;
      if (tag === 'base' && base === null && attribute('href')) base = attribute('href');
      if (
        tag === 'link' &&
        /\bstylesheet\b/i.test(attribute('rel')) &&
        !/\balternate\b/i.test(attribute('rel'))
      )
        add(attribute('href'), 'style sheet');
      if (tag === 'img' || (tag === 'input' && attribute('type').toLowerCase() === 'image'))
        add(attribute('src'), 'image');
      if (tag === 'img' || tag === 'source')
        for (const one of attribute('srcset').split(/,\s+/)) add(one.trim().split(/\s+/)[0] ?? '', 'image');
      if (tag === 'iframe') add(attribute('src'), 'frame');
      if (tag === 'video') add(attribute('poster'), 'image');
      if (/^(video|audio)$/.test(tag)) add(attribute('src'), 'media');
      if (tag === 'style') {
        const child = node.childNodes[0];
        const text = child && 'value' in child ? child.value : '';
        references.push(...sheetReferences(path, text, child?.sourceCodeLocation?.startLine ?? line));
      }
      if (attribute('style')) references.push(...sheetReferences(path, attribute('style'), line));
    }
    if ('content' in node) stack.push(node.content);
    if ('childNodes' in node) for (const child of [...node.childNodes].reverse()) stack.push(child);
  }
  return { base, references };
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
  return out.filter((one) => one.address !== '');
}

const unquote = (text: string): string => text.replace(/^["']|["']$/g, '').trim();
