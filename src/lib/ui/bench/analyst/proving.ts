/** Causes and changes of one reading, proved at the width at hand and at the common ones beside it. */
import type { Analysis } from '$core/analysis.ts';
import type { Observation } from '$core/finding.ts';
import { observeAll } from '$core/rules/index.ts';
import { keyOf } from '$core/proof/keys.ts';
import { makeProver, type EffectAtWidth, type Blame, type Prover } from '$core/proof/prover.ts';
import type { Edit } from '$core/trials/edit.ts';
import type { Files } from '$core/trials/targets.ts';

/** Widths in CSS px at which a change must do no harm, whatever width it was found at. */
export const COMMON_WIDTHS = [360, 768, 1280];

/** The page under more edits, at another width where one is given; null: nobody wants to know any more. */
export type Measuring = (edits: readonly Edit[], width?: number) => Promise<Analysis | null>;

export interface ProvingInput {
  analysis: Analysis;
  found: readonly Observation[];
  files: Files;
  asWritten: <T>(result: T) => T;
}

export type Proving = ReturnType<typeof createProving>;

export function createProving({ analysis, found, files, asWritten }: ProvingInput) {
  /** Every question comes with a frame of its own to be measured in. */
  let measure: Measuring = () => Promise.resolve(null);
  const here = makeProver({ analysis, files, before: found, asWritten, measure: (edits) => measure(edits) });
  const elsewhere = new Map<number, Promise<Prover | null>>();

  async function proverAt(width: number): Promise<Prover | null> {
    const plain = await measure([], width);
    if (!plain) return null;
    const withoutEdits = observeAll(plain);
    return makeProver({
      analysis: plain,
      files,
      before: withoutEdits,
      asWritten,
      measure: (edits) => measure(edits, width),
    });
  }

  async function blame(observation: Observation, measuring: Measuring): Promise<Blame> {
    measure = measuring;
    const result = await here.blame(observation);
    const { width: currentWidth } = analysis.reading.viewport;
    const remedies: Blame['remedies'] = [];
    for (const remedy of result.remedies) {
      const [widths, short] = [[currentWidth], [] as number[]];
      let bearing: EffectAtWidth = 'helps';
      for (const width of COMMON_WIDTHS) {
        if (width === currentWidth || bearing === 'brings') continue;
        const previous = elsewhere.get(width) ?? proverAt(width);
        elsewhere.set(width, previous);
        const prover = await previous;
        bearing = prover
          ? await prover.effectAtWidth(keyOf(analysis, observation), observation.kind, remedy.edits)
          : 'brings';
        (bearing === 'helps' ? widths : short).push(width);
      }
      if (bearing !== 'brings') remedies.push({ ...remedy, widths: widths.sort((a, b) => a - b), short });
    }
    // What is enough everywhere goes first.
    remedies.sort((a, b) => a.short.length - b.short.length);
    // What is not mended with another is told by itself.
    return { ...result, remedies, also: remedies.length > 0 ? result.also : [] };
  }

  return { blame };
}
