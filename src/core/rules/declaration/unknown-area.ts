/** Items that are placed into an area of a grid that no template names (CSS Grid 2 §8.4). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { nearestWords } from '../../css/syntax/spelling.ts';
import { areaNames } from '../../css/values/template-areas.ts';
import { facts } from '../../evidence/model.ts';
import { boxName } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** Area and line names that a grid knows. */
function namesOf({ styles }: Analysis, grid: number): string[] {
  const value = (property: string): string => resolve(styles, grid, property).value;
  const areas = areaNames(value('grid-template-areas'));
  const lines = [value('grid-template-columns'), value('grid-template-rows')].flatMap((text) =>
    [...text.matchAll(/\[([^\]]*)\]/g)].flatMap(([, names]) => names!.trim().split(/\s+/)),
  );
  return [...areas, ...lines];
}

function unknownAreas(analysis: Analysis): Observed[] {
  const { tree, styles, reading } = analysis;
  const out: Observed[] = [];
  for (const item of declaring(styles, 'grid-row-start', tree.count)) {
    if (isUnseen(analysis, item)) continue;
    const grid = reading.parent[item]!;
    if (stopsByGeometry(analysis, item, layoutOf(tree, grid) !== 'grid' && 'it is no grid item')) continue;
    const declaration = authorDeclaration(analysis, item, 'grid-row-start');
    const name = declaration?.value ?? '';
    const names = namesOf(analysis, grid);
    const isKnown =
      !/^[a-z_-][\w-]*$/i.test(name) ||
      /^(auto|span|initial|inherit|unset)$/.test(name) ||
      names.some((known) => known === name || known === `${name}-start`);
    if (
      stopsByGeometry(analysis, item, isKnown && 'it is placed by numbers, or into an area that the grid names')
    )
      continue;
    const [near] = nearestWords(name, names);
    out.push(
      observed({
        px: 0,
        axis: 'x',
        subject: item,
        other: grid,
        what: `${boxName(analysis, item)} is placed into the area ${name}, which ${boxName(analysis, grid)} does not name${near ? `; it names ${near}` : ''}`,
        evidence: facts(['a-name-is-near', near !== undefined && `${near} differs by a letter or two`]),
        boxes: [item, grid],
        weight: 60,
        source: declaration!.source,
      }),
    );
  }
  return out;
}

export const rule: Rule<'declaration/unknown-area'> = {
  id: 'declaration/unknown-area',
  kind: 'inert',
  title: 'An item is placed into an area that the grid does not name',
  spec: ['CSS Grid 2 §8.4'],
  why: 'A name that no template has makes implicit lines: the item goes beyond the declared tracks.',
  usual: 'Write the name as the template does.',
  example: `<style>section { display: grid; grid-template-areas: "head head" "main side" } p { grid-area: sied }</style><section><p>Text</p></section>`,
  observe: unknownAreas,
  suspects: (analysis, { subject, other, source }) => {
    const name = authorDeclaration(analysis, subject, 'grid-row-start')?.value ?? '';
    const [near] = nearestWords(name, namesOf(analysis, other!));
    return [
      suspect(analysis, subject, 'grid-row-start', `no area of ${boxName(analysis, other!)} is named ${name}`, [
        near ? fix(`write ${near}`, subject, source?.property ?? 'grid-area', near, 110) : null,
        fix('let the grid place it', subject, source?.property ?? 'grid-area', 'auto', 80),
      ]),
    ];
  },
};
