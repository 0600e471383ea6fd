import { outputLine } from './checks.ts';
import { problem } from './description.ts';
import { byteRange, deliverableForecast, secondsRange } from './forecast.ts';
import { clipIdList } from './ids.ts';
import { recipe } from './recipe.ts';
import { legState } from './states.ts';
import { storeFolder } from './arrivals.ts';
import { z } from 'zod';

/** Runs and their legs: asked for, under way, ended. */

const place = z.strictObject(storeFolder);

/** What a run takes of its clips for a cut. */
export const pullWish = z.strictObject({
  version: z.uuid(),
  /** Frames before and after what is needed; and those between stretches that become one. */
  handles: z.number().int().min(0).max(100_000),
  gap: z.number().int().min(0).max(100_000),
});
export type PullWish = z.infer<typeof pullWish>;

/**
 * Clips, a recipe and where its outputs go. `places` are of deliverables that go elsewhere, by their folders; the
 * recipe's own places hold where it is not given.
 */
const runChoice = {
  clips: clipIdList(1),
  recipe: z.uuid(),
  ...storeFolder,
  places: z.record(z.string().max(200), place).optional(),
  /** Only what a version of a cut needs of the clips: stretches of them, each as an output of its own. */
  pull: pullWish.optional(),
};

export const runCheckRequest = z.strictObject(runChoice);
/** Clips, a recipe and a place: what somebody chose to run. */
export type RunChoice = z.output<typeof runCheckRequest>;

export const newRun = z.strictObject({
  ...runChoice,
  name: z.string().trim().min(1).max(120),
  /** Findings still to decide are answered with *as it is*, by who starts the run. */
  asTheyAre: z.boolean().default(false),
  /** Proxies and review copies of everything first, then intermediates: originals are decoded twice. */
  inWaves: z.boolean().default(false),
  notBefore: z.iso.datetime().nullable().default(null),
  wantedBy: z.iso.datetime().nullable().default(null),
});

export type RunOrder = z.output<typeof newRun>;

/** What was run last in a production, for whoever runs the next; null before anything was. */
export const lastChoice = z
  .strictObject({
    recipe: z.string().nullable(),
    /** The recipe's version that was run. */
    version: z.number().nullable(),
    ...storeFolder,
    places: z.record(z.string(), place),
  })
  .nullable();
export type LastChoice = z.infer<typeof lastChoice>;

/** What the recipe that was run last would make anew. */
export const whatIsNew = z.strictObject({
  /** Its name; null before anything was run. */
  recipe: z.string().nullable(),
  /** Clips that it was never run with. */
  never: z.array(z.string()),
  /** Clips of which it would make something else now. */
  changed: z.array(z.string()),
});
export type WhatIsNew = z.infer<typeof whatIsNew>;

/** What can be said of a run while it goes on. */
export const runChange = z.strictObject({
  priority: z.number().int().min(-5).max(5).optional(),
  notBefore: z.iso.datetime().nullable().optional(),
  wantedBy: z.iso.datetime().nullable().optional(),
});

/** A run is asked for whole, or with only some of its legs: their ids, with commas. */
export const runQuestion = z.object({
  legs: z
    .string()
    .transform((text) => text.split(','))
    .pipe(z.array(z.uuid()).max(200))
    .optional(),
});

