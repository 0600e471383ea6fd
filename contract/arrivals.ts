import type { Clearing } from '@relay/core/custody/clearing';
import { hashNames, type Differences } from '@relay/core/custody/manifest';
import type { Recognised } from '@relay/core/custody/card';
import { rollNameProblem } from '@relay/core/custody/rollName';
import type { Problem } from '@relay/core/result';
import { z } from 'zod';

/** Cards coming in: rolls, their copies and their custody. */

export type RollState = 'waiting' | 'copying' | 'paused' | 'stopped' | 'failed' | 'proved';

export interface RollCopy {
  id: string;
  store: string;
  storeName: string;
  folder: string;
  filesProved: number;
  readFromDisk: boolean;
  manifest: string | null;
  problem: Problem | null;
  /** What the last verification found, and when; null when there was none since it was copied. */
  verification:
    | (Pick<Differences, 'same' | 'missing' | 'changed' | 'extra'> & { verified: boolean; problem: Problem | null })
    | null;
  verifiedAt: string | null;
  verifying: boolean;
}

/** One roll: one card as it arrived. */
export interface RollLine {
  id: string;
  name: string;
  day: string;
  cardStore: string;
  cardFolder: string;
  state: RollState;
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
  createdAt: string;
  startedAt: string | null;
  endedAt: string | null;
  copies: RollCopy[];
  problems: (Problem & { path: string })[];
  clearing: Clearing;
  clips: number;
}

/** A roll with everything that happened to it. */
export interface RollAnswer extends RollLine {
  hash: string;
  alsoMd5: boolean;
  notCopied: { shownPath: string; why: string }[];
  cardManifest: ({ file: string } & Differences) | null;
  events: { at: string; who: string; what: string }[];
  generations: {
    copy: string;
    file: string;
    createdAt: string;
    host: string;
    process: string;
    files: number;
    failed: number;
    doubt: string | null;
  }[];
}

const folder = z.string().max(4000);
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
export interface CardAnswer {
  files: number;
  bytes: number;
  clips: number;
  notCopied: { shownPath: string; why: string }[];
  /** A roll name for it that is not taken, and the camera it was taken from. */
  proposedName: string;
  recognised: (Recognised & { says: string }) | null;
  hasManifest: boolean;
}

/** The simulated card reader: its slots, and the cards that lie beside it. */
export interface BayAnswer {
  store: string;
  slots: { slot: string; card: string | null; folder: string }[];
  tray: string[];
}
export const bayMove = z.strictObject({ card: z.string().min(1).max(80), slot: z.string().max(20).nullable() });
