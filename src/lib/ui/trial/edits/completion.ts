/** Names and keywords to complete: from the syntax data of css-tree, which follows the specifications. */
import { lexer } from 'css-tree';

interface Syntax {
  type: string;
  name?: string;
  terms?: Syntax[];
  term?: Syntax;
  syntax?: Syntax;
}
interface Known {
  properties: Record<string, { syntax: Syntax | null }>;
  types: Record<string, { syntax: Syntax | null }>;
}

const previous = lexer as unknown as Known;
const WIDE = ['inherit', 'initial', 'unset', 'revert'];

/** Properties that lay boxes out come first. */
const FIRST =
  /^(margin|padding|border|width|height|min-|max-|display|position|top|right|bottom|left|inset|box-sizing|overflow|flex|grid|gap|align|justify|font|line-height|float|clear|white-space|aspect-ratio|vertical-align|transform)/;

export const propertyNames: string[] = Object.keys(previous.properties)
  .filter((name) => !name.startsWith('-'))
  .sort((a, b) => Number(FIRST.test(b)) - Number(FIRST.test(a)) || (a < b ? -1 : 1));

const cache = new Map<string, string[]>();

/** Keywords that a property takes. */
export function keywordsOf(property: string): string[] {
  const cached = cache.get(property);
  if (cached) return cached;
  const out = new Set<string>();
  const seen = new Set<string>();
  const visit = (syntax: Syntax | null | undefined, depth: number): void => {
    if (!syntax || depth > 6) return;
    if (syntax.type === 'Keyword' && syntax.name && /^[a-z-]+$/.test(syntax.name)) out.add(syntax.name);
    if ((syntax.type === 'Type' || syntax.type === 'Property') && syntax.name && !seen.has(syntax.name)) {
      seen.add(syntax.name);
      if (syntax.type === 'Type' && /color|image|gradient|string|url/.test(syntax.name)) return;
      visit((syntax.type === 'Type' ? previous.types : previous.properties)[syntax.name]?.syntax, depth + 1);
    }
    for (const term of syntax.terms ?? []) visit(term, depth);
    visit(syntax.term, depth);
  };
  visit(previous.properties[property]?.syntax, 0);
  const list = [...out, ...WIDE];
  cache.set(property, list);
  return list;
}
