import { reasons, type CheckRule } from '@relay/core/checks/checkSheet';
import { z } from 'zod';
import { outputLook } from './checks.ts';
import { legState } from './states.ts';

/** What of a run somebody is to look at, what was said of it, and its clips on one sheet. */

export const checkRule = z.strictObject({
  ends: z.boolean(),
  every: z.number().int().min(1).max(100_000).nullable(),
  corrected: z.boolean(),
  worst: z.number().int().min(0).max(1_000),
  deliverables: z.array(z.string().max(200)).max(100).nullable(),
  handoff: z.boolean(),
}) satisfies z.ZodType<CheckRule>;

export const checkSheet = z.strictObject({
  /** The run's. */
  name: z.string(),
  rule: checkRule,
  ended: z.boolean(),
  /** Of the run, in all. */
  outputs: z.number(),
  deliverables: z.array(z.string()),
  /** Outputs that are measured as they are, and that are going to be. */
  measured: z.number(),
  measuring: z.number(),
  state: z.strictObject({ asked: z.number(), accepted: z.number(), sentBack: z.number(), met: z.boolean() }),
  lines: z.array(
    z.strictObject({
      id: z.string(),
      deliverable: z.string(),
      path: z.string(),
      stem: z.string(),
      roll: z.string(),
      why: z.array(z.enum(reasons)),
      /** The frame to look at first. */
      frame: z.number(),
      /** What lies there now: it may have been made again. */
      now: z.strictObject({ id: z.string(), state: legState, run: z.string() }),
      /** What was said last of it as it is now. */
      look: outputLook.nullable(),
    }),
  ),
});
export type CheckSheet = z.infer<typeof checkSheet>;

export const contactSheet = z.strictObject({
  name: z.string(),
  deliverables: z.array(z.string()),
  /** The deliverable that is shown. */
  shown: z.string(),
  lines: z.array(
    z.strictObject({
      output: z.string(),
      stem: z.string(),
      roll: z.string(),
      /** Scene and take, where they are known. */
      words: z.string(),
      frame: z.number(),
      label: z.string(),
    }),
  ),
});
export type ContactSheet = z.infer<typeof contactSheet>;
