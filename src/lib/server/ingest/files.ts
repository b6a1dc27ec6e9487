export interface SourceFile {
  path: string;
  bytes: Uint8Array;
}

export interface StoredFile extends SourceFile {
  /** Its media type, by the ending of its path. */
  type: string;
}

/** A file with another text. A byte order mark says that it is UTF-8, whatever the file says of itself. */
export const withText = (file: StoredFile, text: string | undefined): StoredFile =>
  text === undefined ? file : { ...file, bytes: new TextEncoder().encode(`\uFEFF${text}`) };
