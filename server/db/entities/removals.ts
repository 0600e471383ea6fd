import type { PullWish } from '@relay/contract/runs';
import type { RemovalItem, RemovalState, SpaceKind } from '@relay/contract/space';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { Problem } from '@relay/core/result';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, jsonText, now, text, time } from './columns.ts';

/** A run as it takes to make some of it again. */
export interface RunOfRemoval {
  name: string;
  recipe: Recipe;
  from: { id: string; version: number } | null;
  store: string;
  folder: string;
  priority: number;
  pull: PullWish | null;
}

/** A deletion of what was made here. */
export interface RemovalRow {
  id: string;
  productionId: string;
  says: string;
  /** The runs that its files were made in, by id: they may be removed. */
  runs: Record<string, RunOfRemoval>;
  state: RemovalState;
  stopWanted: boolean;
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
  problem: Problem | null;
  worker: string | null;
  beatAt: Date | null;
  who: string;
  createdAt: Date;
  endedAt: Date | null;
}

export const removal = new EntitySchema<RemovalRow>({
  name: 'removal',
  tableName: 'removal',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    says: text(),
    runs: { ...json(), default: {} },
    state: { ...text(), default: 'waiting' },
    stopWanted: { type: 'boolean', default: false, name: 'stop_wanted' },
    files: { type: 'int', default: 0 },
    filesDone: { type: 'int', default: 0, name: 'files_done' },
    bytes,
    bytesDone: { ...bytes, name: 'bytes_done' },
    problem: json(true),
    worker: text(true),
    beatAt: { ...time, name: 'beat_at' },
    who: text(),
    createdAt: { ...now, name: 'created_at' },
    endedAt: { ...time, name: 'ended_at' },
  },
});

/** One file or set of it. */
export interface RemovalItemRow {
  removalId: string;
  place: number;
  kind: Exclude<SpaceKind, 'cache'>;
  storeId: string;
  folder: string;
  path: string;
  sizeBytes: number;
  xxh3: string;
  runId: string;
  legId: string;
  clipId: string | null;
  /** The leg's plan with this output alone; null for an older version. */
  plan: LegPlan | null;
  state: RemovalItem['state'];
  why: string;
  /** The run that makes it again, or made it. */
  againRun: string | null;
}

export const removalItem = new EntitySchema<RemovalItemRow>({
  name: 'removalItem',
  tableName: 'removal_item',
  columns: {
    removalId: { type: 'uuid', primary: true, name: 'removal_id' },
    place: { type: 'int', primary: true },
    kind: text(),
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    path: text(),
    sizeBytes: { type: 'bigint', transformer: bytes.transformer, name: 'size_bytes' },
    xxh3: text(),
    runId: { type: 'uuid', name: 'run_id' },
    legId: { type: 'uuid', name: 'leg_id' },
    clipId: { type: 'uuid', name: 'clip_id', nullable: true },
    plan: jsonText(true),
    state: { ...text(), default: 'waiting' },
    why: { ...text(), default: '' },
    againRun: { type: 'uuid', name: 'again_run', nullable: true },
  },
});
