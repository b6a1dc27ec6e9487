/** Boxes that scripts would fill or size, where scripts are held: what looks wrong of them may be right once they run. */
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { inside } from '../boxes/tree.ts';
import type { Fact } from './model.ts';
import type { Touch } from '../html/scripts.ts';
import { tagOf } from '../reading/labels.ts';

/** Elements that show nothing until a script draws or puts something into them (HTML §4.12.5). */
const EMPTY_BY_NATURE = new Set(['canvas']);

/** Tags that scripts ask for without being about any one box. */
const GENERAL = new Set([
  'html',
  'body',
  'head',
  'script',
  'style',
  'a',
  'p',
  'div',
  'span',
  'li',
  'button',
  'input',
]);

interface Named {
  ids: Map<string, Touch>;
  classes: Map<string, Touch>;
  tags: Map<string, Touch>;
}

/** By element, why what is told of it is doubtful. Nothing is where scripts run, or where the page has none. */
export function scriptedBoxes(analysis: Analysis): Map<number, string> {
  const { reading, sources, tree } = analysis;
  const out = new Map<number, string>();
  if (!sources.isHeld) return out;
  const { count, touches } = sources.scripted();
  if (count === 0) return out;
  const of = (by: Touch['by']): Map<string, Touch> =>
    new Map(touches.filter((touch) => touch.by === by).map((touch) => [touch.name, touch]));
  const named: Named = { ids: of('id'), classes: of('class'), tags: of('tag') };
  const hasText = new Set(inside(tree).texts.keys());
  const isFilled = new Uint8Array(reading.count);
  for (let i = reading.count - 1; i > 0; i--) {
    if (hasText.has(i)) isFilled[i] = 1;
    const parent = reading.parent[i]!;
    if (parent >= 0 && isFilled[i] === 1) isFilled[parent] = 1;
  }
  for (let i = 1; i < reading.count; i++) {
    const tag = tagOf(reading, i);
    const touch = touchOf(analysis, i, tag, named);
    const isEmpty = EMPTY_BY_NATURE.has(tag) || isFilled[i] === 0;
    if (touch && (touch.isWritten || isEmpty))
      out.set(
        i,
        `Scripts are held, and one fills or sizes this box when it runs (${touch.path}:${touch.line})`,
      );
    else if (EMPTY_BY_NATURE.has(tag))
      out.set(i, 'Scripts are held, and nothing is drawn on a canvas without them');
  }
  return out;
}

function touchOf({ reading }: Analysis, element: number, tag: string, named: Named): Touch | undefined {
  const text = (index: number | undefined): string => reading.strings[index ?? -1] ?? '';
  const byId = named.ids.get(text(reading.idName[element]));
  if (byId) return byId;
  for (const name of text(reading.classes[element]).split(/\s+/)) {
    const byClass = name === '' ? undefined : named.classes.get(name);
    if (byClass) return byClass;
  }
  return GENERAL.has(tag) ? undefined : named.tags.get(tag);
}

/** Kinds that are about declarations, which scripts do not change. */
const OF_DECLARATIONS = new Set(['dropped', 'viewport']);

/** What speaks against a thing that was found of boxes that scripts would touch, or of what lies in them. */
export function heldScripts(
  analysis: Analysis,
): (about: Pick<Observation, 'kind' | 'subject' | 'other'>) => Fact | null {
  const boxes = scriptedBoxes(analysis);
  if (boxes.size === 0) return () => null;
  const { parent } = analysis.reading;
  const reasonOf = (element: number): string => {
    for (let at = element; at >= 0; at = parent[at]!) {
      const reason = boxes.get(at);
      if (reason) return reason;
    }
    return '';
  };
  return ({ kind, subject, other }) => {
    if (OF_DECLARATIONS.has(kind)) return null;
    const words = reasonOf(subject) || (other === null ? '' : reasonOf(other));
    return words === '' ? null : { signal: 'scripts-are-held', words };
  };
}
