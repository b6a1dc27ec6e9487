/** What can be said of a spot of a page, as a document (`normetra: "spot/1"`) and in words. */
import { z } from 'zod';
import type { Analysis } from '../analysis.ts';
import { GRADES, reasonOf } from '../evidence/model.ts';
import { KINDS } from '../finding.ts';
import { engineSchema } from '../reading/reading.ts';
import { labelOf, pathOf } from '../reading/labels.ts';
import { px } from '../geometry/rect.ts';
import type { Spot } from '../spot/spot.ts';
import { rounded } from './findings.ts';

const size = z.number();
const path = z.string().meta({ description: 'a selector that is met by this element alone' });

export const spotSchema = z.object({
  width: size.meta({ description: 'of the viewport, in CSS px' }),
  rooms: z.array(
    z.object({
      kind: z.enum([
        'text',
        'line',
        'border',
        'scrollbar',
        'padding',
        'margin',
        'picture',
        'between',
        'leftover',
      ]),
      path,
      says: z.string(),
    }),
  ),
  layers: z
    .array(
      z.object({
        path,
        label: z.string(),
        paints: z.array(z.enum(['text', 'picture', 'control', 'ground', 'border'])),
        over: z.string().meta({ description: 'why it lies over the next one; empty: it is the lowest' }),
      }),
    )
    .meta({ description: 'the uppermost first' }),
  findings: z.array(
    z.object({
      rule: z.string(),
      kind: z.enum(KINDS),
      grade: z.enum(GRADES),
      px: size,
      path,
      says: z.string(),
      meant: z.string().meta({ description: 'why it is not graded wrong; empty: it is' }),
    }),
  ),
});
export const spotDocumentSchema = z.object({
  normetra: z.literal('spot/1'),
  page: z.string(),
  engine: engineSchema,
  defaults: z.string(),
  spot: z.object({ x: size, y: size, width: size, height: size }),
  at: z.array(spotSchema),
});
export type SpotDocument = z.infer<typeof spotDocumentSchema>;
export type SpotAtWidth = z.infer<typeof spotSchema>;

export function spotAtWidth({ reading }: Analysis, { rooms, layers, findings }: Spot): SpotAtWidth {
  return {
    width: reading.viewport.width,
    rooms: rooms.map(({ kind, element, words }) => ({
      kind,
      path: pathOf(reading, element),
      says: `${words}.`,
    })),
    layers: layers.map(({ element, painted, over }) => ({
      path: pathOf(reading, element),
      label: labelOf(reading, element),
      paints: painted,
      over,
    })),
    findings: findings.map((observation) => ({
      rule: observation.rule,
      kind: observation.kind,
      grade: observation.grade,
      px: rounded(observation.px),
      path: pathOf(reading, observation.subject),
      says: `${observation.what}.`,
      meant: reasonOf(observation),
    })),
  };
}

export const spotWords = ({ x, y, width, height }: SpotDocument['spot']): string =>
  width <= 1 && height <= 1
    ? `${px(x)}, ${px(y)}`
    : `${px(x)}, ${px(y)}, ${px(width)} wide and ${px(height)} tall`;

export function spotText({ page, spot, at }: SpotDocument): string {
  return [
    `${page} at ${spotWords(spot)}`,
    ...at.map(({ width, rooms, layers, findings }) =>
      [
        `${width} px wide`,
        ...rooms.map(({ says }) => `   ${says}`),
        layers.length > 0 ? '   Painted there, the uppermost first:' : '   Nothing is painted there.',
        ...layers.map(
          ({ label, paints, over }, n) =>
            `   ${n + 1}. ${label}: ${paints.join(', ')}${over ? ` (over the next: ${over})` : ''}`,
        ),
        findings.length > 0 ? '   Found there:' : '   Nothing odd was found there.',
        ...findings.map(
          ({ grade, rule, says, meant }) => `   ${grade}  ${rule}  ${says}${meant ? ` ${meant}.` : ''}`,
        ),
      ].join('\n'),
    ),
  ].join('\n\n');
}
