/** Why a number changed between two readings: the terms of its two sums held against each other. */
import { positionAccount } from '../accounts/position.ts';
import { sizeAccount } from '../accounts/sizing/size.ts';
import { sumOf, type Term } from '../accounts/model/term.ts';
import type { Analysis } from '../analysis.ts';
import { labelOf } from '../reading/labels.ts';
import type { Source } from '../css/cascade/styles.ts';
import type { Axis } from '../geometry/rect.ts';
import { matchBoxes, type Difference } from './reading-diff.ts';

export interface Change {
  /** CSS px that the term gives the number in either reading; 0 where it has no such term. */
  before: number;
  after: number;
  what: string;
  /** The box that the term is of, in the reading after; −1: it is of none there. */
  box: number;
  label: string;
  note: string;
  /** The declaration behind it, in either reading. */
  was: Source | null;
  is: Source | null;
}

export interface Reason {
  /** What is explained: a size or a place. */
  number: 'width' | 'height' | 'x' | 'y';
  from: number;
  to: number;
  /** Largest first. */
  changes: Change[];
  /** What the changes do not explain, in CSS px. */
  residual: number;
}

const NEAR = 0.05;

/** The number of a box that changed most. */
function numberOf({ dx, dy, dw, dh }: Difference): Reason['number'] {
  const sizes = Math.max(Math.abs(dw), Math.abs(dh));
  if (sizes > NEAR) return Math.abs(dw) >= Math.abs(dh) ? 'width' : 'height';
  return Math.abs(dx) >= Math.abs(dy) ? 'x' : 'y';
}

/** null: the box is not in both readings, so that there are no two sums. */
export function explainChange(before: Analysis, after: Analysis, difference: Difference): Reason | null {
  const { what, before: a, after: b } = difference;
  if (a < 0 || b < 0 || what === 'appeared' || what === 'vanished') return null;
  const number = numberOf(difference);
  const axis: Axis = number === 'width' || number === 'x' ? 'x' : 'y';
  const sum = (analysis: Analysis, element: number) =>
    number === 'width' || number === 'height'
      ? sizeAccount(analysis, element, axis)
      : positionAccount(analysis, element, axis);
  const [was, is] = [sum(before, a), sum(after, b)];
  const boxes = new Map(matchBoxes(before.reading, after.reading));
  const groups = new Map<string, { was: Term[]; is: Term[] }>();
  const put = (side: 'was' | 'is', key: string, term: Term) => {
    const group = groups.get(key) ?? { was: [], is: [] };
    group[side].push(term);
    groups.set(key, group);
  };
  for (const term of was.terms) put('was', `${term.what} ${boxes.get(term.box) ?? `gone ${term.box}`}`, term);
  for (const term of is.terms) put('is', `${term.what} ${term.box < 0 ? `gone ${term.box}` : term.box}`, term);
  const changes: Change[] = [];
  for (const group of groups.values()) {
    const [from, to] = [sumOf(group.was), sumOf(group.is)];
    if (Math.abs(to - from) <= NEAR) continue;
    const term = group.is[0] ?? group.was[0]!;
    const box = group.is[0]?.box ?? -1;
    changes.push({
      before: from,
      after: to,
      what: term.what,
      box,
      label:
        box >= 0
          ? labelOf(after.reading, box)
          : group.was[0] && group.was[0].box >= 0
            ? labelOf(before.reading, group.was[0].box)
            : '',
      note: term.note,
      was: group.was[0]?.source ?? null,
      is: group.is[0]?.source ?? null,
    });
  }
  changes.sort(
    (change, other) => Math.abs(other.after - other.before) - Math.abs(change.after - change.before),
  );
  const reported = changes.reduce((all, change) => all + change.after - change.before, 0);
  return { number, from: was.used, to: is.used, changes, residual: is.used - was.used - reported };
}
