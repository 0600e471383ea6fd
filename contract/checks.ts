import type { Along, WorstFrame } from '@relay/core/measure/along';
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
  /** Where it lies: a store, and the folder that its path is below. */
  store: z.string(),
  folder: z.string(),
  /** It is one file, and no folder of files. */
  oneFile: z.boolean(),
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

const window = z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() });
const raster = z.strictObject({ width: z.number(), height: z.number() });

/**
 * By what it is told that something else lies in a file's place: another size, other contents; or only that it was
 * written since, where it is too large to be read for that, or cannot be read.
 */
const replaced = z.enum(['size', 'contents', 'written']);
export type Replaced = z.infer<typeof replaced>;

/** One of two pictures that are compared. */
const comparedSide = z.strictObject({
  /** What it is: *Original*, or the deliverable's name. */
  title: z.string(),
  codec: z.string(),
  /** Its samples, upright. */
  raster,
  bitDepth: z.number(),
  /** Where it lies on the plane of both, whose unit is the height of a sample of the output; see core's `Compared`. */
  box: window,
  /** Where it lies in the light stream of both. */
  played: window,
  /** Channels that can be heard. */
  channels: z.number(),
  /** Something else lies in its place than what was proved, or than what the output was made of. */
  replaced: replaced.nullable(),
});
export type ComparedSide = z.infer<typeof comparedSide>;

/** An output and what it is held against, as they are seen beside each other. */
export const comparison = z.strictObject({
  output: comparedSide,
  against: comparedSide,
  /** Frames of the output, and how many of them a second. */
  frames: z.number(),
  rate: z.strictObject({ num: z.number(), den: z.number() }),
  /** The light stream of both. */
  played: raster,
  /** Other outputs of the same clip, which it can be held against. */
  others: z.array(z.strictObject({ id: z.string(), deliverable: z.string(), run: z.string() })),
});
export type Comparison = z.infer<typeof comparison>;

/** What an output is held against: its original, or another output of the same clip by its id. */
export const against = z.union([z.literal('original'), z.uuid()]).default('original');

/** A frame of an output, counted from 0. */
const frame = z.coerce.number().int().min(0).max(100_000_000);

/** What of two pictures is played: from a frame on to before another, so many times as fast, or backwards. */
export const playedQuery = z.object({
  against,
  from: frame.default(0),
  /** The frame behind the last; of what is played backwards the last. The whole rest where absent. */
  to: frame.optional(),
  every: z.coerce.number().int().min(1).max(8).default(1),
  backwards: z.stringbool().default(false),
  hear: z.enum(['output', 'against', 'nothing']).default('output'),
  channel: z.coerce.number().int().min(0).max(63).optional(),
});
export type PlayedQuery = z.output<typeof playedQuery>;

/** A single frame of one of two pictures, in full depth, no wider than `width`. */
export const stillQuery = z.object({
  against,
  side: z.enum(['output', 'against']),
  frame: frame.default(0),
  width: z.coerce.number().int().min(16).max(16_384).default(16_384),
});

/** That an output, or what a run made, is measured: every so many frames one. */
export const measureOrder = z.strictObject({ every: z.number().int().min(1).max(100_000).default(1) });

/** What was measured along an output, or how far it is. */
const measuringNow = z.strictObject({
  state: z.enum(['waiting', 'running', 'measured', 'failed']),
  every: z.number(),
  framesDone: z.number(),
  problem: problem.nullable(),
  who: z.string(),
  at: z.string(),
  /** What was measured was made anew since. */
  stale: z.boolean(),
  /** What was found last, while it is measured again too. */
  along: coreType<Along>().nullable(),
  /** dB; null where all is equal, or nothing was measured. */
  meanPsnr: z.number().nullable(),
  worst: z.array(coreType<WorstFrame>()),
});
export type MeasuringNow = z.infer<typeof measuringNow>;

export const measuringAnswer = z.strictObject({
  /** Of the output. */
  frames: z.number(),
  /** Null where none was ordered. */
  measuring: measuringNow.nullable(),
});
export type MeasuringAnswer = z.infer<typeof measuringAnswer>;

/** How many outputs are measured. */
export const measureOrdered = z.strictObject({ outputs: z.number() });

/** A picture to be looked at beside others: of an output, or of its original at the same frame. */
export const pictureQuery = z.object({
  side: z.enum(['output', 'original']).default('output'),
  frame: z.coerce.number().int().min(0).max(100_000_000).default(0),
});

/** What was made of a clip and is there. */
export const madeOfClip = z.array(
  outputLine
    .pick({ id: true, deliverable: true, role: true, path: true, state: true, sizeBytes: true, look: true })
    .extend({ run: z.string(), store: z.string(), folder: z.string(), oneFile: z.boolean() }),
);
export type MadeOfClip = z.infer<typeof madeOfClip>;

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
      /** The original's size and length; seconds are null where they are not known. */
      originalBytes: z.number(),
      seconds: z.number().nullable(),
      createdAt: z.string(),
    }),
  ),
});
export type ChecksAnswer = z.infer<typeof checksAnswer>;

/** What sizes are summed by. */
export const sizesBy = ['deliverable', 'roll', 'camera', 'day'] as const;

/** Originals and what was made of them, summed: an original counts once, however many outputs it has. */
const sizeSum = z.strictObject({
  clips: z.number(),
  /** Of the originals, together. */
  seconds: z.number(),
  originalBytes: z.number(),
  outputs: z.number(),
  outputBytes: z.number(),
});

export const sizesAnswer = z.strictObject({
  all: sizeSum,
  /** The largest originals first; `name` is empty where nothing is said. */
  lines: z.array(sizeSum.extend({ name: z.string() })),
});
export type SizesAnswer = z.infer<typeof sizesAnswer>;
export type SizeSum = z.infer<typeof sizeSum>;

export const handoffLine = z.strictObject({
  runId: z.string(),
  name: z.string(),
  outputs: z.number(),
  bytes: z.number(),
  /** Folders that its outputs lie in, each with a relink sheet of its own. */
  places: z.array(z.string()),
  /** How far its check sheet is, where it may be handed on only once it is looked at. */
  sheet: z.strictObject({ asked: z.number(), accepted: z.number(), sentBack: z.number(), met: z.boolean() }).nullable(),
});
export type HandoffLine = z.infer<typeof handoffLine>;
