/** The scripts of a page, and which elements they say that they fill or size: with scripts held these are not what they would be. */
import { pathOf } from '../css/syntax/addresses.ts';
import { scanHtml } from './scan.ts';

export interface ScriptText {
  /** The file that it stands in, and the line of its first character there, from 1. */
  path: string;
  line: number;
  text: string;
}

/** Whether a script element of this type is run, rather than kept as data (HTML §4.12.1). */
const isScriptType = (type: string): boolean =>
  /^(|module|(text|application)\/(java|ecma)script)$/i.test(type.trim());

const SCRIPT_END = /<\/script[\s/>]/gi;

/** Scripts in the order in which a page names them; files that are not among `texts` are left out. */
export function scriptsIn(page: string, html: string, texts: Readonly<Record<string, string>>): ScriptText[] {
  const out: ScriptText[] = [];
  let base: string | null = null;
  scanHtml(html, {
    element: ({ tag, attributes, location }) => {
      const attribute = (name: string) => attributes.find((attr) => attr.name === name)?.value;
      if (tag === 'base') base ??= attribute('href') ?? null;
      if (tag !== 'script' || !isScriptType(attribute('type') ?? '')) return;
      const source = attribute('src');
      if (source !== undefined) {
        const path = pathOf(source, page, base);
        const text = path !== null && Object.hasOwn(texts, path) ? texts[path] : undefined;
        if (path !== null && text !== undefined) out.push({ path, line: 1, text });
        return;
      }
      const start = location.startTag?.endOffset ?? location.endOffset;
      SCRIPT_END.lastIndex = start;
      const end = SCRIPT_END.exec(html)?.index;
      out.push({ path: page, line: location.endLine, text: html.slice(start, end) });
    },
  });
  return out;
}

/** Whether a page has scripts that would run. */
export function hasScripts(html: string): boolean {
  let found = false;
  scanHtml(html, {
    element: ({ tag, attributes }) => {
      const type = attributes.find(({ name }) => name === 'type')?.value ?? '';
      found ||= tag === 'script' && isScriptType(type);
    },
  });
  return found;
}

/** What a script names an element by. */
export interface Touch {
  by: 'id' | 'class' | 'tag';
  name: string;
  path: string;
  line: number;
  /** Whether the script writes into it or sizes it, as far as the text around the name says. */
  isWritten: boolean;
}

/** Quoted texts of a script; its comments and its own grammar are not looked at. */
const LITERAL = /"([^"\\\n]{1,120})"|'([^'\\\n]{1,120})'|`([^`\\$]{1,120})`/g;
/** How far from a name it is looked for what is done with the element. */
const AROUND = 400;
/** Words of scripts that put something into an element, or give it a size or a place. */
const WRITES =
  /\b(innerHTML|outerHTML|textContent|innerText|appendChild|append|prepend|replaceChildren|insertAdjacent\w+|insertBefore|style|classList|className|setAttribute|getContext|createRoot|hydrate\w*|render|mount|transform|width|height|scrollLeft|animate|chart|plot|carousel|slider|slick|swiper|init)\b|\bnew\s+[A-Z]/i;

const longest = 400_000;

/** Which elements scripts name, each name once; what is written into wins over what is only named. */
export function touchesOf(scripts: readonly ScriptText[]): Touch[] {
  const out = new Map<string, Touch>();
  for (const { path, line, text } of scripts) {
    const script = text.slice(0, longest);
    let [last, lines] = [0, line];
    for (const match of script.matchAll(LITERAL)) {
      const literal = match[1] ?? match[2] ?? match[3] ?? '';
      const names = namesIn(literal, script.slice(Math.max(0, match.index - 40), match.index));
      if (names.length === 0) continue;
      for (let at = last; at < match.index; at++) if (script[at] === '\n') lines++;
      last = match.index;
      const around = script.slice(Math.max(0, match.index - 80), match.index + AROUND);
      const isWritten = WRITES.test(around);
      for (const { by, name } of names) {
        const key = `${by} ${name}`;
        if (!out.get(key)?.isWritten) out.set(key, { by, name, path, line: lines, isWritten });
      }
    }
  }
  return [...out.values()];
}

/** The element that a selector or an id is of: what its last compound names (Selectors 4 §4.1). */
function namesIn(literal: string, before: string): Pick<Touch, 'by' | 'name'>[] {
  if (/getElementById\(\s*$/.test(before)) return [{ by: 'id', name: literal }];
  if (/getElementsByClassName\(\s*$/.test(before)) return [{ by: 'class', name: literal }];
  if (/getElementsByTagName\(\s*$/.test(before)) return [{ by: 'tag', name: literal.toLowerCase() }];
  const isQuery = /(querySelector(All)?|closest|\$|jQuery|find|select|selectAll)\(\s*$/.test(before);
  if (!isQuery && !/^[#.][\w-]+$/.test(literal)) return [];
  return literal.split(',').flatMap((selector): Pick<Touch, 'by' | 'name'>[] => {
    const compound =
      selector
        .trim()
        .split(/[\s>+~]+/)
        .at(-1) ?? '';
    const [, id] = /#([\w-]+)/.exec(compound) ?? [];
    if (id !== undefined) return [{ by: 'id', name: id }];
    const classes = [...compound.matchAll(/\.([\w-]+)/g)].map(([, name]) => name!);
    if (classes.length > 0) return [{ by: 'class', name: classes[0]! }];
    const [tag] = /^[a-z][\w-]*$/i.exec(compound) ?? [];
    return tag === undefined ? [] : [{ by: 'tag', name: tag.toLowerCase() }];
  });
}