/** What a run would do, before it starts. */
export const runCheck = z.strictObject({
  clips: z.number(),
  outputs: z.number(),
  /** Every store that outputs go to: what they will take of it, and what there is. */
  stores: z.array(
    z.strictObject({
      id: z.string(),
      name: z.string(),
      there: z.boolean(),
      /** Stores of one number share one disk's room. */
      disk: z.number(),
      bytes: byteRange,
      bytesAtMost: z.number(),
      freeBytes: z.number(),
      /** What runs that are under way will still put on it before this one. */
      promisedBytes: z.number(),
    }),
  ),
  refused: z.array(z.strictObject({ clip: z.string(), path: z.string(), problem: problem })),
  /** Originals that are not there any more, by their paths. */
  gone: z.array(z.string()),
  /** Output paths where something is already. */
  taken: z.array(z.string()),
  /** Clips that findings or decisions keep out of the run. */
  keptOut: z.array(z.strictObject({ clip: z.string(), path: z.string(), why: z.string() })),
  toDecide: z.array(
    z.strictObject({
      clip: z.string(),
      path: z.string(),
      findings: z.array(z.strictObject({ rule: z.string(), text: z.string(), remedy: z.string() })),
    }),
  ),
  /** Clips that were not looked at closely yet, so that findings may be missing. */
  notLooked: z.number(),
  /**
   * Deliverable by deliverable what it will take, all together, and the time by this site's own pace; null before it
   * has one.
   */
  deliverables: z.array(deliverableForecast),
  bytes: byteRange,
  seconds: secondsRange.nullable(),
  /** What keeps paths from being made, and the smallest change of the recipe that lets them be. */
  clashes: z.number(),
  remedy: z.strictObject({ text: z.string(), definition: recipe }).nullable(),
  /** Outputs that were made to another plan: they are set aside as versions once the new ones are proved. */
  superseded: z.number(),
  /**
   * Of a pull: its stretches and their frames, how many have shorter handles than asked for, events that are found only
   * nearly, and those that no clip has.
   */
  pull: z
    .strictObject({
      stretches: z.number(),
      frames: z.number(),
      short: z.number(),
      nearly: z.number(),
      left: z.number(),
    })
    .nullable(),
});
export type RunCheck = z.infer<typeof runCheck>;

export const runLine = z.strictObject({
  id: z.string(),
  name: z.string(),
  recipeName: z.string(),
  store: z.string(),
  folder: z.string(),
  /** Deliverables that go elsewhere. */
  places: z.array(z.strictObject({ deliverable: z.string(), ...storeFolder })),
  createdAt: z.string(),
  endedAt: z.string().nullable(),
  legs: z.partialRecord(legState, z.number()),
  bytes: z.number(),
  priority: z.number(),
  notBefore: z.string().nullable(),
  wantedBy: z.string().nullable(),
  /** The version of a cut that it was pulled for. */
  pull: z.strictObject({ version: z.string(), cut: z.string(), number: z.number() }).nullable(),
});
export type RunLine = z.infer<typeof runLine>;

export const legLine = z.strictObject({
  id: z.string(),
  clipId: z.string(),
  stem: z.string(),
  path: z.string(),
  roll: z.string(),
  ordinal: z.number(),
  wave: z.number(),
  hand: z.number(),
  /** What it makes, in a word or two. */
  makes: z.string(),
  state: legState,
  framesDone: z.number(),
  framesTotal: z.number(),
  /** Seconds of material, for a forecast of the legs that wait. */
  seconds: z.number(),
  samples: z.number(),
  speed: z.number().nullable(),
  worker: z.string().nullable(),
  problem: problem.nullable(),
  startedAt: z.string().nullable(),
  endedAt: z.string().nullable(),
  outputs: z.array(outputLine),
});
export type LegLine = z.infer<typeof legLine>;

/** Outputs of a run joined into one file. */
export const joinedCopyLine = z.strictObject({
  id: z.string(),
  deliverable: z.string(),
  path: z.string(),
  state: z.enum(['waiting', 'running', 'proved', 'failed']),
  problem: problem.nullable(),
  sizeBytes: z.number(),
  xxh3: z.string().nullable(),
  parts: z.number(),
});
export type JoinedCopyLine = z.infer<typeof joinedCopyLine>;

export const runAnswer = runLine.extend({
  legLines: z.array(legLine),
  /** The server's clock when this was answered, against which times are shown. */
  now: z.string(),
  /** What legs that wait lack: no worker that is there can take them. Null where some can. */
  lacks: z.string().nullable(),
  joinedCopies: z.array(joinedCopyLine),
});
export type RunAnswer = z.infer<typeof runAnswer>;

export const newJoinedCopy = z.strictObject({ deliverable: z.string().min(1).max(80) });

export const legAnswer = legLine.extend({
  said: z.array(z.string()),
  outputsPlanned: z.array(z.strictObject({ path: z.string(), line: z.string() })),
  /** Outputs of it that were deleted to get space back, and the deletion that they stand in. */
  removed: z.array(z.strictObject({ path: z.string(), removal: z.string() })),
  rate: z.strictObject({ num: z.number(), den: z.number() }),
});
export type LegAnswer = z.infer<typeof legAnswer>;

export const legMove = z.strictObject({ before: z.uuid().nullable() });
