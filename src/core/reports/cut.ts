/** Diffs of files with long lines, as minifiers write them: cut to what is around the change. */

/** Characters of a line above which nobody wrote it by hand and it is cut, and how many are kept on each side of the change. */
const LONG = 1000;
const AROUND = 120;

const ELLIPSIS = '…';

/** The part of `line` from `from` to `to` with some characters around it. */
function around(line: string, from: number, to: number): string {
  const [start, end] = [Math.max(0, from - AROUND), Math.min(line.length, to + AROUND)];
  return `${start > 0 ? ELLIPSIS : ''}${line.slice(start, end)}${end < line.length ? ELLIPSIS : ''}`;
}

/** How many characters two texts have in common at their beginnings. */
function commonStart(text: string, other: string): number {
  const most = Math.min(text.length, other.length);
  let at = 0;
  while (at < most && text[at] === other[at]) at++;
  return at;
}

/** The same at their ends. */
function commonEnd(text: string, other: string): number {
  const most = Math.min(text.length, other.length);
  let count = 0;
  while (count < most && text[text.length - 1 - count] === other[other.length - 1 - count]) count++;
  return count;
}

/** Two lines, one in the place of the other, cut to where they differ. */
function cutPair(before: string, after: string): [string, string] {
  const start = commonStart(before, after);
  const end = commonEnd(before.slice(start), after.slice(start));
  return [around(before, start, before.length - end), around(after, start, after.length - end)];
}

const cutAlone = (line: string): string =>
  line.length > LONG ? `${line.slice(0, 2 * AROUND)}${ELLIPSIS}` : line;

/**
 * A unified diff with long lines cut to what is around the change. `isCut`: it is to be read, and can no longer be applied; a diff
 * without long lines stays as it is.
 */
export function cutDiff(diff: string): { diff: string; isCut: boolean } {
  const lines = diff.split('\n');
  if (lines.every(({ length }) => length <= LONG)) return { diff, isCut: false };
  const out: string[] = [];
  for (let at = 0; at < lines.length;) {
    const isOf = (sign: string, index: number): boolean =>
      (lines[index]?.startsWith(sign) ?? false) && !/^(\+\+\+|---) /.test(lines[index]!);
    let middle = at;
    while (isOf('-', middle)) middle++;
    let end = middle;
    while (isOf('+', end)) end++;
    const [removed, added] = [lines.slice(at, middle), lines.slice(middle, end)];
    if (removed.length === 0 && added.length === 0) {
      out.push(cutAlone(lines[at]!));
      at++;
      continue;
    }
    const pairs = removed.map((line, i) =>
      added[i] === undefined ? null : cutPair(line.slice(1), added[i].slice(1)),
    );
    out.push(...removed.map((line, i) => (pairs[i] ? `-${pairs[i][0]}` : cutAlone(line))));
    out.push(...added.map((line, i) => (pairs[i] ? `+${pairs[i][1]}` : cutAlone(line))));
    at = end;
  }
  return { diff: out.join('\n'), isCut: true };
}
