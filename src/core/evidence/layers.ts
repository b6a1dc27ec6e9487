/** Boxes that are made to lie above others: menus, dialogs, tips (HTML §6.12, WAI-ARIA roles). */
import type { Analysis } from '../analysis.ts';
import { attribute, usedText } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { tagOf } from '../reading/labels.ts';
import { boxName } from '../visibility/visibility.ts';
import { facts, type Fact } from './model.ts';

const ROLES = /^(menu|listbox|dialog|alertdialog|tooltip|tree|status|alert)$/;

/** What says of a placed box that it opens over the page. `path`: the boxes from what covers up to what holds both. */
export function layerFacts(analysis: Analysis, path: readonly number[]): Fact[] {
  const { tree, reading, styles } = analysis;
  const placed = path.find((at) => /absolute|fixed/.test(usedText(reading, 'position', at)));
  if (placed === undefined) return [];
  const isNamed = path.some(
    (at) =>
      ROLES.test(attribute(tree, at, 'role') ?? '') ||
      attribute(tree, at, 'popover') !== null ||
      /^(dialog|menu)$/.test(tagOf(reading, at)) ||
      (tagOf(reading, at) === 'details' && attribute(tree, at, 'open') !== null),
  );
  const hasShadow = /\d/.test(resolve(styles, placed, 'box-shadow').value);
  const isList = path.some(
    (at) => /^(ul|ol)$/.test(tagOf(reading, at)) && usedText(reading, 'position', at) === 'absolute',
  );
  const isRaised = Number(usedText(reading, 'z-index', placed)) > 0;
  return facts([
    'opens-over-the-page',
    (isNamed || isList || (hasShadow && isRaised)) &&
      `${boxName(analysis, placed)} is made as something that opens over the page`,
  ]);
}
