/** What follows what in a block container: blocks, and runs of inline content between them (CSS 2.2 §9.2.1). */
import { isFloating } from './kinds.ts';
import type { Rect } from '../geometry/rect.ts';
import { VIA, type Pseudo } from '../reading/reading.ts';
import { childrenOf, edgesOf, inside, usedText, type BoxTree } from './tree.ts';
import { tagOf } from '../reading/labels.ts';

export type InlineNode =
  | { what: 'text'; owner: number; blank: boolean; pieces: Rect[] }
  | { what: 'box'; element: number }
  | { what: 'atom'; element: number }
  | { what: 'generated'; pseudo: Pseudo };

export type FlowItem =
  | { what: 'block'; element: number }
  | { what: 'generated'; pseudo: Pseudo }
  | { what: 'lines'; nodes: InlineNode[] };

export interface Flow {
  items: FlowItem[];
  /** Floats, with the number of items before each. */
  floats: { element: number; after: number }[];
}

export type Level = 'block' | 'inline' | 'atom' | 'float' | 'away' | 'contents' | 'none' | 'part';

/** How an element takes part in its parent's flow. `away`: absolutely positioned. `part`: of a table. */
export function levelOf(tree: BoxTree, element: number): Level {
  const kind = tree.kinds[element]!;
  switch (kind) {
    case 'none':
    case 'contents':
    case 'float':
    case 'inline':
      return kind;
    case 'absolute':
    case 'fixed':
      return 'away';
    case 'inline-block':
    case 'inline-replaced':
      return 'atom';
    case 'table':
      return usedText(tree.reading, 'display', element) === 'inline-table' ? 'atom' : 'block';
    case 'table-row':
    case 'table-row-group':
    case 'table-cell':
    case 'table-column':
    case 'table-caption':
      return 'part';
    default:
      return 'block';
  }
}

export type ContentNode =
  | { what: 'text'; blank: boolean; pieces: Rect[] }
  | { what: 'element'; element: number }
  | { what: 'generated'; pseudo: Pseudo };

/** What stands directly in an element, in order: generated boxes, texts and elements. */
export function contentsOf(tree: BoxTree, element: number): ContentNode[] {
  const { texts, pseudos } = inside(tree);
  const { via } = tree.reading;
  const all = childrenOf(tree, element);
  const shadow = all.filter((child) => via[child] === VIA.shadow);
  const children = shadow.length > 0 ? shadow : all.filter((child) => via[child] === VIA.child);
  const runs = texts.get(element) ?? [];
  const generated = pseudos.get(element) ?? [];
  const out: ContentNode[] = generated
    .filter(({ name }) => name === 'before')
    .map((pseudo) => ({ what: 'generated', pseudo }));
  let next = 0;
  for (let i = 0; i <= children.length; i++) {
    for (; next < runs.length && runs[next]!.before <= i; next++)
      out.push({ what: 'text', blank: runs[next]!.blank, pieces: runs[next]!.pieces });
    if (i < children.length) out.push({ what: 'element', element: children[i]! });
  }
  for (const pseudo of generated) if (pseudo.name === 'after') out.push({ what: 'generated', pseudo });
  return out;
}

/** Whether an inline box has a block in it, which breaks it in two (CSS 2.2 §9.2.1.1). */
function isBroken(tree: BoxTree, element: number): boolean {
  return childrenOf(tree, element).some((child) => {
    const level = levelOf(tree, child);
    return level === 'block' || ((level === 'inline' || level === 'contents') && isBroken(tree, child));
  });
}

const pseudoLevel = ({ values }: Pseudo): Level => {
  const { position, float, display = 'inline' } = values;
  if (position === 'absolute' || position === 'fixed') return 'away';
  if (isFloating(float)) return 'float';
  return display === 'inline' ? 'inline' : display.startsWith('inline') ? 'atom' : 'block';
};

export function flowOf(tree: BoxTree, container: number): Flow {
  const flow: Flow = { items: [], floats: [] };
  const legend = renderedLegend(tree, container);
  let run: InlineNode[] = [];
  const flush = () => {
    if (run.some((node) => isSomething(tree, node))) flow.items.push({ what: 'lines', nodes: run });
    run = [];
  };
  const visitInline = (element: number) => {
    const level = levelOf(tree, element);
    if (level === 'float') flow.floats.push({ element, after: flow.items.length + (run.length > 0 ? 1 : 0) });
    else if (level === 'atom') run.push({ what: 'atom', element });
    else if (level === 'block' || (level === 'inline' && isBroken(tree, element))) visit(element);
    else if (level === 'inline' || level === 'contents') {
      if (level === 'inline') run.push({ what: 'box', element });
      inner(element);
    }
  };
  const inner = (owner: number) => {
    for (const node of contentsOf(tree, owner)) {
      if (node.what === 'text') run.push({ ...node, owner });
      else if (node.what === 'element') visitInline(node.element);
      else if (pseudoLevel(node.pseudo) !== 'away') run.push({ what: 'generated', pseudo: node.pseudo });
    }
  };
  const visit = (element: number) => {
    const level = levelOf(tree, element);
    if (level === 'block' && element === legend) return;
    if (level === 'block') {
      flush();
      flow.items.push({ what: 'block', element });
    } else if (level === 'contents' || (level === 'inline' && isBroken(tree, element))) through(element);
    else visitInline(element);
  };
  const through = (owner: number) => {
    for (const node of contentsOf(tree, owner)) {
      if (node.what === 'text') run.push({ ...node, owner });
      else if (node.what === 'element') visit(node.element);
      else {
        const level = pseudoLevel(node.pseudo);
        if (level === 'block') {
          flush();
          flow.items.push({ what: 'generated', pseudo: node.pseudo });
        } else if (level !== 'away' && level !== 'float') run.push({ what: 'generated', pseudo: node.pseudo });
      }
    }
  };
  through(container);
  flush();
  return flow;
}

/** The legend that lies in its fieldset's upper border, and not in its flow (HTML §15.3.13); −1: there is none. */
export function renderedLegend(tree: BoxTree, fieldset: number): number {
  const tag = (element: number) => tagOf(tree.reading, element);
  if (tag(fieldset) !== 'fieldset') return -1;
  return (
    childrenOf(tree, fieldset).find((child) => tag(child) === 'legend' && levelOf(tree, child) === 'block') ??
    -1
  );
}

/** Whether a node makes a line that counts: lines without anything in them are as if they were not there (CSS 2.2 §9.4.2). */
function isSomething(tree: BoxTree, node: InlineNode): boolean {
  const { reading } = tree;
  if (node.what === 'text') return node.pieces.some(({ width, height }) => width > 0 && height > 0);
  if (node.what === 'atom' || node.what === 'generated') return true;
  if (tagOf(reading, node.element) === 'br') return true;
  return (['margin', 'padding', 'border-width'] as const).some((property) => {
    const { left, right } = edgesOf(reading, property, node.element);
    return left !== 0 || right !== 0;
  });
}

/** Nearest block container whose flow a box takes part in; −1 for the root. */
export function flowParent(tree: BoxTree, element: number): number {
  let at = tree.reading.parent[element]!;
  while (at >= 0 && (tree.kinds[at] === 'contents' || tree.kinds[at] === 'inline'))
    at = tree.reading.parent[at]!;
  return at;
}
