/** Grid items that are placed into the same cells (CSS Grid 2 §8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { areaOf } from '../../boxes/grid-tracks.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { fix, suspect } from '../suspects.ts';

/** The grid items of one grid that two boxes are, or lie in; null: there are none. */
function itemsOf(analysis: Analysis, a: number, b: number): [number, number] | null {
  const { tree, reading } = analysis;
  const around = selfAndAncestors(analysis, a).filter((at) => tree.kinds[at] === 'grid-item');
  for (const other of selfAndAncestors(analysis, b)) {
    if (tree.kinds[other] !== 'grid-item') continue;
    const item = around.find((at) => at !== other && reading.parent[at] === reading.parent[other]);
    if (item !== undefined) return [item, other];
  }
  return null;
}

/** Whoever places two items that overlap into the same columns and rows. */
export function sharedCells(analysis: Analysis, { subject, other }: Observation): Suspect[] {
  const items = other === null ? null : itemsOf(analysis, subject, other);
  if (!items) return [];
  const out: Suspect[] = [];
  for (const [item, beside] of [items, [...items].reverse() as [number, number]]) {
    const [area, taken] = [areaOf(analysis.tree, item), areaOf(analysis.tree, beside)];
    if (!area || !taken) continue;
    for (const [axis, span, others, across] of [
      ['column', area.column, taken.column, [area.row, taken.row]],
      ['row', area.row, taken.row, [area.column, taken.column]],
    ] as const) {
      const meet = (a: typeof span, b: typeof span): boolean => a.first <= b.last && b.first <= a.last;
      if (!meet(span, others) || !meet(across[0], across[1])) continue;
      const [start, end] = [`grid-${axis}-start`, `grid-${axis}-end`];
      const placed = [start, end].find((property) => {
        const declaration = authorDeclaration(analysis, item, property);
        return declaration?.owner === item && declaration.value !== 'auto';
      });
      if (placed === undefined) continue;
      const because = `${boxName(analysis, item)} is placed into ${axis}s that ${boxName(analysis, beside)} has as well`;
      const isLonger = span.last > span.first;
      out.push(
        suspect(analysis, item, placed, because, [
          span.first < others.first
            ? fix(
                `end it where ${boxName(analysis, beside)} begins`,
                item,
                end,
                String(others.first + 1),
                isLonger ? 112 : 100,
              )
            : null,
          span.last > others.last
            ? fix(
                `begin it where ${boxName(analysis, beside)} ends`,
                item,
                start,
                String(others.last + 2),
                isLonger ? 106 : 104,
              )
            : null,
          {
            words: 'let the grid place it',
            puts: [start, end].map((property) => ({ element: item, property, value: 'auto' })),
            rank: 90,
          },
        ]),
      );
    }
  }
  return out;
}
