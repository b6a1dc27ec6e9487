/** Changes as edits of a trial, and as anyone else would write them. */
import type { Analysis } from '../analysis.ts';
import { labelOf, pathOf, tagOf } from '../reading/labels.ts';
import type { Source } from '../css/cascade/styles.ts';
import { editSchema, type BlockTarget, type Change, type Edit } from '../trials/edit.ts';
import { resolveNesting } from '../css/syntax/selectors.ts';
import { blockOf, declarationAt, type Files } from '../trials/targets.ts';
import { blockFor, type Step } from './model.ts';

/** A change of one declaration: `value` '' takes it out, `was` '' puts a new one in. */
export interface Shown {
  selector: string;
  property: string;
  value: string;
  was: string;
}

export interface Put {
  edits: Edit[];
  shown: Shown[];
}

/** Several changes at once. */
export const joined = (puts: readonly Put[]): Put => ({
  edits: puts.flatMap(({ edits }, k) => edits.map((edit) => ({ ...edit, id: `${edit.id}-${k}` }))),
  shown: puts.flatMap(({ shown }) => shown),
});

/** null: something of it does not stand in the page's own files, so that it cannot be edited there. */
export function editsFor(analysis: Analysis, files: Files, steps: readonly Step[]): Put | null {
  const out: Put = { edits: [], shown: [] };
  for (const [n, step] of steps.entries()) {
    const edit = editOf(analysis, files, step);
    if (!edit) return null;
    out.edits.push(editSchema.parse({ id: `r${n}`, step: 'remedy', change: edit.change }));
    out.shown.push(edit.shown);
  }
  return out;
}

function editOf(analysis: Analysis, files: Files, step: Step): { change: Change; shown: Shown } | null {
  const { source, beside, element, property, value } = step;
  const { page } = analysis.sources;
  if (property === 'viewport')
    return {
      change: { do: 'viewport', file: page, content: value },
      shown: { selector: 'meta[name=viewport]', property, value, was: '' },
    };
  if (source) {
    const at = placeOf(analysis, files, element, source);
    if (!at) return null;
    const named = { property, nth: at.nth, at: at.target, was: source.value };
    return {
      change:
        value === ''
          ? { do: 'mute', ...named }
          : { do: 'change', ...named, value, important: isImportant(files, source) },
      shown: { selector: selectorOf(analysis, files, at.target, element), property, value, was: source.value },
    };
  }
  const block = beside ? placeOf(analysis, files, element, beside)?.target : ownBlock(analysis, element);
  if (!block) return null;
  if (block.kind === 'sheet')
    return {
      change: {
        do: 'rule',
        at: block,
        selector: block.selector,
        declarations: [{ property, value, important: false }],
      },
      shown: { selector: block.selector, property, value, was: '' },
    };
  return {
    change: { do: 'add', at: block, property, value, important: false },
    shown: { selector: selectorOf(analysis, files, block, element), property, value, was: '' },
  };
}

const isImportant = (files: Files, source: Source): boolean =>
  declarationAt(files, source.sheet, source.line, source.column)?.declaration.important ?? false;

function placeOf(
  analysis: Analysis,
  files: Files,
  element: number,
  source: Source,
): { target: BlockTarget; nth: number } | null {
  if (source.origin === 'inline')
    return {
      target: { kind: 'inline', file: analysis.sources.page, path: pathOf(analysis.reading, element) },
      nth: 0,
    };
  if (source.origin === 'attribute' || source.line === 0) return null;
  return declarationAt(files, source.sheet, source.line, source.column);
}

/** As it matches by itself: a nested rule's with the rules around it written out (CSS Nesting 1 §3.1). */
function selectorOf({ reading }: Analysis, files: Files, target: BlockTarget, element: number): string {
  if (target.kind !== 'rule') return pathOf(reading, element);
  const parents = blockOf(files, target)?.rule.parents ?? [];
  return parents.length === 0 ? target.prelude : resolveNesting(target.prelude, parents).join(', ');
}

type OwnBlock =
  Extract<BlockTarget, { kind: 'inline' }> | { kind: 'sheet'; file: string; style: number; selector: string };

/** Where a declaration is put for a box that no rule of its own speaks of: a new rule beside that of the box around it. */
function ownBlock(analysis: Analysis, element: number): OwnBlock {
  const { reading, sources } = analysis;
  const path = pathOf(reading, element);
  const sheets = sources.plan.sheets.filter(({ form, file }) => form === 'file' && !file.startsWith('('));
  const sheet = sheets.at(-1);
  if (!sheet) return { kind: 'inline', file: sources.page, path };
  const tag = tagOf(reading, element);
  const label = labelOf(reading, element);
  const parent = reading.parent[element]!;
  const around = parent >= 0 ? blockFor(analysis, parent) : null;
  const named = label.includes('#') || label.includes('.');
  const selector = named ? label : around ? `${around.selector} > ${tag}` : path;
  return { kind: 'sheet', file: sheet.file, style: -1, selector };
}
