import type { Finding, Level } from '@relay/core/findings/finding';
import type { Decision, Standing } from '@relay/core/findings/findings';
import { type Identity, type IdentityField, identityFields, identityProblem } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import { correctionsInForce } from './corrections.ts';
import { clipDescription, rational } from './description.ts';
import { clipIdList } from './ids.ts';
import { coreType } from './coreType.ts';
import { legState } from './states.ts';
import { z } from 'zod';

/** The clips of a production: the sheet, one clip's docket, what people say and decide. */

/** The clips of a production: the sheet, one clip's docket, what people say and decide. */

/** One line of the sheet: just what it shows. */
export const clipLine = z.strictObject({
  id: z.string(),
  path: z.string(),
  stem: z.string(),
  roll: z.string(),
  version: z.number(),
  identity: coreType<Identity>(),
  starts: z.string().nullable(),
  frames: z.number().nullable(),
  rate: rational.nullable(),
  rateConstant: z.boolean(),
  raster: z.strictObject({ width: z.number(), height: z.number() }).nullable(),
  sampling: z.string().nullable(),
  channels: z.number(),
  sizeBytes: z.number(),
  seconds: z.number().nullable(),
  poster: z.boolean(),
  looked: z.boolean(),
  findings: z.array(
    z.strictObject({ rule: z.string(), level: coreType<Level>(), text: z.string(), decided: z.boolean() }),
  ),
  /** States of the clip's newest outputs by role: its way so far. */
  way: z.array(z.strictObject({ role: z.string(), state: legState, share: z.number() })),
});
export type ClipLine = z.infer<typeof clipLine>;

export const clipSorts = [
  'group',
  'name',
  'roll',
  'scene',
  'starts',
  'length',
  'rate',
  'size',
  'raster',
  'notes',
] as const;

export type ClipSort = (typeof clipSorts)[number];

export const clipQuery = z.object({
  sort: z.enum(clipSorts).default('group'),
  direction: z.enum(['up', 'down']).default('up'),
  filter: z.string().max(200).default(''),
});

/** Clips alike in what matters for corrections: a stretch of the sheet. */
export const clipGroup = z.strictObject({
  key: z.string(),
  text: z.string(),
  clips: z.number(),
  /** Of their pictures together; null where none has any. */
  seconds: z.number().nullable(),
  bytes: z.number(),
});
export type ClipGroup = z.infer<typeof clipGroup>;

const ids = clipIdList(1);

/**
 * The sheet's order, its groups when it is sorted by them, and its first lines; the others are asked for as they come
 * into view.
 */
export const clipsAnswer = z.strictObject({
  ids: z.array(z.string()),
  groups: z.array(clipGroup),
  lines: z.array(clipLine),
  seconds: z.number(),
  bytes: z.number(),
});
export type ClipsAnswer = z.infer<typeof clipsAnswer>;

export const firstLines = 100;

export const clipIds = z.strictObject({ clips: ids });

export const someClipIds = z.strictObject({ clips: clipIdList(1, 500) });

/** Where a clip's roll stands, for its docket. */
export const clipCustody = z.strictObject({
  roll: z.string(),
  rollId: z.string(),
  state: z.string(),
  says: z.string(),
});
export type ClipCustody = z.infer<typeof clipCustody>;

/** Everything about one clip. */
export const clipAnswer = z.strictObject({
  id: z.string(),
  version: z.number(),
  roll: z.string(),
  store: z.string(),
  root: z.string(),
  description: clipDescription,
  identity: coreType<Identity>(),
  /** What people said, and what a sidecar says: where the identity comes from. */
  said: coreType<Partial<Identity>>(),
  sidecarSaid: coreType<Partial<Identity>>(),
  sidecars: z.array(z.string()),
  findings: z.array(coreType<Finding>()),
  decisions: z.array(coreType<Decision>()),
  /** The corrections that hold for it, each with the rule that it comes from. */
  inForce: correctionsInForce,
  standing: coreType<Standing>(),
  custody: clipCustody.nullable(),
  measured: coreType<Measured>().nullable(),
  lookedAt: z.string().nullable(),
  /** Why it could not be looked at closely, so that findings may be missing. */
  lookProblem: z.string().nullable(),
  poster: z.boolean(),
  /** A proved proxy that plays instead of the original. */
  proxy: z.boolean(),
  way: clipLine.shape['way'],
});
export type ClipAnswer = z.infer<typeof clipAnswer>;

