/** What the specifications know of properties and their values, from the syntax data of css-tree. */
import { lexer, parse } from 'css-tree';

export const knownProperty = (property: string): boolean => lexer.getProperty(property) !== null;

/** All property names without a vendor's prefix. */
export const propertyNames = (): string[] =>
  Object.keys((lexer as unknown as { properties: object }).properties).filter((name) => !name.startsWith('-'));

/** Answers of `matchesSyntax`, by property and value: pages say the same of many boxes. */
const matched = new Map<string, boolean>();
const MOST_MATCHED = 5000;

/** Whether a value fits the syntax of a property; a value with variables always does. */
export function matchesSyntax(property: string, value: string): boolean {
  if (/\bvar\(/.test(value)) return true;
  const key = `${property}: ${value}`;
  let does = matched.get(key);
  if (does === undefined) {
    if (matched.size >= MOST_MATCHED) matched.clear();
    matched.set(key, (does = fits(property, value)));
  }
  return does;
}

function fits(property: string, value: string): boolean {
  try {
    return lexer.matchProperty(property, parse(value, { context: 'value' })).matched !== null;
  } catch {
    // What cannot be parsed fits no syntax.
    return false;
  }
}

interface SyntaxNode {
  type: string;
  name?: string;
  terms?: SyntaxNode[];
  term?: SyntaxNode;
}

/** Types nest; keywords that a value may have lie no deeper than this. */
const DEEPEST = 5;

/** The keywords that a value of a property may have. Empty: the property is not known. */
export function keywordsOf(property: string): string[] {
  const { properties, types } = lexer as unknown as Record<
    'properties' | 'types',
    Record<string, { syntax?: SyntaxNode | null }>
  >;
  const out = new Set<string>();
  const walk = (node: SyntaxNode | null | undefined, depth: number): void => {
    if (!node || depth > DEEPEST) return;
    if (node.type === 'Keyword') out.add(node.name!);
    else if (node.type === 'Type') walk(types[node.name!]?.syntax, depth + 1);
    else if (node.type === 'Property') walk(properties[node.name!]?.syntax, depth + 1);
    else for (const inner of [...(node.terms ?? []), ...(node.term ? [node.term] : [])]) walk(inner, depth);
  };
  walk(properties[property]?.syntax, 0);
  return [...out];
}
