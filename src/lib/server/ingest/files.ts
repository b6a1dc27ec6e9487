export interface SourceFile {
  path: string;
  bytes: Uint8Array;
}

export interface StoredFile extends SourceFile {
  /** Its media type, by the ending of its path. */
  type: string;
}
