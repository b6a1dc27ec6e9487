/** Terms of a sum put together for reading: those of one cause on one line, many of one kind under one heading. */
import type { Term } from '$core/accounts/model/term.ts';
import { px } from '$core/geometry/rect.ts';
import type { Area } from '../bars/areas.ts';

const AREAS = new Set<string>(['margin', 'border', 'padding', 'scrollbar', 'content']);

/** The area whose filling stands before a term; null for what is none of the box's own areas. */
export function areaOf({ what, rule }: Term): Area | null {
  if (what === 'border-box') return 'content';
  if (rule === 'margin-collapsed') return 'margin';
  const area = what.split('-')[0]!;
  return AREAS.has(area) ? (area as Area) : null;
}

export const termName = ({ what, rule }: Term): string => {
  const names: Record<string, string> = {
    container: 'room',
    child: 'box in it',
    'border-box': 'border box',
    sibling: 'taken',
    share: rule === 'flex-grow' ? 'part of the free space' : 'part of the missing space',
    'line-above': 'line, over its baseline',
    'line-below': 'line, under its baseline',
    free: 'free space',
  };
  return names[what] ?? what.replace(/-(top|right|bottom|left)$/, '').replace(/-/g, ' ');
};

const cause = ({ what, rule, box, note, source }: Term): string =>
  [
    termName({ what, rule } as Term),
    rule,
    box,
    note,
    source?.sheet,
    source?.line,
    source?.column,
    source?.property,
  ].join('|');

/** A reason as a sentence's end. */
export const ended = (words: string): string => (words.endsWith('.') ? words : `${words}.`);

/** Terms alike in everything but the side. */
export interface Line {
  terms: Term[];
}

/** Lines of one kind, told as one where there are many. */
export interface Group {
  lines: Line[];
  name: string;
  px: number;
}

const MANY = 5;

export function groupsOf(terms: readonly Term[]): Group[] {
  const lines: Line[] = [];
  for (const term of terms) {
    const line = lines.find(({ terms: [first] }) => first && cause(first) === cause(term));
    if (line) line.terms.push(term);
    else lines.push({ terms: [term] });
  }
  const kinds = new Map<string, Line[]>();
  for (const line of lines) {
    const key =
      line.terms[0]!.what === 'child'
        ? 'child'
        : line.terms[0]!.rule === 'margin-collapsed'
          ? 'collapsed'
          : termName(line.terms[0]!);
    kinds.set(key, [...(kinds.get(key) ?? []), line]);
  }
  const sum = (list: Line[]) => list.flatMap(({ terms }) => terms).reduce((total, term) => total + term.px, 0);
  return [...kinds].flatMap(([key, list]): Group[] =>
    list.length >= MANY
      ? [
          {
            lines: list,
            name:
              key === 'child'
                ? `${list.length} boxes in it`
                : key === 'collapsed'
                  ? `${list.length} margins that meet between them`
                  : `${list.length} times ${key}`,
            px: sum(list),
          },
        ]
      : list.map((line) => ({ lines: [line], name: '', px: sum([line]) })),
  );
}

/** The px of one line of a sum, one after the other. */
export const addends = (terms: readonly Term[]): string =>
  terms
    .map((term) => px(term.px))
    .join(' + ')
    .replace(/\+ −/g, '− ');
