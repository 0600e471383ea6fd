import type { Recognised } from '@relay/core/custody/card';
import type { Clearing } from '@relay/core/custody/clearing';
import { type Differences, hashNames } from '@relay/core/custody/manifest';
import { rollNameProblem } from '@relay/core/custody/rollName';
import type { Problem } from '@relay/core/result';
import { problem, refusal } from './description.ts';
import { coreType } from './coreType.ts';
import { z } from 'zod';

/** Cards coming in: rolls, their copies and their custody; folders that are read. */

const folder = z.string().max(4000);

export const storeFolder = { store: z.string().min(1).max(80), folder: z.string().max(4000) };

export const newReading = z.strictObject(storeFolder);

export const readingAnswer = z.strictObject({
  id: z.string(),
  store: z.string(),
  folder: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'failed']),
  total: z.number(),
  done: z.number(),
  problem: problem.nullable(),
  /** What it left for later, if anything. */
  says: z.string().nullable(),
  /** The folder was read before: what it counts is what was new in it. */
  again: z.boolean(),
  createdAt: z.string(),
});
export type ReadingAnswer = z.infer<typeof readingAnswer>;

export const leftAsideLine = z.strictObject({ id: z.string(), refusal: refusal });
export type LeftAsideLine = z.infer<typeof leftAsideLine>;

/** Cards coming in: rolls, their copies and their custody. */
export const rollState = z.enum(['waiting', 'copying', 'paused', 'stopped', 'failed', 'proved']);
export type RollState = z.infer<typeof rollState>;

export const rollCopy = z.strictObject({
  id: z.string(),
  store: z.string(),
  storeName: z.string(),
  folder: z.string(),
  filesProved: z.number(),
  disk: z.string().nullable(),
  readFromDisk: z.boolean(),
  manifest: z.string().nullable(),
  problem: problem.nullable(),
  /** What the last verification found, and when; null when there was none since it was copied. */
  verification: coreType<
    Pick<Differences, 'same' | 'missing' | 'changed' | 'extra'> & { verified: boolean; problem: Problem | null }
  >().nullable(),
  verifiedAt: z.string().nullable(),
  verifying: z.boolean(),
});
export type RollCopy = z.infer<typeof rollCopy>;

/** One roll: one card as it arrived. */
export const rollLine = z.strictObject({
  id: z.string(),
  name: z.string(),
  day: z.string(),
  hash: z.string(),
  alsoMd5: z.boolean(),
  cardStore: z.string(),
  cardFolder: z.string(),
  state: rollState,
  files: z.number(),
  filesDone: z.number(),
  bytes: z.number(),
  bytesDone: z.number(),
  createdAt: z.string(),
  startedAt: z.string().nullable(),
  endedAt: z.string().nullable(),
  copies: z.array(rollCopy),
  problems: z.array(problem.extend({ path: z.string() })),
  clearing: coreType<Clearing>(),
  clips: z.number(),
});
export type RollLine = z.infer<typeof rollLine>;

/** A roll with everything that happened to it. */
export const rollAnswer = rollLine.extend({
  notCopied: z.array(z.strictObject({ shownPath: z.string(), why: z.string() })),
  cardManifest: coreType<{ file: string } & Differences>().nullable(),
  events: z.array(z.strictObject({ at: z.string(), who: z.string(), what: z.string() })),
  generations: z.array(
    z.strictObject({
      copy: z.string(),
      file: z.string(),
      createdAt: z.string(),
      host: z.string(),
      process: z.string(),
      files: z.number(),
      failed: z.number(),
      doubt: z.string().nullable(),
    }),
  ),
});
export type RollAnswer = z.infer<typeof rollAnswer>;

const place = z.strictObject({ store: z.string().min(1).max(80), folder });

const rollName = z
  .string()
  .trim()
  .superRefine((name, context) => {
    const problem = rollNameProblem(name);
    if (problem) context.addIssue({ code: 'custom', message: problem });
  });

export const cardQuery = z.object({ store: z.string().min(1).max(80), folder });

export const newRoll = z.strictObject({
  card: place,
  day: rollName,
  name: rollName,
  destinations: z.array(place).min(1).max(2),
  hash: z.enum(hashNames).default('xxh128'),
  alsoMd5: z.boolean().default(false),
});

/** What lies on a card before it is brought in. */
export const cardAnswer = z.strictObject({
  files: z.number(),
  bytes: z.number(),
  clips: z.number(),
  notCopied: z.array(z.strictObject({ shownPath: z.string(), why: z.string() })),
  /** A roll name for it that is not taken, and the camera it was taken from. */
  proposedName: z.string(),
  recognised: coreType<Recognised & { says: string }>().nullable(),
  /** A folder that was chosen one level too high or too low; null where it may well be a card. */
  placement: z
    .discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('above'), cards: z.array(z.string()) }),
      z.strictObject({ kind: z.literal('within'), card: z.string() }),
    ])
    .nullable(),
  hasManifest: z.boolean(),
});
export type CardAnswer = z.infer<typeof cardAnswer>;

/** The simulated card reader: its slots, and the cards that lie beside it. */
export const bayAnswer = z.strictObject({
  store: z.string(),
  slots: z.array(z.strictObject({ slot: z.string(), card: z.string().nullable(), folder: z.string() })),
  tray: z.array(z.string()),
});
export type BayAnswer = z.infer<typeof bayAnswer>;

export const bayMove = z.strictObject({ card: z.string().min(1).max(80), slot: z.string().max(20).nullable() });
