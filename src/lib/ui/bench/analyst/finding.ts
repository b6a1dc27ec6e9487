/** What is wrong with the page at hand, who is to blame, and what helps. */
import type { Analysis } from '$core/analysis.ts';
import { labelOf } from '$core/reading/labels.ts';
import type { Validity } from '$core/css/cascade/plan.ts';
import type { Dependence } from '$core/rules/defaults/dependence.ts';
import type { Observation } from '$core/finding.ts';
import { observing } from '$core/rules/index.ts';
import { blameDefaults } from '$core/proof/pinning-defaults.ts';
import { keyOf } from '$core/proof/keys.ts';
import type { Blame } from '$core/proof/prover.ts';
import { spanOf, type Span } from '$core/rules/span.ts';
import { groupedAnswers, whyNot } from '$core/rules/why-not.ts';
import type { Edit } from '$core/trials/edit.ts';
import type { Beside } from './beside.ts';
import { asWritten, at, filesOf, pageOf, type WorkerState } from './worker-state.ts';
import { createProving, type Proving } from './proving.ts';
import type { Trying } from './trying.ts';

/** Something that looks wrong, for the list. */
export interface Found extends Observation {
  key: string;
  label: string;
  /** Where its px lie. */
  span: Span | null;
}

export function createFinding(held: WorkerState, beside: Beside, trying: Trying) {
  /** What was found on the page at hand, and whoever looks for its causes. */
  let found: Observation[] = [];
  let proving: Proving | null = null;
  /** What depends on which of its defaults, by the index of its finding. */
  let depending = new Map<number, Dependence>();

  return {
    /**
     * What looks wrong on the page's own document, what a visitor would notice most first. null: another reading came while
     * it was looked for, which goes first.
     */
    findings: async (): Promise<Found[] | null> => {
      const analysis = pageOf(held);
      const looking = observing(analysis);
      let step = looking.next();
      while (!step.done) {
        await new Promise((resolve) => setTimeout(resolve));
        if (pageOf(held) !== analysis) return null;
        step = looking.next();
      }
      found = step.value;
      proving = null;
      depending = new Map();
      for (const dependsOnDefault of beside.dependsOnDefaults(analysis))
        depending.set(found.push(dependsOnDefault.observation) - 1, dependsOnDefault.dependence);
      return asWritten(
        held,
        found.map((observation) => ({
          ...observation,
          boxes: [],
          key: keyOf(analysis, observation),
          label: labelOf(analysis.reading, observation.subject),
          span: spanOf(analysis, observation),
        })),
      );
    },
    /** What every rule says of a box, and what stopped those that say nothing. */
    ruleAnswers: (element: number): ReturnType<typeof groupedAnswers> => {
      const { analysis, local } = at(held, element);
      return groupedAnswers(whyNot(analysis, local));
    },
    /** Who is to blame for a finding, and what helps. `measure` shows the page under more edits where nobody sees it. */
    blame: async (
      index: number,
      measure: (edits: Edit[], width?: number) => Promise<{ reading: unknown; validity: Validity } | null>,
    ): Promise<Blame | null> => {
      const observation = found[index];
      if (!observation) return null;
      let isCutShort = false;
      const tried = async (edits: readonly Edit[], width?: number): Promise<Analysis | null> => {
        const got = await measure([...edits], width);
        isCutShort ||= got === null;
        return got && trying.analysed(got.reading, got.validity);
      };
      const dependence = depending.get(index);
      const { rendered } = beside;
      if (dependence && rendered) {
        const under = pageOf(held);
        return blameDefaults({ rendered, under, observation, dependence, measure: tried });
      }
      proving ??= createProving({
        analysis: pageOf(held),
        found,
        files: filesOf(held),
        asWritten: (result) => asWritten(held, result),
      });
      const blame = await proving.blame(observation, tried);
      // What nobody measured is not known to be of no help.
      if (isCutShort) proving = null;
      return blame;
    },
  };
}
