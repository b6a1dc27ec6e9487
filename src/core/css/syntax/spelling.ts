/** Words that are near to each other. */

/** Letters to be changed, put in, left out or swapped with the next. */
export function spellingDistance(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > 2) return 9;
  const rows = Array.from({ length: a.length + 1 }, (_, i) =>
    Array.from({ length: b.length + 1 }, (_, j) => (i === 0 ? j : j === 0 ? i : 0)),
  );
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const swap =
        i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1] ? rows[i - 2]![j - 2]! + 1 : Infinity;
      rows[i]![j] = Math.min(
        rows[i - 1]![j]! + 1,
        rows[i]![j - 1]! + 1,
        rows[i - 1]![j - 1]! + Number(a[i - 1] !== b[j - 1]),
        swap,
      );
    }
  return rows[a.length]![b.length]!;
}

/** Those of some words that differ by two letters at most, the nearest first; of short words by one. */
export const nearestWords = (word: string, words: readonly string[]): string[] =>
  words
    .map((name) => ({ name, far: spellingDistance(name, word) }))
    .filter(({ far }) => far <= (word.length < 5 ? 1 : 2))
    .sort((a, b) => a.far - b.far)
    .map(({ name }) => name);
