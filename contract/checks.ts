import type { Proof } from '@relay/core/proof/proof';
import { clipDescription, problem } from './description.ts';
import { coreType } from './coreType.ts';
import { legState } from './states.ts';
import { z } from 'zod';

/** Finished outputs beside their originals, and what is handed on of them. */

/** What somebody said of an output that they looked at. */
export const outputLook = z.strictObject({
  verdict: z.enum(['accepted', 'sent back']),
  note: z.string(),
  /** The frame that was seen then, from 0; null where none is meant. */
  frame: z.number().nullable(),
  who: z.string(),
  at: z.string(),
});
export type OutputLook = z.infer<typeof outputLook>;

/** Says it, or takes back what was said. */
export const lookOrder = z
  .strictObject({
    verdict: z.enum(['accepted', 'sent back', 'taken back']),
    note: z.string().trim().max(2_000).default(''),
    frame: z.number().int().min(0).max(100_000_000).nullable().default(null),
  })
  .refine(({ verdict, note }) => verdict !== 'sent back' || note !== '', 'say why it is sent back');
export type LookOrder = z.output<typeof lookOrder>;

export const outputLine = z.strictObject({
  id: z.string(),
  deliverable: z.string(),
  role: z.string(),
  path: z.string(),
  state: legState,
  alreadyThere: z.boolean(),
  sizeBytes: z.number(),
  xxh3: z.string().nullable(),
  proof: coreType<Proof>().nullable(),
  problem: problem.nullable(),
  /** What was said last of it as it is; null before anybody looked. */
  look: outputLook.nullable(),
});
export type OutputLine = z.infer<typeof outputLine>;

export const outputAnswer = outputLine.extend({
  legId: z.string(),
  runId: z.string(),
  clipId: z.string(),
  clipPath: z.string(),
  said: z.array(z.string()),
  frames: z.number(),
  /** It has pictures, and is not sound alone. */
  pictured: z.boolean(),
  rate: z.strictObject({ num: z.number(), den: z.number() }),
  raster: z.strictObject({ width: z.number(), height: z.number() }),
  start: z.strictObject({ start: z.string(), dropFrame: z.boolean() }).nullable(),
  original: clipDescription,
});
export type OutputAnswer = z.infer<typeof outputAnswer>;

/** The run in which something is made again. */
export const madeAgain = z.strictObject({ run: z.string() });

export const checksAnswer = z.strictObject({
  total: z.number(),
  outputs: z.array(
    outputLine.extend({
      runId: z.string(),
      clipId: z.string(),
      clipPath: z.string(),
      stem: z.string(),
      createdAt: z.string(),
    }),
  ),
});
export type ChecksAnswer = z.infer<typeof checksAnswer>;

export const handoffLine = z.strictObject({
  runId: z.string(),
  name: z.string(),
  outputs: z.number(),
  bytes: z.number(),
  /** Folders that its outputs lie in, each with a relink sheet of its own. */
  places: z.array(z.string()),
});
export type HandoffLine = z.infer<typeof handoffLine>;
