import type { Problem } from '@relay/core/result';
import { rational } from './description.ts';
import { legState } from './states.ts';
import { z } from 'zod';

/** Productions, stores, workers, and what holds for the whole site. */

export const productionAnswer = z.strictObject({
  id: z.string(),
  name: z.string(),
  createdAt: z.string(),
  /** Its own rate, that findings compare with; null when nobody said. */
  rate: rational.nullable(),
  copyRule: z.strictObject({ copies: z.number(), stores: z.number(), oneDisk: z.boolean().optional() }),
  /** What waits at each station. */
  counts: z.strictObject({
    rolls: z.number(),
    clips: z.number(),
    leftAside: z.number(),
    toDecide: z.number(),
    arriving: z.number(),
    groups: z.number(),
    logWithout: z.number(),
    recipes: z.number(),
    runs: z.number(),
    legsOpen: z.number(),
    outputs: z.number(),
    needEyes: z.number(),
    failed: z.number(),
    handoffs: z.number(),
  }),
});
export type ProductionAnswer = z.infer<typeof productionAnswer>;

export const productionChange = z.strictObject({
  rate: z.object({ num: z.number().int().positive(), den: z.number().int().positive() }).nullable().optional(),
  copyRule: z
    .strictObject({
      copies: z.number().int().min(1).max(9),
      stores: z.number().int().min(1).max(9),
      oneDisk: z.boolean().optional(),
    })
    .optional(),
});

export const newProduction = z.strictObject({ name: z.string().trim().min(1, 'give it a name').max(120) });

export const storeAnswer = z.strictObject({
  id: z.string(),
  name: z.string(),
  path: z.string(),
  /** The simulated card reader: cards come from it, nothing goes to it. */
  bay: z.boolean(),
  /** Only read from: a card, or what is mounted so. */
  readOnly: z.boolean(),
  /** Made of the demo, and not a user's. */
  demo: z.boolean(),
  /** What tells its disk from others; null where nobody can tell. */
  disk: z.string().nullable(),
  /** Null when the store is not there. */
  freeBytes: z.number().nullable(),
  totalBytes: z.number().nullable(),
  /** What legs that are queued or under way will still put there, likely. */
  promisedBytes: z.number(),
  /** Where it lay before it was said to lie here; null where it was not. */
  before: z.string().nullable(),
  /** Its path as members' machines write it. */
  elsewhere: z.partialRecord(z.enum(['windows', 'mac', 'linux']), z.string()),
});
export type StoreAnswer = z.infer<typeof storeAnswer>;

const memberPath = z.string().trim().max(1000).optional();

export const storeChange = z.strictObject({
  elsewhere: z.strictObject({ windows: memberPath, mac: memberPath, linux: memberPath }),
});

/** A folder, a drive or a card of this machine that a store may be added from. */
export const rootAnswer = z.strictObject({
  path: z.string(),
  name: z.string(),
  kind: z.enum(['folder', 'drive', 'card']),
  readOnly: z.boolean(),
  freeBytes: z.number().nullable(),
  totalBytes: z.number().nullable(),
  /** The store that it is already; null where it is none. */
  store: z.string().nullable(),
});
export type RootAnswer = z.infer<typeof rootAnswer>;

/** A folder below one of those. */
const below = { root: z.string().max(4000), folder: z.string().max(4000).default('') };
export const folderBelow = z.strictObject(below);

/** What it is added for: to be read where it lies, to be brought in from as a card, or to have something made in it. */
export const newStore = z.strictObject({ ...below, use: z.enum(['read', 'bring in', 'make']) });

/** Where that folder lies now. */
export const settledAnswer = z.strictObject({ store: storeAnswer, folder: z.string() });
export type SettledAnswer = z.infer<typeof settledAnswer>;

export const foldersAnswer = z.strictObject({ folder: z.string(), folders: z.array(z.string()), files: z.number() });
export type FoldersAnswer = z.infer<typeof foldersAnswer>;

/** A worker that is there. */
export const workerLine = z.strictObject({
  name: z.string(),
  title: z.string(),
  host: z.string(),
  slots: z.number(),
  /** Codecs that it takes legs of; null for all. */
  codecs: z.array(z.string()).nullable(),
  /** Stores that are there on its machine. */
  stores: z.array(z.string()),
  /** Why it reads strangers' files without a sandbox; null where it has one. */
  isolation: z.string().nullable(),
  startedAt: z.string(),
  legs: z.array(
    z.strictObject({ leg: z.string(), run: z.string(), stem: z.string(), production: z.string(), state: legState }),
  ),
});
export type WorkerLine = z.infer<typeof workerLine>;

export const timeOfDay = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'write a time as HH:MM');

/** Hours in which nothing begins, by the server's clock. */
export const quietHours = z.strictObject({ from: timeOfDay, until: timeOfDay });

export const siteAnswer = z.strictObject({
  stores: z.array(storeAnswer),
  legsOpen: z.number(),
  legsRunning: z.number(),
  /** When everything queued will be done, by the speed so far; null when it cannot be told yet. */
  readyAt: z.string().nullable(),
  workers: z.array(workerLine),
  quiet: quietHours.nullable(),
  /** No leg begins now. */
  quietNow: z.boolean(),
  /** Quiet stretches of the coming week, in milliseconds since 1970. */
  quietStretches: z.array(z.strictObject({ start: z.number(), end: z.number() })),
  /** What the server's clock shows, `HH:MM`: quiet hours go by it. */
  clock: z.string(),
  /** Why the server's own FFmpeg runs without a sandbox; null where it has one. */
  isolation: z.string().nullable(),
});
export type SiteAnswer = z.infer<typeof siteAnswer>;

export const siteChange = z.strictObject({ quiet: quietHours.nullable() });

export interface ErrorAnswer {
  error: Problem;
}