/** What the clips of a selection have in common; `null` in a fact or field means that they differ. */
export const commonAnswer = z.strictObject({
  clips: z.number(),
  seconds: z.number().nullable(),
  bytes: z.number(),
  facts: z.array(coreType<readonly [string, string | null]>()),
  identity: coreType<Record<IdentityField, { same: boolean; value: string | null }>>(),
  circled: z.boolean().nullable(),
  findings: z.array(
    z.strictObject({
      rule: z.string(),
      level: coreType<Level>(),
      text: z.string(),
      clips: z.number(),
      undecided: z.number(),
    }),
  ),
  versions: z.record(z.string(), z.number()),
});
export type CommonAnswer = z.infer<typeof commonAnswer>;

/** A clip with the version that its editor saw, so that nobody's words are written over unseen. */
const seen = z.strictObject({ id: z.uuid(), version: z.number().int().positive() });

const field = (name: IdentityField) =>
  z
    .string()
    .transform((text) => text.trim())
    .superRefine((text, context) => {
      const problem = identityProblem(name, text);
      if (problem) context.addIssue({ code: 'custom', message: problem });
    })
    .nullable()
    .optional();

const change = z.strictObject({
  reel: field('reel'),
  scene: field('scene'),
  take: field('take'),
  camera: field('camera'),
  note: field('note'),
  circled: z.boolean().optional(),
});

/** What is said of a clip's identity: null says that there is none, what is absent stays. */
export type IdentityChange = z.input<typeof change>;
export const identityRequest = z.strictObject({ clips: z.array(seen).min(1).max(20_000), change });

export const patternRequest = z.strictObject({
  clips: ids,
  field: z.enum(identityFields),
  pattern: z.string().max(200),
});

export const patternApply = z.strictObject({
  clips: z.array(seen).min(1).max(20_000),
  field: z.enum(identityFields),
  pattern: z.string().max(200),
});

export const csvRequest = z.strictObject({
  text: z.string().max(20_000_000),
  versions: z.record(z.uuid(), z.number().int()).optional(),
});

/** What a pattern or a file would do, before it does. */
export const identityPreview = z.strictObject({
  rows: z.array(
    z.strictObject({
      clip: z.string(),
      stem: z.string(),
      row: z.number().nullable(),
      before: coreType<Partial<Identity>>(),
      after: coreType<Partial<Identity>>(),
      changes: z.boolean(),
    }),
  ),
  /** Clips that the pattern finds nothing for. */
  empty: z.number(),
  /** Clips that would have another's scene, take and camera, or share reel and timecode with another. */
  clashes: z.number(),
  refused: z.array(z.strictObject({ row: z.number(), why: z.string() })),
  ignored: z.array(z.string()),
  versions: z.record(z.string(), z.number()),
});
export type IdentityPreview = z.infer<typeof identityPreview>;

export const identityChanged = z.strictObject({ change: z.string(), clips: z.number() });
export type IdentityChanged = z.infer<typeof identityChanged>;

export const decisionRequest = z.strictObject({
  clips: ids,
  rule: z.string().max(60),
  answer: z.enum(['as it is', 'leave out']).nullable(),
  note: z.string().trim().max(400).default(''),
});

export const newFilter = z.strictObject({
  name: z.string().trim().min(1).max(60),
  words: z.string().trim().min(1).max(200),
});

export const filterAnswer = z.strictObject({ id: z.string(), name: z.string(), words: z.string() });
export type FilterAnswer = z.infer<typeof filterAnswer>;

/** What is drawn of a closer look. */
export const lookAnswer = z.strictObject({
  outlines: z.array(
    z.strictObject({ track: z.number(), channel: z.number(), low: z.array(z.number()), high: z.array(z.number()) }),
  ),
  /** Picture by picture for short clips, second by second for long ones. */
  flow: z.strictObject({
    kind: z.enum(['pictures', 'seconds']),
    seconds: z.array(z.number()),
    bytes: z.array(z.number()),
    whole: z.array(z.boolean()),
  }),
});
export type LookAnswer = z.infer<typeof lookAnswer>;

/** A day, a roll, and what is to say of it. */
export const reportRoll = z.strictObject({
  name: z.string(),
  rollId: z.string().nullable(),
  clips: z.number(),
  soundClips: z.number(),
  seconds: z.number().nullable(),
  bytes: z.number(),
  formats: z.array(z.string()),
  /** Numbers missing between the first and the last of the roll's clip names. */
  gaps: z.array(z.string()),
  findings: z.array(z.strictObject({ level: coreType<Level>(), text: z.string(), clips: z.number() })),
  custody: z.string(),
});
export type ReportRoll = z.infer<typeof reportRoll>;

export const reportAnswer = z.strictObject({
  production: z.string(),
  day: z.string(),
  days: z.array(z.string()),
  rolls: z.array(reportRoll),
  clips: z.number(),
  seconds: z.number().nullable(),
  bytes: z.number(),
  madeAt: z.string(),
});
export type ReportAnswer = z.infer<typeof reportAnswer>;
