import { z } from 'zod';
import { cutChoice } from './cuts.ts';
import { problem } from './description.ts';

/** Getting space back: what may be deleted of what was made here, what went, and how it comes back. */

export const spaceKind = z.enum(['intermediate', 'proxy', 'review', 'pulled', 'superseded', 'cache']);
export type SpaceKind = z.infer<typeof spaceKind>;

/** Files that are deleted together: of one kind and one run. */
export const spaceSet = z.strictObject({
  key: z.string(),
  kind: spaceKind,
  /** Of its run; empty for the cache. */
  run: z.string(),
  stores: z.array(z.string()),
  files: z.number(),
  bytes: z.number(),
  /** Those of them that may go, and why that is safe. */
  goes: z.number(),
  goesBytes: z.number(),
  safe: z.string(),
  /** Why others stay. */
  stays: z.array(z.strictObject({ why: z.string(), files: z.number() })),
});
export type SpaceSet = z.infer<typeof spaceSet>;

export const spaceAnswer = z.strictObject({
  sets: z.array(spaceSet),
  cuts: z.array(cutChoice),
});
export type SpaceAnswer = z.infer<typeof spaceAnswer>;

/** Of clips that a version of a cut uses; of all where null. */
const cut = z.uuid().nullable();
export const spaceQuery = z.object({ cut: z.uuid().optional() });

export const spaceChoice = z.strictObject({ sets: z.array(z.string().max(200)).min(1).max(2_000), cut });
export type SpaceChoice = z.infer<typeof spaceChoice>;

/** What deleting the chosen sets would do. */
export const spaceEffect = z.strictObject({
  files: z.number(),
  bytes: z.number(),
  stores: z.array(z.strictObject({ name: z.string(), bytes: z.number() })),
  clips: z.number(),
  /** Clips of which nothing would be left that was made of them. */
  bare: z.number(),
  losing: z.array(z.strictObject({ path: z.string(), loses: z.array(z.string()), keeps: z.array(z.string()) })),
  /** Seconds to make it all again, by this site's own pace; null where it has none yet. */
  again: z.number().nullable(),
  /** What is to be typed. */
  words: z.string(),
});
export type SpaceEffect = z.infer<typeof spaceEffect>;

export const removalOrder = spaceChoice.extend({ typed: z.string().max(100) });
export type RemovalOrder = z.infer<typeof removalOrder>;

export const removalState = z.enum(['waiting', 'removing', 'done', 'stopped', 'failed']);
export type RemovalState = z.infer<typeof removalState>;

/** A deletion in the list. */
export const removalLine = z.strictObject({
  id: z.string(),
  state: removalState,
  /** What was chosen, in words. */
  says: z.string(),
  who: z.string(),
  createdAt: z.string(),
  files: z.number(),
  filesDone: z.number(),
  bytes: z.number(),
  /** That came back. */
  bytesDone: z.number(),
  left: z.number(),
  problem: problem.nullable(),
});
export type RemovalLine = z.infer<typeof removalLine>;

/** What is known of something that went, once it was made again. */
export const cameBack = z.enum(['is made', 'same to the byte', 'proved', 'needs eyes', 'failed']);
export type CameBack = z.infer<typeof cameBack>;

export const removalItem = z.strictObject({
  place: z.number(),
  path: z.string(),
  storeName: z.string(),
  folder: z.string(),
  sizeBytes: z.number(),
  state: z.enum(['waiting', 'going', 'gone', 'left']),
  /** Why it was left. */
  why: z.string(),
  /** Older versions are not made again. */
  canComeBack: z.boolean(),
  back: cameBack.nullable(),
});
export type RemovalItem = z.infer<typeof removalItem>;

export const removalAnswer = removalLine.extend({ items: z.array(removalItem) });
export type RemovalAnswer = z.infer<typeof removalAnswer>;

/** Which of them are made again; all that can be where it names none. */
export const comeBack = z.strictObject({ places: z.array(z.number().int().nonnegative()).max(100_000) });
