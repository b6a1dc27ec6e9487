/** Everything that is worked out of one reading. What is costly and asked for of few boxes is made when asked. */
import { makeHitIndex, type HitIndex } from './boxes/hit.ts';
import { paintOrder } from './boxes/paint.ts';
import type { Defaults, Described, RawReading } from './boxes/reading.ts';
import { makeTree, type BoxTree } from './boxes/tree.ts';
import { pathInFrame } from './css/addresses.ts';
import { makeStyles, type Styles } from './css/styles.ts';
import { parseDocument, type SourceDocument } from './css/document.ts';
import { makePlan, type Plan, type Validity } from './css/plan.ts';

/** A page's sources and what its sheets come to; the same for all readings of a revision. */
export interface Sources {
  page: string;
  document: SourceDocument;
  plan: Plan;
}

export interface Analysis {
  sources: Sources;
  reading: RawReading;
  tree: BoxTree;
  styles: Styles;
  order: Int32Array;
  hits: HitIndex;
}

/** `texts`: pages and sheets by path; `frameBase`: the address at which the specimen's root was served. */
export function readSources(
  page: string,
  texts: Record<string, string>,
  described: Described,
  frameBase: string,
): Sources {
  const document = parseDocument(page, texts[page] ?? '');
  const plan = makePlan({
    described,
    document,
    textOf: (path) => texts[path] ?? null,
    pathOf: (address, from) => pathInFrame(address, from, frameBase),
  });
  return { page, document, plan };
}

export function analyse(
  sources: Sources,
  validity: Validity,
  defaults: Defaults,
  reading: RawReading,
): Analysis {
  const tree = makeTree(reading);
  const order = paintOrder(tree);
  return {
    sources,
    reading,
    tree,
    order,
    styles: makeStyles({ plan: sources.plan, validity, reading, defaults, document: sources.document }),
    hits: makeHitIndex(reading, order),
  };
}
