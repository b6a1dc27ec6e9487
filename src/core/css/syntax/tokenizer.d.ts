declare module 'css-tree/tokenizer' {
  /** Calls `visit` with type, start and end offset of every token (CSS Syntax 3 §4). */
  export function tokenize(source: string, visit: (type: number, start: number, end: number) => void): void;
}
