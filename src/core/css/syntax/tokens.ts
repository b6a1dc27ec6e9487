/// <reference path="./tokenizer.d.ts" />
import { tokenize } from 'css-tree/tokenizer';

/** Token types of CSS Syntax 3 §4, as numbered by the tokenizer. */
export const T = {
  EOF: 0,
  Ident: 1,
  Function: 2,
  AtKeyword: 3,
  Hash: 4,
  String: 5,
  Url: 7,
  Delim: 9,
  Number: 10,
  Percentage: 11,
  Dimension: 12,
  WhiteSpace: 13,
  CDO: 14,
  CDC: 15,
  Colon: 16,
  Semicolon: 17,
  Comma: 18,
  LeftSquare: 19,
  RightSquare: 20,
  LeftParen: 21,
  RightParen: 22,
  LeftCurly: 23,
  RightCurly: 24,
  Comment: 25,
} as const;

/** A text as flat arrays of tokens: the token `i` is `text.slice(start[i], end[i])`. */
export interface Tokens {
  text: string;
  count: number;
  type: number[];
  start: number[];
  end: number[];
}

export function tokens(text: string): Tokens {
  const out: Tokens = { text, count: 0, type: [], start: [], end: [] };
  tokenize(text, (type, start, end) => {
    if (type === T.EOF) return;
    out.type.push(type);
    out.start.push(start);
    out.end.push(end);
  });
  out.count = out.type.length;
  return out;
}

export const isOpening = (type: number): boolean =>
  type === T.Function || type === T.LeftParen || type === T.LeftSquare || type === T.LeftCurly;

export const isClosing = (type: number): boolean =>
  type === T.RightParen || type === T.RightSquare || type === T.RightCurly;

/** Cuts a text at the top-level tokens for which `cut` holds. Comments are left out; parts are trimmed. */
export function splitTop(text: string, cut: (type: number, token: string) => boolean): string[] {
  const list = tokens(text);
  const parts: string[] = [];
  let depth = 0;
  let part = '';
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    const token = text.slice(list.start[i], list.end[i]);
    if (depth === 0 && cut(type, token)) {
      parts.push(part.trim());
      part = '';
      continue;
    }
    if (isOpening(type)) depth++;
    else if (isClosing(type)) depth = Math.max(0, depth - 1);
    if (type !== T.Comment) part += token;
  }
  parts.push(part.trim());
  return parts;
}

export const splitCommas = (text: string): string[] => splitTop(text, (type) => type === T.Comma);

/** The components of a value: words and functions, with `/` and `,` as components of their own. */
export function components(value: string): string[] {
  const list = tokens(value);
  const out: string[] = [];
  let depth = 0;
  let part = '';
  const flush = () => {
    if (part) out.push(part);
    part = '';
  };
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    const token = value.slice(list.start[i], list.end[i]);
    if (type === T.Comment) continue;
    if (depth === 0 && type === T.WhiteSpace) {
      flush();
      continue;
    }
    if (depth === 0 && (type === T.Comma || (type === T.Delim && token === '/'))) {
      flush();
      out.push(token);
      continue;
    }
    if (depth === 0 && isOpening(type)) flush();
    if (isOpening(type)) depth++;
    else if (isClosing(type)) depth = Math.max(0, depth - 1);
    part += token;
    if (depth === 0 && isClosing(type)) flush();
  }
  flush();
  return out;
}
