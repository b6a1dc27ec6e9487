/** Why nothing is told of a box, as text and as a document. */
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { KINDS } from '../finding.ts';
import { labelOf, pathOf } from '../reading/labels.ts';
import { RULES } from '../rules/index.ts';
import { groupedAnswers, whyNot, type RuleAnswer } from '../rules/why-not.ts';

export const whyNotDocumentSchema = z.object({
  normetra: z.literal('why-not/1'),
  page: z.string(),
  boxes: z.array(
    z.object({
      width: z.number().meta({ description: 'of the viewport, in CSS px' }),
      path: z.string().meta({ description: 'a selector that is met by this element alone' }),
      rules: z.array(
        z.object({
          rule: z.string(),
          kind: z.enum(KINDS),
          title: z.string(),
          outcome: z.enum(['told', 'doubtful', 'meant', 'folded', 'stopped', 'none']).meta({
            description:
              'none: the rule did not look at this box; folded: it is told as a part of another finding',
          }),
          says: z.string(),
          stops: z
            .array(z.object({ sort: z.enum(['geometry', 'visibility', 'evidence']), why: z.string() }))
            .meta({ description: 'the checks that stopped it, the nearest to a finding first' }),
        }),
      ),
    }),
  ),
});
export type WhyNotDocument = z.infer<typeof whyNotDocumentSchema>;

/** What every rule, or those of some kinds, say of some boxes. */
export const whyNotBoxes = (
  analysis: Analysis,
  elements: readonly number[],
  kinds: readonly string[] | null = null,
): WhyNotDocument['boxes'] =>
  elements.map((element) => ({
    width: analysis.reading.viewport.width,
    path: pathOf(analysis.reading, element),
    rules: ofKinds(whyNot(analysis, element), kinds),
  }));

const ofKinds = (answers: RuleAnswer[], kinds: readonly string[] | null): RuleAnswer[] =>
  answers.filter(({ kind }) => !kinds || kinds.includes(kind));

/** One box in lines: what is told, what was stopped and by what, and how many rules are about other boxes. */
export function whyNotText(
  analysis: Analysis,
  element: number,
  kinds: readonly string[] | null = null,
): string {
  const { groups, others } = groupedAnswers(ofKinds(whyNot(analysis, element), kinds));
  return [
    `${labelOf(analysis.reading, element)} at ${analysis.reading.viewport.width} px`,
    ...groups.flatMap(({ title, answers }) => [
      `  ${title}`,
      ...answers.map(({ rule, says }) => `    ${rule.padEnd(WIDEST)}  ${says}`),
    ]),
    ...(others > 0
      ? [`  ${others} more ${others === 1 ? 'rule is' : 'rules are'} about other kinds of boxes`]
      : []),
  ].join('\n');
}

const WIDEST = Math.max(...RULES.map(({ id }) => id.length));
