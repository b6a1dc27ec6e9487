/** What the specifications know of properties and their values, from the syntax data of css-tree. */
import { lexer, parse } from 'css-tree';

export const knownProperty = (property: string): boolean => lexer.getProperty(property) !== null;

/** All property names without a vendor's prefix. */
export const propertyNames = (): string[] =>
  Object.keys((lexer as unknown as { properties: object }).properties).filter((name) => !name.startsWith('-'));

/** Whether a value fits the syntax of a property; a value with variables always does. */
export function matchesSyntax(property: string, value: string): boolean {
  if (/\bvar\(/.test(value)) return true;
  try {
    return lexer.matchProperty(property, parse(value, { context: 'value' })).matched !== null;
  } catch {
    // What cannot be parsed fits no syntax.
    return false;
  }
}
