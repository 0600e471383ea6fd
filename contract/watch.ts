import { z } from 'zod';

/** What `./relay watch --json-lines` prints: one of these a line, as it happens. `at` is the time, ISO 8601, UTC. */

const at = z.iso.datetime();
const outputEnd = z.object({
  deliverable: z.string(),
  /** Of outputs, or of its own place; and the path below that. */
  folder: z.string(),
  path: z.string(),
  state: z.enum(['proved', 'needs eyes', 'failed', 'stopped']),
  alreadyThere: z.boolean(),
  sizeBytes: z.number(),
  /** XXH3-64; null of what is not there. */
  xxh3: z.string().nullable(),
});

export const watchLine = z.discriminatedUnion('event', [
  /** The watch began; `known` files were dealt with before. */
  z.object({ event: z.literal('watching'), at, source: z.string(), out: z.string(), known: z.number() }),
  /** Something is there and not taken up yet. Said again when the reason is another. */
  z.object({
    event: z.literal('waits'),
    at,
    thing: z.string(),
    files: z.number(),
    why: z.string(),
    /** Until it is taken up, if nothing more happens; null where time alone does not help. */
    seconds: z.number().nullable(),
  }),
  /** Something is taken up, and by what it was known to be whole. */
  z.object({
    event: z.literal('taken'),
    at,
    thing: z.string(),
    files: z.number(),
    bytes: z.number(),
    by: z.enum(['quiet', 'manifest', 'partner']),
  }),
  /** A file is what was taken up before: nothing is made of it. */
  z.object({ event: z.literal('known'), at, path: z.string(), as: z.string(), result: z.boolean() }),
  z.object({ event: z.literal('begun'), at, original: z.string(), said: z.array(z.string()) }),
  z.object({
    event: z.literal('made'),
    at,
    original: z.string(),
    state: z.enum(['proved', 'needs eyes']),
    outputs: z.array(outputEnd),
  }),
  /** Nothing, or not everything, was made of a file. `again`: it is tried again by itself, else when it changes. */
  z.object({
    event: z.literal('left'),
    at,
    path: z.string(),
    what: z.string(),
    remedy: z.string(),
    again: z.boolean(),
    outputs: z.array(outputEnd),
  }),
  /** Originals went into `done` or `left`, or others of these names where those hold theirs. */
  z.object({ event: z.literal('moved'), at, from: z.string(), to: z.string() }),
  /** The folder, or that of outputs, is not there; and is there again. */
  z.object({ event: z.literal('away'), at, what: z.string() }),
  z.object({ event: z.literal('back'), at, what: z.string() }),
  z.object({ event: z.literal('ended'), at, made: z.number(), left: z.number(), waiting: z.number() }),
]);

export type WatchLine = z.infer<typeof watchLine>;
type Unstamped<T> = T extends unknown ? Omit<T, 'at'> : never;
/** A line before it says when. */
export type WatchEvent = Unstamped<WatchLine>;
export type OutputEnd = z.infer<typeof outputEnd>;
