import type { ClipDescription } from '@relay/core/clip/description';
import type { Decision, Standing } from '@relay/core/findings/findings';
import type { Finding, Level } from '@relay/core/findings/finding';
import { identityFields, identityProblem, type Identity, type IdentityField } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import type { Rational } from '@relay/core/time/rational';
import { z } from 'zod';
import { clipIdList } from './ids.ts';
import type { LegState } from './api.ts';
import type { HeldCorrections } from './corrections.ts';

/** The clips of a production: the sheet, one clip's docket, what people say and decide. */

/** One line of the sheet: just what it shows. */
export interface ClipLine {
  id: string;
  path: string;
  stem: string;
  roll: string;
  version: number;
  identity: Identity;
  starts: string | null;
  frames: number | null;
  rate: Rational | null;
  rateConstant: boolean;
  raster: { width: number; height: number } | null;
  sampling: string | null;
  channels: number;
  sizeBytes: number;
  seconds: number | null;
  poster: boolean;
  looked: boolean;
  findings: { rule: string; level: Level; text: string; decided: boolean }[];
  /** States of the clip's newest outputs by role: its way so far. */
  way: { role: string; state: LegState; share: number }[];
}

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
export interface ClipGroup {
  key: string;
  text: string;
  clips: number;
  seconds: number;
  bytes: number;
}

/**
 * The sheet's order, its groups when it is sorted by them, and its first lines; the others are asked for as they come
 * into view.
 */
export interface ClipsAnswer {
  ids: string[];
  groups: ClipGroup[];
  lines: ClipLine[];
  seconds: number;
  bytes: number;
}
export const firstLines = 100;

const ids = clipIdList(1);
export const clipIds = z.strictObject({ clips: ids });
export const someClipIds = z.strictObject({ clips: clipIdList(1, 500) });

/** Where a clip's roll stands, for its docket. */
export interface ClipCustody {
  roll: string;
  rollId: string;
  state: string;
  says: string;
}

/** Everything about one clip. */
export interface ClipAnswer {
  id: string;
  version: number;
  roll: string;
  store: string;
  root: string;
  description: ClipDescription;
  identity: Identity;
  /** What people said, and what a sidecar says: where the identity comes from. */
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
  sidecars: string[];
  findings: Finding[];
  decisions: Decision[];
  /** The corrections that hold for it, each with the rule that it comes from. */
  held: HeldCorrections;
  standing: Standing;
  custody: ClipCustody | null;
  measured: Measured | null;
  lookedAt: string | null;
  /** Why it could not be looked at closely, so that findings may be missing. */
  lookProblem: string | null;
  poster: boolean;
  /** A proved proxy that plays instead of the original. */
  proxy: boolean;
  way: ClipLine['way'];
}

/** What the clips of a selection have in common; `null` in a fact or field means that they differ. */
export interface CommonAnswer {
  clips: number;
  seconds: number;
  bytes: number;
  facts: (readonly [string, string | null])[];
  identity: Record<IdentityField, { same: boolean; value: string | null }>;
  circled: boolean | null;
  findings: { rule: string; level: Level; text: string; clips: number; undecided: number }[];
  versions: Record<string, number>;
}

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
export interface IdentityPreview {
  rows: {
    clip: string;
    stem: string;
    row: number | null;
    before: Partial<Identity>;
    after: Partial<Identity>;
    changes: boolean;
  }[];
  /** Clips that the pattern finds nothing for. */
  empty: number;
  /** Clips that would have another's scene, take and camera, or share reel and timecode with another. */
  clashes: number;
  refused: { row: number; why: string }[];
  ignored: string[];
  versions: Record<string, number>;
}
export interface IdentityChanged {
  change: string;
  clips: number;
}

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
export interface FilterAnswer {
  id: string;
  name: string;
  words: string;
}

/** What is drawn of a closer look. */
export interface LookAnswer {
  outlines: { track: number; channel: number; low: number[]; high: number[] }[];
  /** Picture by picture for short clips, second by second for long ones. */
  flow: { kind: 'pictures' | 'seconds'; seconds: number[]; bytes: number[]; whole: boolean[] };
}

/** A day, a roll, and what is to say of it. */
export interface ReportRoll {
  name: string;
  rollId: string | null;
  clips: number;
  soundClips: number;
  seconds: number;
  bytes: number;
  formats: string[];
  /** Numbers missing between the first and the last of the roll's clip names. */
  gaps: string[];
  findings: { level: Level; text: string; clips: number }[];
  custody: string;
}
export interface ReportAnswer {
  production: string;
  day: string;
  days: string[];
  rolls: ReportRoll[];
  clips: number;
  seconds: number;
  bytes: number;
  madeAt: string;
}
