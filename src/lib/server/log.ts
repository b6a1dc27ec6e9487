/** What is written of an error: its kind, its reason and where it came from, without the values that it was about. */

const LONGEST = 300;

/** The error that caused the others: a failed query tells its parameters, its cause does not. */
const innermost = (error: unknown): unknown => {
  let cause = error;
  while (cause instanceof Error && cause.cause instanceof Error) cause = cause.cause;
  return cause;
};

export function reasonOfError(error: unknown): string {
  const cause = innermost(error);
  if (!(cause instanceof Error)) return String(cause).slice(0, LONGEST);
  const isQuery = /^Failed query/.test(cause.message);
  const text = isQuery ? 'a query failed' : (cause.message.split('\n')[0] ?? '').slice(0, LONGEST);
  const places = (cause.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line));
  return [`${cause.name}: ${text}`, ...places.slice(0, 8)].join('\n');
}
