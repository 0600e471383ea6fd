import type { ClipRow } from './clips.ts';
import type { JoinedCopyLine, PullWish } from '@relay/contract/runs';
import type { LegState } from '@relay/contract/states';
import type { Proof } from '@relay/core/proof/proof';
import type { CheckRule } from '@relay/core/checks/checkSheet';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { JoinedCopyPlan } from '@relay/core/recipe/joinedCopy';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import type { Tuning } from '@relay/media/leg/encoders';
import type { SegmentNow } from '@relay/work/leg/segments';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, jsonText, now, text, texts, time } from './columns.ts';

/** Runs, their legs, and what came of them. */

export interface RunRow {
  id: string;
  productionId: string;
  name: string;
  recipe: Recipe;
  recipeId: string | null;
  recipeVersion: number | null;
  storeId: string;
  folder: string;
  priority: number;
  notBefore: Date | null;
  wantedBy: Date | null;
  /** The inlet that began it; null where a person did, or where that is gone. */
  inletId: string | null;
  /** What of it is to be looked at; the usual where null. */
  checkRule: CheckRule | null;
  /** The cut that it was pulled for, and how; null where its clips were taken whole. */
  pull: PullWish | null;
  createdAt: Date;
}

export const run = new EntitySchema<RunRow>({
  name: 'run',
  tableName: 'run',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    name: text(),
    recipe: json(),
    recipeId: { type: 'uuid', name: 'recipe_id', nullable: true },
    recipeVersion: { type: 'int', name: 'recipe_version', nullable: true },
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    priority: { type: 'int', default: 0 },
    notBefore: { ...time, name: 'not_before' },
    wantedBy: { ...time, name: 'wanted_by' },
    inletId: { type: 'uuid', name: 'inlet_id', nullable: true },
    checkRule: { ...json(true), name: 'check_rule' },
    pull: json(true),
    createdAt: { ...now, name: 'created_at' },
  },
});

export interface LegRow {
  id: string;
  runId: string;
  clipId: string;
  ordinal: number;
  wave: number;
  /** Put before others by hand: larger goes first. */
  hand: number;
  log: string;
  state: LegState;
  plan: LegPlan | null;
  problem: Problem | null;
  framesDone: number;
  framesTotal: number;
  speed: number | null;
  attempts: number;
  worker: string | null;
  stopWanted: boolean;
  leaseUntil: Date | null;
  queuedAt: Date;
  /** What it needs of a worker, and likely of each store that its outputs go to. */
  codecs: string[];
  stores: string[];
  bytesByStore: Record<string, number>;
  /** Its deliverables, in a word or two. */
  makes: string;
  /** Leases of it that ran out; deaths that it is held to blame for; whether it is made while nothing else is. */
  lapses: number;
  blames: number;
  alone: boolean;
  startedAt: Date | null;
  endedAt: Date | null;
  run?: RunRow;
  clip?: ClipRow;
}

export const leg = new EntitySchema<LegRow>({
  name: 'leg',
  tableName: 'leg',
  columns: {
    id,
    runId: { type: 'uuid', name: 'run_id' },
    clipId: { type: 'uuid', name: 'clip_id' },
    ordinal: { type: 'int' },
    wave: { type: 'int', default: 1 },
    hand: { type: 'int', default: 0 },
    log: { ...text(), default: '' },
    state: { ...text(), default: 'waiting' },
    plan: jsonText(true),
    problem: json(true),
    framesDone: { type: 'int', default: 0, name: 'frames_done' },
    framesTotal: { type: 'int', default: 0, name: 'frames_total' },
    speed: { type: 'real', nullable: true },
    attempts: { type: 'int', default: 0 },
    worker: text(true),
    stopWanted: { type: 'boolean', default: false, name: 'stop_wanted' },
    leaseUntil: { ...time, name: 'lease_until' },
    queuedAt: { ...now, name: 'queued_at' },
    codecs: { type: 'text', array: true, default: '{}' },
    stores: { type: 'text', array: true, default: '{}' },
    bytesByStore: { ...json(), default: {}, name: 'bytes_by_store' },
    makes: { ...text(), default: '' },
    lapses: { type: 'int', default: 0 },
    blames: { type: 'int', default: 0 },
    alone: { type: 'boolean', default: false },
    startedAt: { ...time, name: 'started_at' },
    endedAt: { ...time, name: 'ended_at' },
  },
  relations: {
    run: { type: 'many-to-one', target: 'run', joinColumn: { name: 'run_id' } },
    clip: { type: 'many-to-one', target: 'clip', joinColumn: { name: 'clip_id' } },
  },
});

