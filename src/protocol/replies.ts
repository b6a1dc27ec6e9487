/** What the collector may answer: every reply passes one of these before anything else of it is believed. */
import { z } from 'zod';
import type { Verb } from './protocol.ts';
import { defaultsSchema, describedSchema } from '../core/reading/reading.ts';
import { validitySchema } from '../core/css/cascade/plan.ts';

const size = z.number().finite();

export const envelope = z.union([
  z.object({ id: z.number().int(), ok: z.literal(true), reply: z.unknown() }),
  z.object({ id: z.number().int(), ok: z.literal(false), why: z.string().max(2000) }),
]);

/** A reading is checked by whoever reasons about it (`readingSchema`), off the main thread. */
export const replySchemas: Record<Verb, z.ZodType> = {
  describe: describedSchema,
  plan: validitySchema,
  read: z.unknown(),
  readDelta: z.string(),
  defaults: defaultsSchema,
  waitUntilReady: z.object({ width: size, height: size, waited: z.array(z.string().max(100)).max(10) }),
  setScrollbars: z.boolean(),
  intrinsicSizes: z.array(size).max(360_000),
  applyPatch: z.boolean(),
  patchAndRead: z.unknown(),
  failures: z
    .array(z.object({ address: z.string().max(300), line: z.number().int().min(0), why: z.string().max(300) }))
    .max(40),
  frames: z.array(z.number().int().min(0)).max(10_000),
  /** Checked by what the request was that was passed on. */
  forward: z.unknown(),
  find: z.array(z.number().int().min(0)).max(200_000),
  scroll: z.object({ x: size, y: size, moved: z.boolean() }),
};
