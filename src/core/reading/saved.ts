/** A reading as it is kept: with what its account was made from, so that it can be opened again without its page. */
import { z } from 'zod';
import { validitySchema } from '../css/cascade/plan.ts';
import { defaultsSchema, describedSchema, documentSchema, engineSchema } from './reading.ts';

const size = z.number().finite();

/** The stored form of `RawReading`; `fromStored` checks the rest of it. */
const storedSchema = z.looseObject({
  engine: engineSchema,
  viewport: z.object({ width: size, height: size, layoutWidth: size, ratio: size }),
  document: documentSchema,
  count: z.number().int().min(0),
});

export const savedBodySchema = z.object({
  normetra: z.literal('stored-reading/1'),
  /** Address under which the specimen's root was served to the frame. */
  frameBase: z.string().max(2000),
  described: describedSchema,
  validity: validitySchema,
  defaults: defaultsSchema,
  reading: storedSchema,
  /** Content widths that accounts asked for: element, min-content, max-content. */
  intrinsic: z.array(size).max(400_000).default([]),
});
export type SavedBody = z.infer<typeof savedBodySchema>;

export const savedReadingSchema = savedBodySchema.extend({
  page: z.string().max(2000),
  note: z.string().max(2000),
  pick: z.string().max(20_000),
  /** Name of the default styles that lay under the page. */
  under: z.string().min(1).max(200).default('as-rendered'),
});