export interface OutputRow {
  id: string;
  legId: string;
  deliverable: string;
  role: string;
  /** Where it lies: a store, a folder of it, and the path below that. */
  storeId: string;
  folder: string;
  path: string;
  state: LegState;
  alreadyThere: boolean;
  sizeBytes: number;
  xxh3: string | null;
  proof: Proof | null;
  problem: Problem | null;
  relink: RelinkRow | null;
  createdAt: Date;
  leg?: LegRow;
}

export const output = new EntitySchema<OutputRow>({
  name: 'output',
  tableName: 'output',
  columns: {
    id,
    legId: { type: 'uuid', name: 'leg_id' },
    deliverable: text(),
    role: text(),
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    path: text(),
    state: text(),
    alreadyThere: { type: 'boolean', default: false, name: 'already_there' },
    sizeBytes: { ...bytes, name: 'size_bytes' },
    xxh3: text(true),
    proof: json(true),
    problem: json(true),
    relink: json(true),
    createdAt: { ...now, name: 'created_at' },
  },
  relations: { leg: { type: 'many-to-one', target: 'leg', joinColumn: { name: 'leg_id' } } },
});

/** A stretch of a long leg, made by whoever is free. */
export interface SegmentRow {
  legId: string;
  place: number;
  firstFrame: number;
  frames: number;
  tunings: Tuning[];
  state: SegmentNow['state'];
  worker: string | null;
  beatAt: Date | null;
  framesDone: number;
  /** Its files below the run's folder, in the order of the outputs. */
  parts: string[];
  /** A digest of the frames that it took. */
  seen: string | null;
  problem: string | null;
}

export const segment = new EntitySchema<SegmentRow>({
  name: 'segment',
  tableName: 'segment',
  columns: {
    legId: { type: 'uuid', primary: true, name: 'leg_id' },
    place: { type: 'int', primary: true },
    firstFrame: { type: 'int', name: 'first_frame' },
    frames: { type: 'int' },
    tunings: json(),
    state: { ...text(), default: 'waiting' },
    worker: text(true),
    beatAt: { ...time, name: 'beat_at' },
    framesDone: { type: 'int', default: 0, name: 'frames_done' },
    parts: texts,
    seen: text(true),
    problem: text(true),
  },
});

/** Outputs of a run that are joined into one file. */
export interface JoinedCopyRow {
  id: string;
  runId: string;
  deliverable: string;
  path: string;
  plan: JoinedCopyPlan;
  /** Of its parts, as they were proved. */
  xxh3s: string[];
  state: JoinedCopyLine['state'];
  problem: Problem | null;
  sizeBytes: number;
  xxh3: string | null;
  beatAt: Date | null;
  createdAt: Date;
}

export const joinedCopy = new EntitySchema<JoinedCopyRow>({
  name: 'reel',
  tableName: 'reel',
  columns: {
    id,
    runId: { type: 'uuid', name: 'run_id' },
    deliverable: text(),
    path: text(),
    plan: json(),
    xxh3s: { type: 'text', array: true },
    state: { ...text(), default: 'waiting' },
    problem: json(true),
    sizeBytes: { ...bytes, name: 'size_bytes' },
    xxh3: text(true),
    beatAt: { ...time, name: 'beat_at' },
    createdAt: { ...now, name: 'created_at' },
  },
});
