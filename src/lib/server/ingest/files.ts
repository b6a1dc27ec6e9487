/** A file in memory. */
export interface SourceFile {
  path: string;
  bytes: Uint8Array;
}

/** A file on its way in, in memory or on disk. */
export interface IncomingFile {
  path: string;
  /** In bytes. */
  size: number;
  /** All of it, or its first `most` bytes. */
  read: (most?: number) => Promise<Uint8Array>;
}

export interface StoredFile extends SourceFile {
  /** Its media type, by the ending of its path. */
  type: string;
}

/** A file of a revision; its contents are in the content store, under the SHA-256 of their bytes in hex. */
export interface FileEntry {
  path: string;
  type: string;
  size: number;
  hash: string;
}

export const inMemory = ({ path, bytes }: SourceFile): IncomingFile => ({
  path,
  size: bytes.length,
  read: (most = bytes.length) => Promise.resolve(bytes.subarray(0, most)),
});

/** A file with another text. A byte order mark says that it is UTF-8, whatever the file says of itself. */
export const withText = (file: StoredFile, text: string | undefined): StoredFile =>
  text === undefined ? file : { ...file, bytes: new TextEncoder().encode(`\uFEFF${text}`) };
