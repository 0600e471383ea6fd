import type { Problem } from '@relay/core/result';
import { fileSystems } from '@relay/core/handoff/fileSystem';
import { memberSystems } from '@relay/core/naming/systemPath';
import { z } from 'zod';
import { storeFolder } from './arrivals.ts';
import { coreType } from './coreType.ts';
import { cutChoice } from './cuts.ts';
import { problem } from './description.ts';

/** What leaves the building: for whom, what, where to, and what they hold already. */

const words = (most: number) => z.array(z.string().min(1).max(200)).max(most);
const ids = z.array(z.uuid()).max(500);

export const fileSystem = z.enum(fileSystems);

/** Which outputs somebody is to have; of each list, all where it is empty. */
export const handoffChoice = z.strictObject({
  runs: ids,
  roles: z.array(z.enum(['intermediate', 'proxy', 'review'])).max(3),
  /** By name, as recipes call them. */
  deliverables: words(100),
  rolls: words(1_000),
  days: words(400),
  /** Of circled takes only. */
  circled: z.boolean(),
  /** Of clips that a filter of the sheet finds. */
  filter: z.string().max(500),
  /** Of clips that a version of a cut uses. */
  cut: z.uuid().nullable(),
  /** On purpose: their camera originals as well, with all that lies beside them. */
  originals: z.boolean(),
});
export type HandoffChoice = z.output<typeof handoffChoice>;

/** Where a receiver's drive lies on their machines, by system. */
const roots = z.partialRecord(z.enum(memberSystems), z.string().max(500));

export const handoffOrder = z.strictObject({
  name: z.string().trim().min(1, 'give it a name').max(120),
  receiver: z.string().trim().min(1, 'say for whom it is').max(80),
  fileSystem: fileSystem.nullable(),
  roots,
  choice: handoffChoice,
  to: z.strictObject(storeFolder),
});
export type HandoffOrder = z.output<typeof handoffOrder>;

/** A hand-off before it is made: it may lack its name, its receiver, its place. */
export const handoffWish = z.strictObject({
  receiver: z.string().trim().max(80),
  fileSystem: fileSystem.nullable(),
  choice: handoffChoice,
  to: z.strictObject(storeFolder).nullable(),
});
export type HandoffWish = z.output<typeof handoffWish>;

const pathAndWhy = z.strictObject({ path: z.string(), why: z.string() });

/** What a hand-off would come to. Lists end after some; their counts do not. */
export const handoffCheck = z.strictObject({
  outputs: z.number(),
  originals: z.number(),
  files: z.number(),
  bytes: z.number(),
  /** They hold these as they are: nothing of them is sent again. */
  held: z.number(),
  replaced: z.array(z.string()),
  toDelete: z.array(z.string()),
  /** Older versions of what is sent, which stay here. */
  older: z.number(),
  /** Copies that are marked as somebody else's, which stay here. */
  others: z.array(z.strictObject({ recipient: z.string(), copies: z.number() })),
  /** From this site's own copies; null where it made none yet. */
  seconds: z.number().nullable(),
  freeBytes: z.number().nullable(),
  /** Why the place will not do; null where it does, or none is chosen. */
  place: problem.nullable(),
  notProved: z.array(pathAndWhy),
  notProvedCount: z.number(),
  undecided: z.array(pathAndWhy),
  undecidedCount: z.number(),
  hindrances: z.array(pathAndWhy),
  hindranceCount: z.number(),
  /** Pairs of a proxy and an intermediate: how many swap by path, and what keeps others from it. */
  pairs: z
    .strictObject({
      count: z.number(),
      swap: z.number(),
      roots: z.strictObject({ low: z.string(), high: z.string() }).nullable(),
      differ: z.array(pathAndWhy),
    })
    .nullable(),
});
export type HandoffCheck = z.infer<typeof handoffCheck>;

/** What there is to choose from. */
export const handoffChoices = z.strictObject({
  runs: z.array(z.strictObject({ id: z.string(), name: z.string(), outputs: z.number() })),
  roles: z.array(z.string()),
  deliverables: z.array(z.string()),
  rolls: z.array(z.string()),
  days: z.array(z.string()),
  filters: z.array(z.strictObject({ name: z.string(), words: z.string() })),
  cuts: z.array(cutChoice),
  receivers: z.array(
    z.strictObject({ name: z.string(), fileSystem: fileSystem.nullable(), roots, handoffs: z.number() }),
  ),
});
export type HandoffChoices = z.infer<typeof handoffChoices>;

