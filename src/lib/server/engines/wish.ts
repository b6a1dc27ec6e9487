/** What keeps a wish from being met on a page at several widths, answered in a headless engine. */
import { answerWish } from '../../../core/proof/answer-wish.ts';
import { pathOf } from '../../../core/reading/labels.ts';
import { wishDocument, type WishDocument } from '../../../core/reports/wishes.ts';
import { readFiles } from '../../../core/trials/targets.ts';
import { unifiedDiff } from '../../../core/trials/write.ts';
import type { WrittenWish } from '../../../core/wishes/parse.ts';
import { isNeighbour, otherOf, type Wish } from '../../../core/wishes/model.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { Opened } from './headless.ts';
import { viewsOf } from './views.ts';

export interface WishOptions {
  page: string;
  defaults: string;
  widths: readonly number[];
  height: number;
  /** As it was written, and what that says. */
  text: string;
  written: WrittenWish;
  /** The elements that a selector matches, one at least. */
  elementsOf: (selector: string) => Promise<number[]>;
  progress?: (tried: number, of: number) => void;
}

/** Boxes that one wish may be about. */
const MOST_BOXES = 50;

/** Throws a Refusal where a selector matches nothing, too much, or boxes that cannot stand in the relation. */
export async function wishOn(opened: Opened, options: WishOptions): Promise<WishDocument> {
  const { page, defaults, widths, height, text, written, elementsOf, progress } = options;
  const { list } = await viewsOf(opened, widths, height);
  const [first] = list;
  // The page numbers its elements by the reading that was taken last.
  const { reading } = list.at(-1)!.analysis;
  let paths = (await elementsOf(written.selector)).map((element) => pathOf(reading, element));
  if (paths.length > MOST_BOXES)
    throw new Refusal(
      `${written.selector} matches ${paths.length} boxes, and a wish is about ${MOST_BOXES} at most. Write a narrower selector.`,
    );
  const otherSelector = otherOf(written.relation);
  let { relation } = written;
  if (otherSelector !== null && !isNeighbour(otherSelector)) {
    const [other] = await elementsOf(otherSelector);
    const otherPath = pathOf(reading, other!);
    paths = paths.filter((path) => path !== otherPath);
    if (paths.length === 0)
      throw new Refusal(
        `${otherSelector} and ${written.selector} are the same box: a box is held against another one.`,
      );
    relation = { ...relation, other: otherPath } as Wish['relation'];
  }
  const texts = await opened.texts();
  const views = list.map(({ analysis, found, measure, complete }) => ({
    analysis,
    before: found,
    measure,
    complete,
  }));
  try {
    const answer = await answerWish({
      wish: { paths, relation },
      views,
      files: readFiles(texts),
      ...(progress && { progress }),
    });
    const changes = [...answer.remedies, ...(answer.closest ? [answer.closest.remedy] : [])];
    const diffs = changes.map(({ edits }) => unifiedDiff(texts, edits, first!.analysis.sources.page));
    return wishDocument(answer, { page, engine: reading.engine, defaults, wish: text, diffs });
  } catch (error) {
    if (error instanceof RangeError) throw new Refusal(`${error.message}.`);
    throw error;
  } finally {
    await opened.lay([]);
  }
}
