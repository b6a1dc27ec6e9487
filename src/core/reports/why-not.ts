/** Why nothing is told of a box, as text and as a document. */
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { KINDS } from '../finding.ts';
import { labelOf, pathOf } from '../reading/labels.ts';
import { RULES } from '../rules/index.ts';
import { groupedAnswers, whyNot } from '../rules/why-not.ts';

export const whyNotDocumentSchema = z.object({
  normetra: z.literal('why-not/1'),
  page: z.string(),
  width: z.number().meta({ description: 'of the viewport, in CSS px' }),
  boxes: z.array(
    z.object({
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

/** What every rule says of some boxes. */
export const whyNotDocument = (
  analysis: Analysis,
  { page, elements }: { page: string; elements: readonly number[] },
): WhyNotDocument => ({
  normetra: 'why-not/1',
  page,
  width: analysis.reading.viewport.width,
  boxes: elements.map((element) => ({
    path: pathOf(analysis.reading, element),
    rules: whyNot(analysis, element),
  })),
});

/** One box in lines: what is told, what was stopped and by what, and how many rules are about other boxes. */
export function whyNotText(analysis: Analysis, element: number): string {
  const { groups, others } = groupedAnswers(whyNot(analysis, element));
  return [
    labelOf(analysis.reading, element),
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
