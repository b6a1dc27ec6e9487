/** Input that cannot be taken: one sentence that says what is wrong and how to mend it. */
export class Refusal extends Error {
  readonly status: number;
  constructor(message: string, status = 422) {
    super(message);
    this.name = 'Refusal';
    this.status = status;
  }
}
