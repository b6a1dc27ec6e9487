/** A reading as text for a terminal: a line for each box, or one box with its sums spelled out. */
import { boxAccount } from '../accounts/box.ts';
import { placeOf } from '../accounts/sizing/declared.ts';
import type { Account, Term } from '../accounts/model/term.ts';
import type { Analysis } from '../analysis.ts';
import { labelOf } from '../reading/labels.ts';
import { hasBox, rectOf } from '../boxes/tree.ts';
import { px, same } from '../geometry/rect.ts';

/** Boxes as a table, indented as they lie in each other. */
export function readingTable({ reading, tree }: Analysis): string {
  const depth: number[] = [];
  const rows = [['box', 'kind', 'width', 'height', 'x', 'y']];
  for (let i = 0; i < reading.count; i++) {
    depth[i] = reading.parent[i]! < 0 ? 0 : depth[reading.parent[i]!]! + 1;
    if (!hasBox(tree, i)) continue;
    const { x, y, width, height } = rectOf(reading, i);
    const label = labelOf(reading, i);
    const shown = label.length > 40 ? `${label.slice(0, 39)}…` : label;
    rows.push([`${'  '.repeat(depth[i]!)}${shown}`, tree.kinds[i]!, ...[width, height, x, y].map(px)]);
  }
  const widths = rows[0]!.map((_, c) => Math.max(...rows.map((row) => row[c]!.length)));
  return rows
    .map((row) =>
      row
        .map((cell, c) => (c < 2 ? cell.padEnd(widths[c]!) : cell.padStart(widths[c]!)))
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}

/** Boxes above which a table of them is no answer any more. */
const MOST_BOXES = 1000;
const SHOWN = 25;

/** The same, of a page with very many boxes its largest and how many there are; `isWhole`: all of them all the same. */
export function readingSummary(analysis: Analysis, isWhole: boolean): string {
  const { reading, tree } = analysis;
  const boxes = Array.from({ length: reading.count }, (_, i) => i).filter((i) => hasBox(tree, i));
  if (isWhole || boxes.length <= MOST_BOXES) return readingTable(analysis);
  const kinds = new Map<string, number>();
  for (const box of boxes) kinds.set(tree.kinds[box]!, (kinds.get(tree.kinds[box]!) ?? 0) + 1);
  const area = (box: number): number => {
    const { width, height } = rectOf(reading, box);
    return width * height;
  };
  const largest = [...boxes].sort((element, other) => area(other) - area(element)).slice(0, SHOWN);
  const { scrollWidth, scrollHeight } = reading.document;
  return [
    `${boxes.length} boxes on a page of ${px(scrollWidth)} × ${px(scrollHeight)} px; these are the ${SHOWN} largest:`,
    ...largest.map((box) => {
      const { x, y, width, height } = rectOf(reading, box);
      return `  ${labelOf(reading, box).slice(0, 60)}  ${tree.kinds[box]}  ${px(width)} × ${px(height)} at ${px(x)}, ${px(y)}`;
    }),
    `By kind: ${[...kinds]
      .sort(([, value], [, other]) => other - value)
      .map(([kind, count]) => `${count} ${kind}`)
      .join(', ')}.`,
    '--select CSS shows the boxes that match with their sums; --out FILE writes all of them, and --json --out FILE as a document.',
  ].join('\n');
}

const NAMES: Record<string, string> = { container: 'room', child: '', line: 'lines' };

function termLine(analysis: Analysis, { px: size, what, source, note, box }: Term): string {
  const declared =
    source && source.origin !== 'browser'
      ? `${source.property}: ${source.value}  ${source.selector}, ${placeOf(source)}`
      : source
        ? 'browser default'
        : '';
  const name = NAMES[what] ?? what.replace(/-/g, ' ');
  const whose = note || (box >= 0 && !declared ? labelOf(analysis.reading, box) : '');
  return `  ${px(size).padStart(10)}  ${[name, declared, whose].filter(Boolean).join('; ')}`;
}

export function sumLines(
  analysis: Analysis,
  { used, terms, residual, lost }: Account,
  words: string,
): string[] {
  const rest = same(residual, 0) ? [] : [`  ${px(residual).padStart(10)}  not explained`];
  return [
    ...terms.map((term) => termLine(analysis, term)),
    ...rest,
    `  ${px(used).padStart(10)}  ${words}`,
    ...lost.map(
      ({ property, why, source }) =>
        `              ${property}${source && source.origin !== 'browser' ? ` (${placeOf(source)})` : ''} counts for nothing: ${why}`,
    ),
  ];
}

/** One box: what it is, and why it is as wide and as tall. */
export function boxText(analysis: Analysis, element: number): string {
  const box = boxAccount(analysis, element);
  const { x, y } = box.areas.rect;
  return [
    `${box.label}  (${box.path})`,
    `${box.kindWords}, display: ${box.display}${box.position === 'static' ? '' : `, ${box.position}`}; at ${px(x)}, ${px(y)}`,
    '',
    'Across',
    box.width.sentence,
    ...sumLines(analysis, box.width, 'wide, border box'),
    '',
    'Down',
    box.height.sentence,
    ...sumLines(analysis, box.height, 'tall, border box'),
  ].join('\n');
}
