import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { Proof } from '@relay/core/proof/proof';
import type { LegPlan } from '@relay/core/recipe/plan';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import type { LegState } from '@relay/contract/api';
import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

const id: EntitySchemaColumnOptions = { type: 'uuid', primary: true, generated: 'uuid' };
const now: EntitySchemaColumnOptions = { type: 'timestamptz', createDate: true };
const json = (nullable = false): EntitySchemaColumnOptions => ({ type: 'jsonb', nullable });
const text = (nullable = false): EntitySchemaColumnOptions => ({ type: 'text', nullable });
const time: EntitySchemaColumnOptions = { type: 'timestamptz', nullable: true };
/** Sizes pass two to the 31; they stay exact as numbers up to 9 PB. */
const bytes: EntitySchemaColumnOptions = { type: 'bigint', default: 0, transformer: { to: (value: number) => value, from: (value: string) => Number(value) } };

export interface ProductionRow {
  id: string;
  name: string;
  createdAt: Date;
}
export const production = new EntitySchema<ProductionRow>({
  name: 'production', tableName: 'production',
  columns: { id, name: text(), createdAt: { ...now, name: 'created_at' } },
});

export interface ReadingRow {
  id: string;
  productionId: string;
  storeId: string;
  folder: string;
  state: 'waiting' | 'running' | 'done' | 'failed';
  total: number;
  done: number;
  problem: Problem | null;
  createdAt: Date;
  beatAt: Date | null;
}
export const reading = new EntitySchema<ReadingRow>({
  name: 'reading', tableName: 'reading',
  columns: {
    id, productionId: { type: 'uuid', name: 'production_id' }, storeId: { ...text(), name: 'store_id' }, folder: text(), state: { ...text(), default: 'waiting' },
    total: { type: 'int', default: 0 }, done: { type: 'int', default: 0 }, problem: json(true), createdAt: { ...now, name: 'created_at' }, beatAt: { ...time, name: 'beat_at' },
  },
});

export interface ClipRow {
  id: string;
  productionId: string;
  storeId: string;
  root: string;
  path: string;
  stem: string;
  roll: string;
  description: ClipDescription | null;
  refusal: Refusal | null;
  sizeBytes: number;
  modifiedAt: Date | null;
  poster: boolean;
  createdAt: Date;
}
export const clip = new EntitySchema<ClipRow>({
  name: 'clip', tableName: 'clip',
  columns: {
    id, productionId: { type: 'uuid', name: 'production_id' }, storeId: { ...text(), name: 'store_id' }, root: text(), path: text(), stem: text(), roll: text(),
    description: json(true), refusal: json(true), sizeBytes: { ...bytes, name: 'size_bytes' }, modifiedAt: { ...time, name: 'modified_at' },
    poster: { type: 'boolean', default: false }, createdAt: { ...now, name: 'created_at' },
  },
});

export interface RecipeRow {
  id: string;
  definition: Recipe;
  createdAt: Date;
}
export const recipe = new EntitySchema<RecipeRow>({
  name: 'recipe', tableName: 'recipe',
  columns: { id, definition: json(), createdAt: { ...now, name: 'created_at' } },
});

export interface RunRow {
  id: string;
  productionId: string;
  name: string;
  recipe: Recipe;
  storeId: string;
  folder: string;
  createdAt: Date;
}
export const run = new EntitySchema<RunRow>({
  name: 'run', tableName: 'run',
  columns: {
    id, productionId: { type: 'uuid', name: 'production_id' }, name: text(), recipe: json(), storeId: { ...text(), name: 'store_id' }, folder: text(), createdAt: { ...now, name: 'created_at' },
  },
});

export interface LegRow {
  id: string;
  runId: string;
  clipId: string;
  ordinal: number;
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
  startedAt: Date | null;
  endedAt: Date | null;
}
export const leg = new EntitySchema<LegRow>({
  name: 'leg', tableName: 'leg',
  columns: {
    id, runId: { type: 'uuid', name: 'run_id' }, clipId: { type: 'uuid', name: 'clip_id' }, ordinal: { type: 'int' }, state: { ...text(), default: 'waiting' },
    plan: json(true), problem: json(true), framesDone: { type: 'int', default: 0, name: 'frames_done' }, framesTotal: { type: 'int', default: 0, name: 'frames_total' },
    speed: { type: 'real', nullable: true }, attempts: { type: 'int', default: 0 }, worker: text(true), stopWanted: { type: 'boolean', default: false, name: 'stop_wanted' },
    leaseUntil: { ...time, name: 'lease_until' }, queuedAt: { ...now, name: 'queued_at' }, startedAt: { ...time, name: 'started_at' }, endedAt: { ...time, name: 'ended_at' },
  },
});

export interface OutputRow {
  id: string;
  legId: string;
  deliverable: string;
  role: string;
  path: string;
  state: LegState;
  alreadyThere: boolean;
  sizeBytes: number;
  xxh3: string | null;
  proof: Proof | null;
  problem: Problem | null;
  relink: RelinkRow | null;
  createdAt: Date;
}
export const output = new EntitySchema<OutputRow>({
  name: 'output', tableName: 'output',
  columns: {
    id, legId: { type: 'uuid', name: 'leg_id' }, deliverable: text(), role: text(), path: text(), state: text(), alreadyThere: { type: 'boolean', default: false, name: 'already_there' },
    sizeBytes: { ...bytes, name: 'size_bytes' }, xxh3: text(true), proof: json(true), problem: json(true), relink: json(true), createdAt: { ...now, name: 'created_at' },
  },
});
