/** Named areas of a grid (CSS Grid 2 §7.3). */

/** The rows of `grid-template-areas`, each a list of names; `.` is an empty cell. */
export const areaRows = (value: string): string[][] =>
  [...value.matchAll(/"([^"]*)"|'([^']*)'/g)].map(([, double, single]) =>
    (double ?? single ?? '').trim().split(/\s+/),
  );

/** Names of areas that a value declares. */
export const areaNames = (value: string): string[] => [
  ...new Set(
    areaRows(value)
      .flat()
      .filter((name) => !/^\.+$/.test(name) && name !== ''),
  ),
];

/** Why a value is invalid though its syntax is right: its rows are not equally long, or an area is no rectangle. null: it is valid. */
export function invalidAreas(value: string): string | null {
  const rows = areaRows(value);
  const [first] = rows;
  if (!first) return null;
  const odd = rows.find((row) => row.length !== first.length);
  if (odd) return `its rows have ${first.length} and ${odd.length} columns`;
  for (const name of areaNames(value)) {
    const cells = rows.flatMap((row, y) => row.flatMap((cell, x) => (cell === name ? [[x, y] as const] : [])));
    const [xs, ys] = [cells.map(([x]) => x), cells.map(([, y]) => y)];
    const size = (Math.max(...xs) - Math.min(...xs) + 1) * (Math.max(...ys) - Math.min(...ys) + 1);
    if (size !== cells.length) return `the cells of ${name} make no rectangle`;
  }
  return null;
}

/** The value with short rows filled up by their last name; null: that does not make it valid. */
export function evenAreas(value: string): string | null {
  const rows = areaRows(value);
  const most = Math.max(...rows.map((row) => row.length));
  const even = rows.map((row) => [...row, ...Array<string>(most - row.length).fill(row.at(-1)!)]);
  const text = even.map((row) => `"${row.join(' ')}"`).join(' ');
  return invalidAreas(text) === null ? text : null;
}
