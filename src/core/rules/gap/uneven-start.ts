/** Like boxes of a row or a column of which one begins elsewhere, by an edge that the others do not have (CSS 2.2 §8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Axis, px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, hasBackground, isTransformed } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { itemsOf, sortOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 4;
/** CSS px from which on it is a step of a staircase, and no slip. */
const MOST = 48;

/** Groups boxes of one sort by where they begin, within half a px. */
function inLines(analysis: Analysis, items: readonly number[], across: Axis): number[][] {
  const lines = new Map<string, number[]>();
  for (const item of items) {
    const { rect, margin } = laidAreas(analysis.tree, item);
    // In a row their margin boxes begin at one height; in a column at one side.
    const at = across === 'y' ? rect.y - margin.top : rect.x - margin.left;
    const key = `${sortOf(analysis, item)} ${Math.round(at)}`;
    const line = lines.get(key);
    if (line) line.push(item);
    else lines.set(key, [item]);
  }
  return [...lines.values()].filter((line) => line.length > 1);
}

/** CSS px between where a margin box begins and where its content does. */
function startOf({ tree }: Analysis, item: number, across: Axis): number {
  const { margin, border, padding } = laidAreas(tree, item);
  const side = across === 'y' ? 'top' : 'left';
  return margin[side] + border[side] + padding[side];
}

const edgesOf = ({ tree }: Analysis, element: number): number => {
  const { top, right, bottom, left } = laidAreas(tree, element).border;
  return top + right + bottom + left;
};

function unevenStart(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const items = itemsOf(analysis, container).filter((item) => !isTransformed(analysis, item));
  if (stopsByGeometry(analysis, container, items.length < 2 && 'it holds fewer than two boxes')) return [];
  const layout = layoutOf(tree, container);
  const out: Observed[] = [];
  for (const across of ['y', 'x'] as const)
    for (const line of inLines(analysis, items, across)) {
      // A row lies along x, a column along y.
      const isRow = line.every((item, n) => {
        if (n === 0) return true;
        const [before, at] = [laidAreas(tree, line[n - 1]!).rect, laidAreas(tree, item).rect];
        return across === 'y' ? at.x >= before.x + before.width - 1 : at.y >= before.y + before.height - 1;
      });
      if (!isRow) continue;
      const starts = line.map((item) => startOf(analysis, item, across));
      const usual = [...starts].sort((a, b) => a - b)[Math.floor((starts.length - 1) / 2)]!;
      const odd = line.filter((_, n) => Math.abs(starts[n]! - usual) >= LEAST);
      const by = Math.max(...odd.map((item) => Math.abs(startOf(analysis, item, across) - usual)), 0);
      if (
        stopsByGeometry(
          analysis,
          container,
          (odd.length === 0 || odd.length * 2 > line.length || by > MOST) &&
            'boxes of one sort begin alike in its rows and columns',
        )
      )
        continue;
      // All but the first have it: what follows its like was set off from it.
      const isBeforeOthers =
        odd[0] === line[0] && odd.length === 1 && startOf(analysis, odd[0]!, across) < usual;
      const isHigher = !isBeforeOthers && startOf(analysis, odd[0]!, across) < usual;
      const places = isBeforeOthers ? line.slice(1) : odd;
      const subject = places[0]!;
      const other = line.find((item) => !places.includes(item))!;
      const isFilled =
        hasBackground(analysis, subject) !== hasBackground(analysis, other) ||
        edgesOf(analysis, subject) > edgesOf(analysis, other) + 0.5;
      out.push(
        observed({
          px: by,
          axis: across,
          subject,
          other: container,
          what: `${boxName(analysis, subject)} begins ${px(by)} px ${isHigher ? (across === 'y' ? 'higher' : 'further out') : across === 'y' ? 'further down' : 'further in'} than ${isBeforeOthers ? 'the first' : 'the others'} of its sort ${across === 'y' ? 'in its row' : 'below each other'}`,
          evidence: facts(
            ['made-to-stand-out', isFilled && 'It has a ground or a border that the others do not have'],
            [
              'unlike-sorts',
              tagOf(analysis.reading, subject) === 'li' &&
                across === 'x' &&
                'Items of lists are set in by their level',
            ],
            [
              'rows-share-a-line',
              layout !== 'flow' && 'They are items of one row of a flex container or a grid',
            ],
          ),
          places,
          boxes: [subject],
          weight: 20 + by / 4,
        }),
      );
    }
  return out;
}

/** The edge that it has and the others do not. */
function suspects(analysis: Analysis, { subject, axis }: Observation): Suspect[] {
  const side = axis === 'y' ? 'top' : 'left';
  const areas = laidAreas(analysis.tree, subject);
  return (['margin', 'padding'] as const).flatMap((area): Suspect[] => {
    const property = `${area}-${side}`;
    const declaration = authorDeclaration(analysis, subject, property);
    if (declaration?.owner !== subject || Math.abs(areas[area][side]) < LEAST) return [];
    return [
      suspect(
        analysis,
        subject,
        property,
        `${boxName(analysis, subject)} has a ${area} of ${declaration.value} at its start, which the others do not have`,
        [fix(`take the ${area} out`, subject, property, '0', 100)],
      ),
    ];
  });
}

export const rule: Rule<'gap/uneven-start'> = {
  id: 'gap/uneven-start',
  kind: 'gap',
  title: 'One of several like boxes begins elsewhere',
  spec: ['CSS 2.2 §8', 'Flexbox 1 §8'],
  why: 'A margin or a padding between boxes that stood below each other is left where they stand beside each other, or the other way round.',
  usual: 'Use `gap` of the container, which lies between boxes on either axis.',
  example: `<style>form { display: flex; gap: 10px } label { flex: 1; background: linen } label + label { padding-top: 20px }</style><form><label>Name</label><label>Harbour</label><label>Date</label></form>`,
  observe: inContainers(unevenStart),
  suspects,
  drawn: beforeStart,
};
