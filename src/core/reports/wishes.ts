/** What a wish comes to, as a document (`normetra: "wish/1"`) and in words. */
import { z } from 'zod';
import { px } from '../geometry/rect.ts';
import type { WishAnswer, WishAt } from '../proof/answer-wish.ts';
import { engineSchema } from '../reading/reading.ts';
import {
  culpritDocument,
  culpritSchema,
  remedyDocument,
  remedySchema,
  remedyText,
  rounded,
  type RemedyDocument,
} from './findings.ts';

const size = z.number();
export const wishDocumentSchema = z.object({
  normetra: z.literal('wish/1'),
  page: z.string(),
  engine: engineSchema,
  defaults: z.string(),
  wish: z.string().meta({ description: 'as it was written' }),
  isMet: z.boolean().meta({ description: 'at every width that was asked for, without any change' }),
  at: z.array(
    z.object({
      width: size.meta({ description: 'of the viewport, in CSS px' }),
      missing: size.meta({ description: 'CSS px or lines; 0: it is as wished' }),
      path: z.string().meta({ description: 'the box that is farthest from it' }),
      now: size,
      least: size.nullable(),
      most: size.nullable(),
    }),
  ),
  culprits: z.array(culpritSchema.extend({ because: z.string() })),
  remedies: z.array(remedySchema.extend({ widths: z.array(size), short: z.array(size) })),
  closest: remedySchema
    .extend({ missing: size })
    .nullable()
    .meta({ description: 'where no change meets it: the one that comes closest' }),
  tried: z.number().int(),
});
export type WishDocument = z.infer<typeof wishDocumentSchema>;

export interface WishContext {
  page: string;
  engine: z.infer<typeof engineSchema>;
  defaults: string;
  wish: string;
  /** Of each remedy and then of the closest change, as unified diffs. */
  diffs: readonly string[];
}

export function wishDocument(answer: WishAnswer, { diffs, ...context }: WishContext): WishDocument {
  const { isMet, at, culprits, remedies, closest, tried } = answer;
  return {
    normetra: 'wish/1',
    ...context,
    isMet,
    at: at.map(({ width, missing, path, now, least, most }) => ({
      width,
      missing: rounded(missing),
      path,
      now: rounded(now),
      least: least === null ? null : rounded(least),
      most: most === null ? null : rounded(most),
    })),
    culprits: culprits.map((culprit) => ({ ...culpritDocument(culprit), because: culprit.because })),
    remedies: remedies.map((remedy, n) => ({
      ...remedyDocument(remedy, diffs[n] ?? ''),
      widths: remedy.widths,
      short: remedy.short,
    })),
    closest: closest && {
      ...remedyDocument(closest.remedy, diffs[remedies.length] ?? ''),
      missing: rounded(closest.missing),
    },
    tried,
  };
}

/** How a wish stands at one width, in words without a full stop. */
export function standingWords({
  missing,
  now,
  least,
  most,
}: Pick<WishAt, 'missing' | 'now' | 'least' | 'most'>): string {
  if (missing === 0) return 'as wished';
  const wanted =
    least !== null && most !== null && least === most
      ? `should be ${px(least)}`
      : now < (least ?? -Infinity)
        ? `should be ${px(least!)} at least`
        : `should be ${px(most!)} at most`;
  return `${px(now)}, ${wanted}: ${px(missing)} off`;
}

export function wishText(document: WishDocument): string {
  const { page, wish, isMet, at, culprits, remedies, closest, tried } = document;
  const where = at.map(
    (one) => `   at ${one.width} px: ${standingWords(one)}${one.missing > 0 ? `  ${one.path}` : ''}`,
  );
  if (isMet) return [`${page}: ${wish}`, 'It is so already.', ...where].join('\n');
  const blame = culprits.map(
    ({ because, px: owed, source }, n) =>
      `${n === 0 ? 'Because' : 'Also'} ${because}: ${px(owed)} of it${source && source.line > 0 ? `\n   ${source.sheet}:${source.line}:${source.column}` : ''}`,
  );
  const widths = (remedy: WishDocument['remedies'][number]): string =>
    remedy.short.length === 0
      ? `at ${remedy.widths.join(', ')} px`
      : `at ${remedy.widths.join(', ')} px, not enough at ${remedy.short.join(', ')} px`;
  return [
    [`${page}: ${wish}`, 'It is not so:', ...where].join('\n'),
    blame.length > 0
      ? blame.join('\n')
      : 'No declaration of these boxes or of those around them keeps it from being so by itself.',
    ...(remedies.length > 0
      ? remedies.map((remedy, n) => `${n + 1}. ${widths(remedy)}: ${remedyText(remedy)}`)
      : [nothingText(closest, tried)]),
  ].join('\n\n');
}

const nothingText = (closest: (RemedyDocument & { missing: number }) | null, tried: number): string =>
  closest
    ? `No single change of ${tried} that were tried does it. This comes closest, and leaves ${px(closest.missing)}:\n${remedyText(closest, 'measured')}`
    : `None of ${tried} changes that were tried does it, or comes closer without harm.`;
