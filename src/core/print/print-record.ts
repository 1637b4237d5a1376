import { z } from 'zod';
import { printOptionsSchema } from './print-options';

const frameSchema = z.object({
  frame: z.number().int(),
  status: z.enum(['printed', 'skipped', 'failed']),
  milliseconds: z.number().optional(),
  why: z.string().optional(),
});

/** A print of the server, as it lies on its disk. */
export const printRecordSchema = z.object({
  id: z.uuid(),
  options: printOptionsSchema,
  state: z.enum(['waiting', 'printing', 'done', 'failed', 'cancelled']),
  created: z.number(),
  /** When it began and ended; milliseconds since 1970. */
  begun: z.number().nullable(),
  ended: z.number().nullable(),
  /** When its files were fetched whole. */
  fetched: z.number().nullable(),
  /** Process that prints it. */
  process: z.number().int().nullable(),
  /** The frames that it has, and what became of them so far. */
  frames: z.array(z.number().int()),
  told: z.array(frameSchema),
  /** Why it failed as a whole. */
  why: z.string().nullable(),
});

export type PrintRecord = z.output<typeof printRecordSchema>;
export type PrintedFrame = z.output<typeof frameSchema>;

/** What a line of `bokelux reel --events` tells. */
export const eventSchema = z.union([
  z.object({ frames: z.array(z.number().int()) }),
  frameSchema.extend({ out: z.string() }),
]);
