/** Columns that are declared alike and are not: what is in one of them keeps it wider (Flexbox 1 §4.5, Grid 2 §12.7). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { intrinsicOf } from '../../accounts/sizing/intrinsic-sizing.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import { areaOf, tracksOf } from '../../boxes/grid-tracks.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './../gap/containers.ts';

const LEAST = 6;

function unevenItems(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  if (isMainAxisVertical(tree, container)) return [];
  const items = itemsOf(analysis, container).filter((item) => {
    const [basis, grow] = ['flex-basis', 'flex-grow'].map((property) =>
      authorDeclaration(analysis, item, property),
    );
    return (
      basis?.owner === item && grow?.owner === item && /^0(px|%)?$/.test(basis.value) && Number(grow.value) > 0
    );
  });
  if (
    stopsByGeometry(analysis, container, items.length < 2 && 'no two items of it share its width from nothing')
  )
    return [];
  const shares = items.map((item) => {
    const { rect } = laidAreas(tree, item);
    return {
      item,
      y: rect.y,
      each: rect.width / Number(authorDeclaration(analysis, item, 'flex-grow')!.value),
    };
  });
  const row = shares.filter(({ y }) => Math.abs(y - shares[0]!.y) < 2);
  const least = Math.min(...row.map(({ each }) => each));
  const most = row.reduce((a, b) => (b.each > a.each ? b : a));
  if (
    stopsByGeometry(
      analysis,
      container,
      (row.length < 2 || most.each - least < LEAST) && 'its items share its width as declared',
    )
  )
    return [];
  const { rect, content } = laidAreas(tree, most.item);
  const isHeld = (intrinsicOf(analysis, most.item)?.min ?? 0) + rect.width - content.width >= rect.width - 1;
  if (
    stopsByGeometry(analysis, most.item, !isHeld && 'what is in it could be narrower: its edges make it wider')
  )
    return [];
  return [
    observed({
      px: most.each - least,
      axis: 'x',
      subject: most.item,
      other: container,
      what: `${boxName(analysis, most.item)} is ${px(most.each - least)} px wider than the others that share the width of ${boxName(analysis, container)} with it`,
      boxes: [most.item, container],
      weight: 40 + most.each - least,
    }),
  ];
}

function unevenColumns(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const declaration = authorDeclaration(analysis, container, 'grid-template-columns');
  const isEven =
    declaration !== null &&
    (/^repeat\(\s*\d+\s*,\s*1fr\s*\)$/.test(declaration.value) || /^1fr(\s+1fr)+$/.test(declaration.value));
  if (stopsByGeometry(analysis, container, !isEven && 'its columns are not declared as equal parts')) return [];
  // What goes beyond them makes columns of its own size.
  const { sizes: all } = tracksOf(tree, container, 'columns');
  const sizes = all.slice(0, declaredCount(declaration!.value));
  const by = Math.max(...sizes) - Math.min(...sizes);
  if (stopsByGeometry(analysis, container, by < LEAST && 'its columns are equally wide')) return [];
  const column = sizes.indexOf(Math.max(...sizes));
  const item =
    itemsOf(analysis, container).find((at) => areaOf(tree, at)?.column.first === column) ?? container;
  return [
    observed({
      px: by,
      axis: 'x',
      subject: container,
      other: item,
      what: `Columns of ${boxName(analysis, container)} are declared as equal parts, and one is ${px(by)} px wider: what is in it cannot be narrower`,
      boxes: [item, container],
      weight: 40 + by,
    }),
  ];
}

const declaredCount = (value: string): number =>
  Number(/repeat\(\s*(\d+)/.exec(value)?.[1] ?? value.trim().split(/\s+/).length);

function uneven(analysis: Analysis, container: number): Observed[] {
  const layout = layoutOf(analysis.tree, container);
  return layout === 'flex'
    ? unevenItems(analysis, container)
    : layout === 'grid'
      ? unevenColumns(analysis, container)
      : [];
}

function suspects(analysis: Analysis, { subject, other }: Observation): Suspect[] {
  if (
    layoutOf(analysis.tree, subject) === 'grid' &&
    authorDeclaration(analysis, subject, 'grid-template-columns')
  ) {
    const { value } = authorDeclaration(analysis, subject, 'grid-template-columns')!;
    return [
      suspect(analysis, subject, 'grid-template-columns', 'a part of 1fr is no narrower than what is in it', [
        fix(
          'let the parts be narrower than what is in them',
          subject,
          'grid-template-columns',
          value.replaceAll(/\b1fr\b/g, 'minmax(0, 1fr)'),
          104,
        ),
      ]),
      ...(other === null
        ? []
        : [
            suspect(
              analysis,
              other,
              'min-width',
              `${boxName(analysis, other)} is no narrower than what is in it`,
              [fix('let it be narrower', other, 'min-width', '0', 96)],
            ),
          ]),
    ];
  }
  return [
    suspect(
      analysis,
      subject,
      'min-width',
      `${boxName(analysis, subject)} is no narrower than what is in it (min-width: auto)`,
      [fix('let it be narrower', subject, 'min-width', '0', 104)],
    ),
  ];
}

export const rule: Rule<'size/uneven-tracks'> = {
  id: 'size/uneven-tracks',
  kind: 'size',
  title: 'Columns that are declared alike are not equally wide',
  spec: ['Flexbox 1 §4.5', 'CSS Grid 2 §12.7'],
  why: 'Flex items and tracks of 1fr are by default no narrower than the longest of what is in them.',
  usual: '`min-width: 0` on the items, `minmax(0, 1fr)` for the tracks.',
  example: `<style>section { display: flex; width: 300px } div { flex: 1; background: tan }</style><section><div>a</div><div>Gannetstepslowerquayandfallow</div></section>`,
  observe: inContainers(uneven),
  suspects,
};
