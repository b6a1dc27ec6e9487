/** Input that cannot be taken: one sentence that says what is wrong and how to mend it. */
export class Refusal extends Error {
  readonly status: number;
  /** What a client is told beside the sentence: the state that its change did not know of, for example. */
  readonly details: Record<string, unknown>;
  constructor(message: string, status = 422, details: Record<string, unknown> = {}) {
    super(message);
    this.name = 'Refusal';
    this.status = status;
    this.details = details;
  }
}

/** What is said where a file could not be written for want of room; null: the error is another. */
export const fullDisk = (error: unknown): Refusal | null =>
  error instanceof Error && 'code' in error && /^(ENOSPC|EDQUOT)$/.test(String(error.code))
    ? new Refusal('files: the disk of the server is full. Make room on it, then send them again.', 507)
    : null;
