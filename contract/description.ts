import type { ClipDescription, ReadEntry, Refusal } from '@relay/core/clip/description';
import type { Rational } from '@relay/core/time/rational';
import { problemKinds } from '@relay/core/result';
import { z } from 'zod';

/**
 * What `./relay read --json` prints an array of, and what the server sends of a clip. Types are core's own; these
 * schemas check them at the edges.
 */
export type {
  AudioTrack,
  ClipDescription,
  ColourTags,
  ReadEntry,
  Refusal,
  Scan,
  VideoDescription,
} from '@relay/core/clip/description';

export const rational: z.ZodType<Rational> = z.object({ num: z.number().int(), den: z.number().int().positive() });

export const problem = z.object({ what: z.string(), remedy: z.string(), kind: z.enum(problemKinds).optional() });

const colourTags = z.object({
  primaries: z.string().nullable(),
  transfer: z.string().nullable(),
  matrix: z.string().nullable(),
  range: z.enum(['legal', 'full']).nullable(),
});

const video = z.object({
  codec: z.string(),
  codecId: z.string(),
  profile: z.string().nullable(),
  raster: z.object({ width: z.number().int(), height: z.number().int() }),
  pixelAspect: rational,
  pixelAspectTagged: z.boolean(),
  scan: z.enum(['progressive', 'top-field-first', 'bottom-field-first', 'unknown']),
  rate: rational,
  rateConstant: z.boolean(),
  rateVaries: z.object({ slowest: rational, fastest: rational }).nullable(),
  bitDepth: z.number().int(),
  chroma: z.enum(['4:0:0', '4:1:1', '4:2:0', '4:2:2', '4:4:0', '4:4:4', 'rgb']),
  alpha: z.boolean(),
  colour: colourTags,
  quarterTurns: z.number().int(),
  frames: z.number().int(),
  duration: rational,
  start: rational,
  bitsPerSecond: z.number().nullable(),
});

const audioTrack = z.object({
  codec: z.string(),
  codecId: z.string(),
  channels: z.number().int(),
  layout: z.string().nullable(),
  sampleRate: z.number().int(),
  bitDepth: z.number().int().nullable(),
  duration: rational.nullable(),
});

export const clipDescription: z.ZodType<ClipDescription> = z.object({
  path: z.string(),
  stem: z.string(),
  sizeBytes: z.number(),
  modifiedAt: z.string(),
  wrapper: z.string(),
  wrapperId: z.string(),
  video: video.nullable(),
  audio: z.array(audioTrack),
  timecode: z.object({ start: z.string(), dropFrame: z.boolean() }).nullable(),
  reel: z.string().nullable(),
  device: z.string().optional(),
  timeReference: z.number().optional(),
  bitsPerSecond: z.number().nullable(),
  otherStreams: z.array(z.string()),
  cutShort: z.string().nullable(),
  chapters: z.array(
    z.object({ path: z.string(), sizeBytes: z.number(), frames: z.number().int(), duration: rational }),
  ),
});

export const refusal: z.ZodType<Refusal> = z.object({
  path: z.string(),
  sizeBytes: z.number(),
  problem: problem.extend({
    kind: z.enum(['sidecar', 'chapter', 'not-media', 'broken', 'not-decodable', 'unreadable']),
  }),
});

export const readEntry: z.ZodType<ReadEntry> = z.union([refusal, clipDescription]);
