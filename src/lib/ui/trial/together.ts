/** The edits of a trial that two clients have changed at once, put together. */
import type { Edit } from '$core/trials/edit.ts';

const contents = ({ id: _id, step: _step, ...rest }: Edit): string => JSON.stringify(rest);

/** Whether two lists of edits say the same in the same order. */
export const isAlike = (entry: readonly Edit[], other: readonly Edit[]): boolean =>
  JSON.stringify(entry.map(contents)) === JSON.stringify(other.map(contents));

/**
 * All of `theirs`, then those of `mine` that say something else: later edits have the last word where both speak of one thing.
 * An edit of mine whose id is taken gets another.
 */
export function editsTogether(theirs: readonly Edit[], mine: readonly Edit[], newId: () => string): Edit[] {
  const seen = new Set(theirs.map(contents));
  const taken = new Set(theirs.map(({ id }) => id));
  const added = mine
    .filter((edit) => !seen.has(contents(edit)))
    .map((edit) => (taken.has(edit.id) ? { ...edit, id: newId() } : edit));
  return [...theirs, ...added];
}
