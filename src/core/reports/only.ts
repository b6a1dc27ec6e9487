/** A change for one engine alone, as a document: `normetra: "only/1"`. */
import { z } from 'zod';
import { px } from '../geometry/rect.ts';
import { engineSchema } from '../reading/reading.ts';

const whole = z.number().int();

export const onlyDocumentSchema = z.object({
  normetra: z.literal('only/1'),
  /** The engine that the change is for, and those that it is not for. */
  engine: engineSchema,
  others: z.array(engineSchema),
  /** Conditions of `@supports` that it meets and the others do not, the likeliest to last first. */
  conditions: z.array(
    z.object({
      condition: z.string(),
      property: z.string(),
      /** Whether the property has a prefix of the engine's own, which no other takes up. */
      isPrefixed: z.boolean(),
    }),
  ),
  /** The rule under the first of them; '': none was given. */
  css: z.string(),
  page: z.string(),
  /** What the rule does to the page in each engine: boxes that move or change their size, and by how many CSS px at most. */
  effects: z.array(z.object({ engine: z.string(), width: whole, boxes: whole, largest: z.number() })),
});
export type OnlyDocument = z.infer<typeof onlyDocumentSchema>;

/** Conditions that are written out. */
const SHOWN = 5;

export function onlyText({ engine, others, conditions, css, page, effects }: OnlyDocument): string {
  const named = ({ name, version }: OnlyDocument['engine']): string => `${name} ${version}`;
  const against = others.map(named).join(' and ');
  const [first] = conditions;
  if (!first)
    return `${named(engine)} takes no property that ${against} do not take too: there is no condition for it alone.`;
  const harmed = effects.filter((effect) => effect.engine !== engine.name && effect.boxes > 0);
  const helped = effects.filter((effect) => effect.engine === engine.name && effect.boxes > 0);
  const verdict =
    effects.length === 0
      ? ''
      : harmed.length > 0
        ? 'It is not for one engine alone: it changes others too.'
        : helped.length === 0
          ? 'It changes nothing in any of them.'
          : 'No box of the others is elsewhere, or of another size.';
  return [
    `Conditions that ${named(engine)} meets and ${against} do not, of ${conditions.length}:`,
    ...conditions.slice(0, SHOWN).map(({ condition }) => `   @supports ${condition}`),
    '',
    `They rest on what these versions take: ${first.property} can come to the others${first.isPrefixed ? ', though its prefix makes that unlikely' : ''}, or go from ${engine.name}. What gives all engines the same value is better: see normetra matrix.`,
    ...(css ? ['', css] : []),
    ...(effects.length > 0
      ? [
          '',
          `${page}:`,
          ...effects.map(
            ({ engine: name, width, boxes, largest }) =>
              `   ${name.padEnd(10)} at ${width} px: ${boxes === 0 ? 'nothing changes' : `${boxes} ${boxes === 1 ? 'box changes' : 'boxes change'}, by ${px(largest)} px at most`}`,
          ),
          verdict,
        ]
      : []),
  ].join('\n');
}
