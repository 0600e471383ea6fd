import type { Measured } from '@relay/core/measure/measured';
import { chain, ruleScope } from './chain.ts';
import { correctionsInForce, target } from './corrections.ts';
import { clipDescription } from './description.ts';
import { coreType } from './coreType.ts';
import { z } from 'zod';

/** What the bench works on. */
export const benchAnswer = z.strictObject({
  clip: z.string(),
  stem: z.string(),
  roll: z.string(),
  description: clipDescription,
  /** What a closer look showed, if there was one. */
  measured: coreType<Measured>().nullable(),
  /** The corrections of every kind that hold for it, each with the rule that it comes from. */
  inForce: correctionsInForce,
  chain: chain.nullable(),
  /** The rule that the chain comes from; null where no rule fits. */
  from: z.strictObject({ scope: ruleScope, who: z.string(), at: z.string() }).nullable(),
  group: z.strictObject({ key: z.string(), text: z.string(), clips: z.number() }),
  rollClips: z.number(),
  productionClips: z.number(),
  /** Neighbours in the sheet's order, to step through. */
  previous: z.string().nullable(),
  next: z.string().nullable(),
  position: z.number(),
  of: z.number(),
});
export type BenchAnswer = z.infer<typeof benchAnswer>;

export const colourRequest = z.strictObject({
  to: target,
  /** Null says that there is none, on purpose. */
  chain: chain.nullable(),
});

/** A clip and its chain, for the contact sheet. */
export const chainedClip = z.strictObject({
  id: z.string(),
  stem: z.string(),
  frames: z.number(),
  /** Width of a sample over its height. */
  pixelAspect: z.number(),
  chain: chain.nullable(),
  scope: ruleScope.nullable(),
});
export type ChainedClip = z.infer<typeof chainedClip>;

/** One group on the way to the bench. */
export const benchGroup = z.strictObject({
  key: z.string(),
  text: z.string(),
  clips: z.number(),
  /** Clips of it that have a chain, and that look like log and have none. */
  chained: z.number(),
  logWithout: z.number(),
  first: z.string(),
  /** A chain that clips of it have, and that in words; null where none has one. */
  chain: chain.nullable(),
  says: z.string().nullable(),
});
export type BenchGroup = z.infer<typeof benchGroup>;
