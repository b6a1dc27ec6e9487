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
