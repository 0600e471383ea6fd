import { cutForms } from '@relay/core/cut/read';
import type { Changes } from '@relay/core/cut/changes';
import type { Cut, Remark, Span } from '@relay/core/cut/cut';
import { grades } from '@relay/core/relink/grade';
import { z } from 'zod';
import { coreType } from './coreType.ts';

/** Edit lists are no larger than this. */
export const largestListBytes = 64_000_000;

/** A version of a cut: one list as it came. */
export const cutVersion = z.object({
  id: z.uuid(),
  number: z.number().int(),
  fileName: z.string(),
  form: z.enum(cutForms),
  events: z.number().int(),
  createdAt: z.string(),
  who: z.string(),
});
export type CutVersion = z.infer<typeof cutVersion>;

/** A cut that came back, with its versions, the newest first. */
export const cutLine = z.object({ id: z.uuid(), name: z.string(), versions: z.array(cutVersion) });
export type CutLine = z.infer<typeof cutLine>;

/** A cut by its newest version, to be chosen by. */
export const cutChoice = z.strictObject({ version: z.string(), name: z.string() });
export type CutChoice = z.infer<typeof cutChoice>;

/** What a list is brought in as: a cut of its own, or a version of one; and the rate where it states none. */
export const cutArriving = z.object({
  name: z.string().min(1).max(255),
  cut: z.uuid().optional(),
  rate: z.string().max(40).optional(),
});

export const cutFromStore = z.object({
  store: z.string().min(1).max(80),
  path: z.string().min(1).max(4_096),
  cut: z.uuid().optional(),
  rate: z.string().max(40).optional(),
});

const nearOriginal = z.object({ clip: z.uuid(), stem: z.string(), path: z.string(), differs: z.string() });

/** An event as it was tried: what the list says of it, and what became of that. */
export const cutEventLine = z.object({
  /** Its place among the cut's events. */
  index: z.number().int(),
  number: z.string(),
  line: z.number().int().nullable(),
  tracks: z.array(z.string()),
  kind: z.enum(['media', 'black', 'generated']),
  record: coreType<Span>(),
  recordIn: z.string(),
  recordOut: z.string(),
  reel: z.string().nullable(),
  clip: z.string().nullable(),
  file: z.string().nullable(),
  /** Labels of the source: as they were written, else as they count. */
  sourceIn: z.string().nullable(),
  sourceOut: z.string().nullable(),
  speed: z.string().nullable(),
  transition: z.string().nullable(),
  comments: z.array(z.string()),
  /** Null for black and what was made in the editing program. */
  grade: z.enum(grades).nullable(),
  original: z.object({ clip: z.uuid(), stem: z.string(), path: z.string() }).nullable(),
  /** Frames of the original from 0, `to` not among them. */
  frames: coreType<Span>().nullable(),
  /** The output that led to it. */
  through: z.string().nullable(),
  why: z.string(),
  near: z.array(nearOriginal),
});
export type CutEventLine = z.infer<typeof cutEventLine>;

/** A version of a cut tried against the production's originals. */
export const rehearsalAnswer = z.object({
  cut: z.object({ id: z.uuid(), name: z.string() }),
  version: cutVersion,
  versions: z.array(cutVersion),
  title: z.string(),
  rate: z.string(),
  rateWhy: z.string(),
  /** Frames of the record, as events count them. */
  record: coreType<Span>(),
  length: z.string(),
  tracks: coreType<Cut['tracks']>(),
  markers: coreType<Cut['markers']>(),
  remarks: coreType<Remark[]>(),
  counts: z.record(z.enum(grades), z.number().int()),
  events: z.array(cutEventLine),
});
export type RehearsalAnswer = z.infer<typeof rehearsalAnswer>;

/** What a person says of an event: its original, and the frame of it that the event begins with; null takes it back. */
export const eventAnswer = z.object({
  event: z.number().int().min(0).max(1e6),
  clip: z.uuid().nullable(),
  at: z.number().int().min(0).max(1e8).nullable(),
});

export const changesAnswer = z.object({
  before: cutVersion,
  after: cutVersion,
  changes: coreType<Changes['changes']>(),
  newSeconds: z.number(),
});
export type ChangesAnswer = z.infer<typeof changesAnswer>;

/** A cut on what a run made for it. */
export const swapAnswer = z.object({
  deliverable: z.string(),
  deliverables: z.array(z.string()),
  /** Events that show media, and those of them that are on pulled files. */
  events: z.number().int(),
  swapped: z.number().int(),
  left: z.array(z.object({ number: z.string(), why: z.string() })),
});
export type SwapAnswer = z.infer<typeof swapAnswer>;

/** The pictures that the written list leads to, held against the originals'. */
export const swapProof = z.object({
  agree: z.number().int(),
  events: z.array(
    z.object({
      number: z.string(),
      path: z.string(),
      /** The frame of it that was opened, from 0. */
      at: z.number().int(),
      agrees: z.boolean(),
      why: z.string(),
    }),
  ),
});
export type SwapProof = z.infer<typeof swapProof>;