export const handoffState = z.enum(['waiting', 'copying', 'stopped', 'failed', 'proved']);
export type HandoffState = z.infer<typeof handoffState>;

/** A hand-off in the list. */
export const handedLine = z.strictObject({
  id: z.string(),
  name: z.string(),
  receiver: z.string(),
  store: z.string(),
  storeName: z.string(),
  folder: z.string(),
  state: handoffState,
  files: z.number(),
  filesDone: z.number(),
  bytes: z.number(),
  bytesDone: z.number(),
  who: z.string(),
  createdAt: z.string(),
  endedAt: z.string().nullable(),
  problem: problem.nullable(),
  /** What did not come over. */
  left: z.number(),
  /** They have nothing of it any more. */
  lost: z.boolean(),
});
export type HandedLine = z.infer<typeof handedLine>;

/** One file of a hand-off, or an output that is a folder of them. */
export const handedItem = z.strictObject({
  place: z.number(),
  path: z.string(),
  kind: z.enum(['output', 'lut', 'original', 'sidecar']),
  sizeBytes: z.number(),
  came: z.boolean(),
  replaces: z.boolean(),
  output: z.string().nullable(),
  clip: z.string().nullable(),
  /** Its clip has a picture to be told by. */
  poster: z.boolean(),
});

/** What lies on a drive that came back and was not sent. */
export const returnedThing = z.strictObject({
  path: z.string(),
  kind: z.enum(['edit list', 'media', 'other']),
});

/** A drive that was looked at again: held against its manifest, and what is on it besides. */
export const returnedAnswer = z.strictObject({
  at: z.string(),
  verified: z.boolean(),
  same: z.number(),
  missing: z.array(z.string()),
  changed: z.array(pathAndWhy),
  /** The first of them; their count is of all. */
  more: z.array(returnedThing),
  moreCount: z.number(),
  /** Whose the drive says that it is, where that is somebody else. */
  markedFor: z.string().nullable(),
  readFromDisk: z.boolean(),
  problem: problem.nullable(),
});
export type ReturnedAnswer = z.infer<typeof returnedAnswer>;

/** A drive that is mounted now and that something was handed off on. */
export const returnedDrive = z.strictObject({
  root: z.string(),
  folder: z.string(),
  receiver: z.string(),
  /** The newest hand-off that is on it. */
  handoff: z.string(),
  name: z.string(),
});
export type ReturnedDrive = z.infer<typeof returnedDrive>;

/** Whether they have nothing of it any more. */
export const lostDrive = z.strictObject({ lost: z.boolean() });

/** Where that drive is mounted; nothing where it lies where it did. */
export const cameBackAt = z.strictObject({ root: z.string().max(4_000).nullable() });

export const handedAnswer = handedLine.extend({
  returned: returnedAnswer.nullable(),
  /** It is being verified now. */
  verifying: z.boolean(),
  choice: handoffChoice,
  items: z.array(handedItem),
  problems: z.array(coreType<Problem & { path: string }>()),
  toDelete: z.array(z.string()),
  manifest: z.string().nullable(),
  readFromDisk: z.boolean(),
  /** What happened to it, the newest last. */
  events: z.array(z.strictObject({ at: z.string(), who: z.string(), what: z.string() })),
  /** The two folders to exchange, written for each system, where it has both roles. */
  exchange: z.array(z.strictObject({ system: z.string(), low: z.string(), high: z.string() })),
  pairs: handoffCheck.shape.pairs,
});
export type HandedAnswer = z.infer<typeof handedAnswer>;

/** What every receiver holds: receivers × rolls. */
export const holdings = z.strictObject({
  rolls: z.array(z.strictObject({ name: z.string(), clips: z.number() })),
  receivers: z.array(
    z.strictObject({
      id: z.string(),
      name: z.string(),
      fileSystem: fileSystem.nullable(),
      handoffs: z.number(),
      bytes: z.number(),
      lastAt: z.string().nullable(),
      /** By roll: how many clips of it they hold something of. */
      clips: z.record(z.string(), z.number()),
    }),
  ),
});
export type Holdings = z.infer<typeof holdings>;
