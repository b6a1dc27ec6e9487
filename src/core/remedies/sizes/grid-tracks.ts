/** Let the rows of a grid grow, and its columns shrink (Grid 2 §7.2). */
import { cite, authorDeclaration } from '../../accounts/author-declaration.ts';
import { usedText } from '../../boxes/tree.ts';
import { matchesSyntax } from '../../css/syntax/property-syntax.ts';
import { put, type Proposal } from '../model.ts';
import type { SizeQuestion } from './size-question.ts';

/** Rows of a fixed size that may grow with what is in them. */
export function growingRows({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { reading } = analysis;
  const { kind, axis } = observation;
  for (const property of axis === 'y' && kind !== 'stray-scroll'
    ? ['grid-auto-rows', 'grid-template-rows']
    : []) {
    const rows = /grid$/.test(usedText(reading, 'display', element))
      ? authorDeclaration(analysis, element, property)
      : null;
    const growing = rows?.value.replace(/(^|\s|,)(\d*\.?\d+(?:px|rem|em|%))/g, '$1minmax($2, auto)') ?? '';
    if (!rows || growing === rows.value || !matchesSyntax(property, growing)) continue;
    out.push({
      element,
      property,
      source: rows.source,
      rule: 'tracks',
      because: `the rows of ${label} do not grow ${cite(rows)}`,
      words: 'let its rows grow',
      steps: [put(analysis, element, property, growing)],
      rank: 86,
    });
  }
  return out;
}

/** Columns that may become narrower than what is in them. */
export function shrinkingColumns({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { axis } = observation;
  const display = usedText(analysis.reading, 'display', element);
  const columns =
    /grid$/.test(display) && axis === 'x'
      ? authorDeclaration(analysis, element, 'grid-template-columns')
      : null;
  const shrinking = columns ? asShrinking(columns.value) : '';
  if (
    columns &&
    columns.source.property.startsWith('grid') &&
    shrinking !== columns.value &&
    matchesSyntax('grid-template-columns', shrinking)
  )
    out.push({
      element,
      property: 'grid-template-columns',
      source: columns.source,
      rule: 'tracks',
      because: `the columns of ${label} do not shrink ${cite(columns)}`,
      words:
        /min\(/.test(shrinking) && !/min\(/.test(columns.value)
          ? 'let no column be wider than the grid'
          : 'let its columns shrink',
      steps: [put(analysis, element, 'grid-template-columns', shrinking)],
      rank: 79,
    });
  return out;
}

/** Tracks that give way: a minimum of a length is no more than the grid, any other is 0 (Grid 2 §7.2.3). */
function asShrinking(tracks: string): string {
  const held: string[] = [];
  const hold = (text: string): string => `<${held.push(text) - 1}>`;
  return tracks
    .replace(/minmax\(\s*(\d*\.?\d+(?:px|rem|em|ch|ex|vw))\s*,([^()]*)\)/g, (_, least: string, most: string) =>
      hold(`minmax(min(${least}, 100%),${most})`),
    )
    .replace(/minmax\((?:[^()]|\([^()]*\))*\)/g, hold)
    .replace(/(^|[\s,(])(\d*\.?\d+fr)/g, '$1minmax(0, $2)')
    .replace(/(^|[\s,(])(\d*\.?\d+(?:px|rem|em))/g, '$1minmax(0, $2)')
    .replace(/<(\d+)>/g, (_, n: string) => held[Number(n)]!);
}
